import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { previewWrite } from '$lib/server/entry-points/write.ts';
import { formRequest, writeRequestOf } from '$lib/server/form-request.ts';
import type { RequestHandler } from './$types';

/** What saving this would do to other records; nothing is kept of it. */
export const POST: RequestHandler = async ({ request, params, locals }) => {
  const user = authorise(locals, 'records.write');
  return json(await previewWrite(await writeRequestOf(params.type, await readJson(request, formRequest), user)));
};
