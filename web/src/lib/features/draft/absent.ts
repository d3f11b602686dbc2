/** What an address names and the draft has not: said, so that nothing else stands there as if it were meant. */
import type { Rulebook } from '@rigid-rule/core/document';

/** By the words of the screen. */
export type Named = 'record type' | 'mapping table' | 'rule' | 'field' | 'test';

export interface Absent {
  readonly what: Named;
  readonly key: string;
}

/** What an address may name: in its path, and after it. */
export interface AddressParts {
  readonly params: Readonly<Partial<Record<string, string>>>;
  readonly url: { readonly searchParams: Pick<URLSearchParams, 'get'> };
}

/** Areas are of these: without them there is nothing to show. */
export const isWhole = ({ what }: Absent): boolean => what === 'record type' || what === 'mapping table';

/** The first that is not there, from the whole to its parts. */
export function absentFrom(draft: Rulebook, { params, url }: AddressParts): Absent | undefined {
  const type = draft.recordTypes.find((t) => t.key === params['type']);
  const asked = (name: string) => url.searchParams.get(name) ?? undefined;
  const named: readonly (readonly [Named, string | undefined, (key: string) => boolean])[] = [
    ['record type', params['type'], () => type !== undefined],
    ['mapping table', params['table'], (key) => draft.tables?.some((t) => t.key === key) ?? false],
    ['rule', params['rule'], (key) => draft.rules.some((r) => r.key === key && r.recordType === type?.key)],
    ['field', asked('field'), (key) => type?.fields.some((f) => f.key === key) ?? false],
    ['test', asked('test'), (key) => draft.tests?.some((t) => t.key === key) ?? false],
  ];
  const found = named.find(([, key, isThere]) => key !== undefined && !isThere(key));
  return found && { what: found[0], key: found[1]! };
}
