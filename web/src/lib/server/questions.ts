/** What a page asks of other records on behalf of rules, as it comes in. */
import type { RecordQuery } from '@rigid-rule/core/records';
import { matchModes } from '@rigid-rule/core/values';
import { error } from '@sveltejs/kit';
import { array, object, string, type InferType } from 'yup';
import { mostQuestions } from '$lib/question-limits.ts';

const key = string().max(200);
const question = object({
  kind: string()
    .oneOf(['record', 'children', 'match'] as const)
    .required(),
  recordType: key.required(),
  field: key,
  mode: string().oneOf([...matchModes]),
  // What a record holds, however long it is.
  id: string(),
  value: string(),
});

export const questions = array(question.required()).min(1).max(mostQuestions).required();

/** @throws 400 where a question lacks what it asks for. */
export function readQuestions(asks: InferType<typeof questions>): readonly RecordQuery[] {
  const complete = asks.every((a) =>
    a.kind === 'record' ? a.id !== undefined : a.kind === 'children' ? a.field && a.id : a.field && a.mode,
  );
  if (!complete) error(400, 'A question lacks what it asks for.');
  return asks.map((a) => (a.kind === 'match' ? { ...a, value: a.value ?? '' } : a)) as readonly RecordQuery[];
}
