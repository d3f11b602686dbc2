import { createRecord, withToken } from '$lib/server/entry-points/api.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ request, params }) =>
  withToken(request, (token) => createRecord(request, params.type, token));
