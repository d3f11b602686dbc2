/** The options of a picklist in words. */
import type { Field } from '../../document/document.ts';

/** In their order, or as a list; those outside the order behind it. */
export function optionList({ options = [], ordered }: Pick<Field, 'options' | 'ordered'>): string {
  const named = (list: typeof options, between: string): string => list.map((o) => o.name).join(between);
  if (!ordered) return named(options, ', ');
  const outside = options.filter((o) => o.outside);
  const within = options.filter((o) => !o.outside);
  return `${named(within, ' < ')}${outside.length > 0 ? `; outside the order ${named(outside, ', ')}` : ''}`;
}
