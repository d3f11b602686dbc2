import type { RequestHandler } from './$types';

/** 200 while this process answers at all. */
export const GET: RequestHandler = () => new Response('ok\n');
