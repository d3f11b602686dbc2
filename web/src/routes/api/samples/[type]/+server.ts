import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { loadSamples } from '$lib/server/db/samples.ts';
import { recordTitle } from '$lib/server/db/records.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** The sample records of a type, with the names of the sample records that they link to. */
export const GET: RequestHandler = async ({ params, locals }) => {
  authorise(locals, 'rulebook.read');
  const { rulebook } = await currentDraft();
  const type = requireType(rulebook, params.type);
  const linked = rulebook.recordTypes.filter((t) => type.fields.some((f) => f.recordType === t.key));
  const titles: Record<string, Record<string, string>> = {};
  for (const other of linked)
    titles[other.key] = Object.fromEntries(
      (await loadSamples(other.key)).map((s) => [s.id, recordTitle(other, s.data)]),
    );
  return json({ samples: await loadSamples(type.key), titles });
};
