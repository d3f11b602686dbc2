import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { writeRecord } from '$lib/server/entry-points/write.ts';
import type { WriteResult } from '$lib/server/entry-points/settling.ts';
import { formRequest, writeRequestOf } from '$lib/server/form-request.ts';
import type { RequestHandler } from './$types';

const status: Readonly<Record<WriteResult['outcome'], number>> = {
  saved: 200,
  stopped: 422,
  differs: 409,
  'changed meanwhile': 409,
  'no record': 404,
  'no type': 404,
  'no entry point': 422,
};

/** Saves what a form sends. The server settles it again, on its own. */
export const POST: RequestHandler = async ({ request, params, locals }) => {
  const user = authorise(locals, 'records.write');
  const result = await writeRecord(await writeRequestOf(params.type, await readJson(request, formRequest), user));
  return json(result, { status: status[result.outcome] });
};
