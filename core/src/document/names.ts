import type { Field } from './document.ts';

/** What a thing of a list is called, to people; its key where there is none such. */
export const nameIn = (list: readonly { readonly key: string; readonly name: string }[], key: string): string =>
  list.find((x) => x.key === key)?.name ?? key;

export const nameOfField = (fields: readonly Field[], key: string): string => nameIn(fields, key);

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
