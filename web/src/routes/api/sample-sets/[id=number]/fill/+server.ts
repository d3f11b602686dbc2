import { error, json } from '@sveltejs/kit';
import type { Field, RecordData, Stored } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { array, mixed, number, object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { insertSamples, listSampleSets, rememberColumns } from '$lib/server/db/samples.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const mostBytes = 8_000_000;
const heap = object({
  type: string().required(),
  records: array(
    object({
      id: number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required(),
      data: mixed<Record<string, unknown>>(
        (v): v is Record<string, unknown> => typeof v === 'object' && v !== null,
      ).required(),
    }).noUnknown(),
  )
    .max(5000, 'At most 5,000 records at once.')
    .required(),
  columns: mixed<Record<string, string>>((v): v is Record<string, string> => typeof v === 'object' && v !== null),
}).noUnknown();

/** A heap of records for a set: what is no value of its field is left out and counted. */
export const POST: RequestHandler = async ({ params, request, locals }) => {
  authorise(locals, 'samples.write');
  const id = Number(params.id);
  const { type: key, records, columns } = await readJson(request, heap, mostBytes);
  if (!(await listSampleSets()).some((s) => s.id === id)) error(404, 'There is no such set.');
  const { rulebook } = await currentDraft();
  const type = requireType(rulebook, key);
  const fields = new Map(type.fields.map((f) => [f.key, f]));
  let left = 0;
  const taken = records.map((r) => {
    const { data, dropped } = stored(r.data, fields);
    left += dropped;
    return { id: r.id, data };
  });
  await insertSamples(id, key, taken);
  if (columns) await rememberColumns(id, key, columns);
  return json({ taken: taken.length, left });
};

function stored(
  given: Record<string, unknown>,
  fields: ReadonlyMap<string, Field>,
): { data: RecordData; dropped: number } {
  const data: Record<string, Stored> = {};
  let dropped = 0;
  for (const [key, value] of Object.entries(given)) {
    const field = fields.get(key);
    const coerced = field && fieldTypeOf(field).coerce(value, field);
    if (!coerced || 'problem' in coerced) dropped++;
    else if (coerced.value !== null) data[key] = coerced.value;
  }
  return { data, dropped };
}
