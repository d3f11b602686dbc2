/** What of the host the formulas of a rulebook may ask for: large parts that are loaded only where they are used. */
import { functions } from '../language/functions/index.ts';
import type { LanguageFunction } from '../language/functions/function.ts';
import type { Rulebook } from '../document/document.ts';

export type HostNeed = NonNullable<LanguageFunction['needs']>;

/** By the names in the texts: a name in a comment may load a part too many, never one too few. */
export function hostNeeds(rulebook: Pick<Rulebook, 'rules'>): ReadonlySet<HostNeed> {
  const texts = JSON.stringify(rulebook.rules).replace(/\s+/g, ' ');
  return new Set(functions.flatMap((f) => (f.needs && texts.includes(f.name) ? [f.needs] : [])));
}
