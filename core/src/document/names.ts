import type { Field } from './document.ts';

/** What a field is called, to people; its key where there is none such. */
export const nameOfField = (fields: readonly Field[], key: string): string =>
  fields.find((f) => f.key === key)?.name ?? key;

/** The words that FEEL reserves. */
export const reservedWords: ReadonlySet<string> = new Set(
  'if then else for in return some every satisfies and or not between instance of function external true false null'.split(
    ' ',
  ),
);

/** What can be a name in a formula: letters of any script, digits and single spaces, no word that FEEL reserves. */
export function isFieldName(name: string): boolean {
  if (!/^\p{L}[\p{L}\p{M}\p{N}]*(?: [\p{L}\p{M}\p{N}]+)*$/u.test(name)) return false;
  return name.split(' ').every((word) => !reservedWords.has(word));
}
