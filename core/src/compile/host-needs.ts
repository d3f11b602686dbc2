/** What of the host the formulas of a rulebook may ask for: large parts that are loaded only where they are used. */
import { functions } from '../language/functions/index.ts';
import type { LanguageFunction } from '../language/functions/function.ts';
import { onceEach } from '../values/once-each.ts';
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

/** By what each needs, the names of the functions that need it. Names of functions are letters and single spaces. */
const forms: ReadonlyMap<HostNeed, RegExp> = new Map(
  [...new Set(functions.flatMap(({ needs }) => needs ?? []))].map((need) => {
    const names = functions.filter((f) => f.needs === need).map(({ name }) => name.replaceAll(' ', String.raw`\s+`));
    return [need, new RegExp(names.join('|'))];
  }),
);

/** Most parts need nothing: they are looked through once. */
const anyForm = new RegExp([...forms.values()].map((form) => form.source).join('|'));

const needsOf = onceEach((part: Rule | MappingTable | Claim): readonly HostNeed[] => {
  const texts = 'rows' in part ? testsOf(part) : part;
  const asked = someText(texts, anyForm) ? [...forms] : [];
  return asked.flatMap(([need, form]) => (someText(texts, form) ? [need] : []));
});

function someText(v: unknown, form: RegExp): boolean {
  if (typeof v === 'string') return form.test(v);
  if (typeof v !== 'object' || v === null) return false;
  return Array.isArray(v) ? v.some((item) => someText(item, form)) : Object.values(v).some((m) => someText(m, form));
}

/** Of a table's cells those that are formulas. */
const testsOf = ({ rows }: MappingTable): readonly unknown[] =>
  rows.flatMap((row) =>
    Object.values(row).filter((cell) => typeof cell === 'object' && cell !== null && 'tests' in cell),
  );
