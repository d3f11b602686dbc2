import type { ListUpdateMode } from '../compile/rule-kinds/rule-kind.ts';
import type { Slot } from '../compile/compiled.ts';
import type { Stored } from '../document/document.ts';

/** What a list holds once values were put into its place, added to it or taken out of it, in the order of its field. */
export function updatedList(from: Stored, value: Stored, way: ListUpdateMode, { field, type }: Slot): Stored {
  if (way === 'replace') return value;
  const [old, more] = [listOf(from), listOf(value)];
  const keys = way === 'add' ? [...new Set([...old, ...more])] : old.filter((k) => !more.includes(k));
  const coerced = type.coerce(keys, field);
  return 'value' in coerced ? coerced.value : value;
}

const listOf = (v: Stored): readonly string[] => (Array.isArray(v) ? (v as readonly string[]) : []);
