import { partProblem, type PartRef } from '@rigid-rule/core';
import { error } from '@sveltejs/kit';

/** Keys come into addresses and column names. */
const keyForm = /^[a-z0-9][a-z0-9_-]{0,99}$/;
/** Longest text of a name, and of any other text of a part, in characters. */
const longestName = 200;
const longestText = 20_000;

/**
 * Whether a part keeps its shape, as the published schema describes it, so that a draft can always be opened. What the
 * rules mean is core's to judge: a formula that does not compile may well be saved.
 * @throws 400 in words.
 */
export function checkPart({ kind, key }: PartRef, body: unknown): void {
  const problem = partProblem(kind, body);
  if (problem !== undefined) error(400, problem);
  const { name, key: own } = body as { readonly name?: unknown; readonly key?: unknown };
  if (typeof name === 'string' && name.length > longestName)
    error(400, `A name takes at most ${longestName} characters.`);
  if (hasLongText(body)) error(400, `A text takes at most ${longestText.toLocaleString('en')} characters.`);
  if (kind === 'settings') return;
  const wanted = kind === 'field' ? key.slice(key.indexOf('.') + 1) : key;
  if (own !== wanted) error(400, 'The key of a part never changes.');
  if (['rule', 'field', 'record type', 'table'].includes(kind) && !keyForm.test(String(own)))
    error(400, 'A key is made of small letters, digits, - and _.');
}

function hasLongText(v: unknown): boolean {
  if (typeof v === 'string') return v.length > longestText;
  return typeof v === 'object' && v !== null && Object.values(v).some(hasLongText);
}
