import { fieldTypeOf } from '@rigid-rule/core/language';
import { shownValue } from '$lib/features/fields';
import { boundsOf, filterChoices, type ListFilter } from '$lib/list-filters.ts';

/** `Amount from €100.00 up to €900.00`: a filter as it stands above the list. */
export function filterWords(filter: ListFilter, users: readonly { email: string; name: string }[]): string {
  const { field, only, from, to, has, is } = filter;
  if (is) return `${field.name} is ${is}`;
  const type = fieldTypeOf(field);
  const bounded = boundsOf(field);
  const bound = (text: string): string => shownValue(bounded, type.numeric ? Number(text) : text);
  const choice = (key: string): string => {
    if (key === '') return 'blank';
    return filterChoices(field, users).find((c) => c.key === key)?.name ?? key;
  };
  const parts = [
    only && only.map(choice).join(' or '),
    from && `from ${bound(from)}`,
    to && `up to ${bound(to)}`,
    has && `holds “${has}”`,
  ].filter(Boolean);
  return `${field.name} ${parts.join(' ')}`;
}
