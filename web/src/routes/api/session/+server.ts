import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import type { RequestHandler } from './$types';

/** Who is signed in: asked by pages that were out of sight. */
export const GET: RequestHandler = ({ locals }) => json({ user: authorise(locals, 'rulebook.read').id });
