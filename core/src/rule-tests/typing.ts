/** How values come to be typed, as far as rules tell it apart. */
import type { CompiledRule, TypeProgram } from '../compile/compiled.ts';
import type { SlotIndex } from '../document/slots.ts';

/** Not set by hand at all, or before or behind all other fields. */
export type Typing = 'not' | 'early' | 'late' | 'among';

/**
 * Who wins may hang on whether a field was typed (a person who holds it, a value that is no longer on offer), or on
 * whether that was before or after what wakes the rule.
 */
export function typingsOf(
  rules: readonly CompiledRule[],
  { slots }: TypeProgram,
): ReadonlyMap<string, readonly Typing[]> {
  const found = new Map<string, Set<Typing>>();
  const put = (slot: SlotIndex, ...ways: readonly Typing[]): void => {
    const { key } = slots[slot]!.field;
    found.set(key, new Set([...(found.get(key) ?? []), ...ways]));
  };
  for (const r of rules) {
    if (r.rule.winner === 'later') for (const slot of r.writes) put(slot, 'not', 'early', 'late');
    if (r.rule.winner === 'person') for (const slot of r.writes) put(slot, 'not', 'among');
    for (const { field } of r.fieldConstraints?.limits ?? []) put(field, 'not', 'among');
  }
  return new Map([...found].map(([key, ways]) => [key, [...ways]]));
}

/** The fields that are typed, in the order in which they are. */
export function inOrder(keys: readonly string[], typing: ReadonlyMap<string, Typing>): readonly string[] {
  const typed = (way: Typing) => keys.filter((key) => (typing.get(key) ?? 'among') === way);
  return [...typed('early'), ...typed('among'), ...typed('late')];
}
