/** What the palette finds: plain, so that it can be tried without one. */
import { group } from 'd3-array';
import type { PaletteEntry } from './acts.svelte.ts';

/** How well letters in their order fit a name, from 0 (not at all) to 1. */
export type Fuzzy = (name: string, text: string) => number;

/** Before anything is typed: what can be done here, then where to go; what is undone comes last. */
const order: readonly string[] = ['Here', 'Areas', 'Rules', 'Mappings', 'Records', 'Acts'];
/** What is beyond is found by typing more. */
const most = 60;
/** From here on a name holds what was typed. */
const holding = 0.8;

/** What begins with the text comes first, then what holds it; letters in order count only where nothing else does. */
function score({ name, group: area }: PaletteEntry, text: string, fuzzy: Fuzzy): number {
  const lower = name.toLowerCase();
  if (lower.startsWith(text)) return 1;
  if (lower.includes(text)) return 0.9;
  if (text.split(/\s+/).every((word) => `${area} ${lower}`.toLowerCase().includes(word))) return holding;
  return fuzzy(lower, text) * 0.5;
}

/** The entries that a text finds, the best first; for no text those that somebody is likely to want. */
export function findEntries(entries: readonly PaletteEntry[], typed: string, fuzzy: Fuzzy): readonly PaletteEntry[] {
  const text = typed.trim().toLowerCase();
  if (text === '')
    return entries
      .filter((e) => order.includes(e.group))
      .toSorted((a, b) => order.indexOf(a.group) - order.indexOf(b.group));
  const scored = entries.map((entry) => ({ entry, score: score(entry, text, fuzzy) })).filter((s) => s.score > 0);
  const plain = scored.filter((s) => s.score >= holding);
  return (plain.length > 0 ? plain : scored)
    .sort((x, y) => y.score - x.score)
    .slice(0, most)
    .map((s) => s.entry);
}

/** Entries under the names of their groups, the groups in the order of the best of each. */
export const byGroup = (found: readonly PaletteEntry[]): readonly [string, PaletteEntry[]][] => [
  ...group(found, (e) => e.group),
];
