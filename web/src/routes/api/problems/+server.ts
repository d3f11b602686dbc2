import { problemsPage } from '$lib/server/entry-points/problem.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => problemsPage();
