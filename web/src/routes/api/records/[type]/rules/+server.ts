import { error, json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { rulesOnForm } from '$lib/features/records/form-rules.ts';
import { liveAs, requireType } from '$lib/server/rulebook.ts';
import { wholeNumber } from '$lib/whole-number.ts';
import type { RequestHandler } from './$types';

/** The rules by which a form of this record type goes: those of a release, which never change; of none without a number. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  authorise(locals, 'records.read');
  const asked = wholeNumber(url.searchParams.get('release')) ?? null;
  const { release, program } = await liveAs(asked);
  if (release !== asked) error(404, 'There is no such release.');
  requireType(program.rulebook, params.type);
  const kept = release === null ? 'no-store' : 'private, max-age=604800, immutable';
  return json(rulesOnForm(program, params.type), { headers: { 'cache-control': kept } });
};
