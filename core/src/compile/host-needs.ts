/** What of the host the formulas of a rulebook may ask for: large parts that are loaded only where they are used. */
import { functions } from '../language/functions/index.ts';
import type { LanguageFunction } from '../language/functions/function.ts';
import type { Claim, MappingTable, Rule, Rulebook } from '../document/document.ts';

export type HostNeed = NonNullable<LanguageFunction['needs']>;

/** By the names in the texts: a name in a comment may load a part too many, never one too few. */
export function hostNeeds({
  rules,
  tables = [],
  claims = [],
}: Pick<Rulebook, 'rules' | 'tables' | 'claims'>): ReadonlySet<HostNeed> {
  return new Set([...rules, ...tables, ...claims].flatMap(needsOf));
}

const demanding = functions.flatMap(({ name, needs }) => (needs ? [{ name, needs }] : []));

/** Parts are immutable: one is looked at once. */
const known = new WeakMap<Rule | MappingTable | Claim, readonly HostNeed[]>();

function needsOf(part: Rule | MappingTable | Claim): readonly HostNeed[] {
  const before = known.get(part);
  if (before) return before;
  const text = JSON.stringify('rows' in part ? testsOf(part) : part).replace(/\s+/g, ' ');
  const needs = demanding.flatMap((f) => (text.includes(f.name) ? [f.needs] : []));
  known.set(part, needs);
  return needs;
}

/** Of a table's cells those that are formulas. */
const testsOf = ({ rows }: MappingTable): readonly unknown[] =>
  rows.flatMap((row) =>
    Object.values(row).filter((cell) => typeof cell === 'object' && cell !== null && 'tests' in cell),
  );
