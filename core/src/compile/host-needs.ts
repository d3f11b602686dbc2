/** What of the host the formulas of a rulebook may ask for: large parts that are loaded only where they are used. */
import { functions } from '../language/functions/index.ts';
import type { LanguageFunction } from '../language/functions/function.ts';
import type { Rule, Rulebook } from '../document/document.ts';

export type HostNeed = NonNullable<LanguageFunction['needs']>;

/** By the names in the texts: a name in a comment may load a part too many, never one too few. */
export function hostNeeds({ rules }: Pick<Rulebook, 'rules'>): ReadonlySet<HostNeed> {
  return new Set(rules.flatMap(needsOf));
}

const demanding = functions.flatMap(({ name, needs }) => (needs ? [{ name, needs }] : []));

/** Rules are immutable: one is looked at once. */
const known = new WeakMap<Rule, readonly HostNeed[]>();

function needsOf(rule: Rule): readonly HostNeed[] {
  const before = known.get(rule);
  if (before) return before;
  const text = JSON.stringify(rule).replace(/\s+/g, ' ');
  const needs = demanding.flatMap((f) => (text.includes(f.name) ? [f.needs] : []));
  known.set(rule, needs);
  return needs;
}
