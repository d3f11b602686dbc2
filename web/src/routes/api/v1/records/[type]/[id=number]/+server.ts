import { changeRecord, readRecord, withToken } from '$lib/server/entry-points/api.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ request, params }) =>
  withToken(request, () => readRecord(params.type, Number(params.id)));

export const PATCH: RequestHandler = ({ request, params }) =>
  withToken(request, (token) => changeRecord(request, params.type, Number(params.id), token));
