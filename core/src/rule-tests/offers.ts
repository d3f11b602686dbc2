/**
 * Suggested tests as they are put before a person: those that try one thing gathered into families, what each adds to the
 * tests that there are, and the fewest that add everything first.
 */
import type { CompiledRule, TypeProgram } from '../compile/compiled.ts';
import { canonicalJson } from '../document/canonical.ts';
import type { RuleTest, Stored } from '../document/document.ts';
import { cellId, marksOf } from './coverage.ts';
import { casesOf, linesOf } from './family.ts';
import { failsTest, settleTest } from './run.ts';
import { sumOfStrength, type Strength, type StrengthMeter, type Survivor } from './strength.ts';
import { expectationOf, wholeExpectation } from './expectations.ts';
import type { Suggestion, SuggestionKind } from './suggest.ts';

export interface Offer {
  /** The same for the same input, whatever comes out: what was refused is known by it. */
  readonly identity: string;
  readonly kind: SuggestionKind;
  /** Why it is proposed. */
  readonly why: string;
  /** Its expectations are what the rules give now. */
  readonly test: RuleTest;
  readonly cases: number;
  /** Key of a test that there is, of which this is a stricter form. */
  readonly amends?: string;
  /** What it adds to the tests and to the offers before it. */
  readonly adds: { readonly cells: readonly string[]; readonly rows: number; readonly faults: readonly string[] };
  /** Share of the planted faults of its rule that are caught once it is taken, with those before it; 0 to 1. */
  readonly strengthAfter: number;
}

/** What an input is, apart from what comes out of it. */
export function identityOf({
  recordType,
  before,
  related,
  origin,
  sent,
  moment,
  entryPoint,
  family,
}: RuleTest): string {
  const rows = family?.cases && {
    ...family.cases,
    rows: family.cases.rows.map((r) => r.slice(0, family.cases!.sent.length)),
  };
  const text = canonicalJson([
    recordType,
    before,
    related ?? [],
    origin ?? null,
    sent,
    moment,
    entryPoint,
    family?.entryPoints ?? [],
    rows ?? null,
  ]);
  return `${recordType}:${hash(text)}`;
}

/** One that looks at more than another with the same input is another. */
const identityOfSuggestion = ({ kind, test }: Suggestion): string =>
  `${identityOf(test)}${kind === 'fault' ? '+' : ''}`;

/** 53 bits of a text: two multiplications by primes, mixed (the finalizer of MurmurHash3 in each half). */
function hash(text: string): string {
  let [a, b] = [0xdeadbeef, 0x41c6ce57];
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 2654435761);
    b = Math.imul(b ^ c, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (4294967296 * (2097151 & b) + (a >>> 0)).toString(36);
}

/**
 * Suggestions of one rule as families: those of a kind that differ in one value sent, and those that differ only in the
 * way in, where the same rules act and the same is said.
 */
export function asFamilies(suggestions: readonly Suggestion[], type: TypeProgram): Suggestion[] {
  const rest: Suggestion[] = [];
  const groups = new Map<string, Suggestion[]>();
  for (const s of suggestions) {
    const key = groupKey(s);
    if (key === undefined) rest.push(s);
    else groups.set(key, [...(groups.get(key) ?? []), s]);
  }
  const families = [...groups.values()].flatMap((group) => {
    const family = group.length > 1 ? familyOf(group, type) : undefined;
    return family ? [family] : group;
  });
  return [...families, ...rest];
}

/** Suggestions with the same key may become one family. */
function groupKey({ kind, test, about }: Suggestion): string | undefined {
  const { fields, ...said } = test.expect;
  const { before, sent, moment, entryPoint, related, origin } = test;
  if (kind === 'entry') return canonicalJson(['entry', sent, test.expect]);
  if ((kind !== 'boundary' && kind !== 'value') || about === undefined) return undefined;
  const { [about]: _, ...others } = sent;
  return canonicalJson([
    'cases',
    about,
    before,
    others,
    moment,
    entryPoint,
    related ?? [],
    origin ?? null,
    said,
    Object.keys(fields ?? {}),
  ]);
}

function familyOf(group: readonly Suggestion[], type: TypeProgram): Suggestion | undefined {
  // A case through an entry point that only changes records is made from one that makes them, not the other way round.
  const first = group.find((s) => s.test.before === null) ?? group[0]!;
  const { test, about, kind } = first;
  if (kind === 'entry') {
    const acts = (test.expect.ran ?? []).length > 0;
    const why = `${acts ? 'acts' : 'stays out'} through each of ${group.length} entry points`;
    return {
      ...first,
      why,
      test: { ...test, name: nameOf(test, why), family: { entryPoints: group.map((s) => s.test.entryPoint) } },
    };
  }
  const expected = Object.keys(test.expect.fields ?? {});
  const sent = [about!];
  const rows = group.map(({ test: t }): Stored[] => [
    (t.sent[about!] ?? null) as Stored,
    ...expected.map((key) => t.expect.fields?.[key] ?? null),
  ]);
  const { fields: _, ...said } = test.expect;
  const { [about!]: __, ...others } = test.sent;
  const field = type.slots[type.slotOf.get(about!)!]!.field.name;
  const isBoundary = group.some((s) => s.kind === 'boundary');
  const why = isBoundary ? `around each boundary of ${field}` : `each value of ${field}`;
  return {
    ...first,
    kind: isBoundary ? 'boundary' : 'value',
    why,
    test: {
      ...test,
      name: nameOf(test, why),
      sent: others,
      typed: Object.keys(others),
      expect: said,
      family: { cases: { sent, expected, rows } },
    },
  };
}

const nameOf = (test: RuleTest, why: string): string => `${test.name.split(': ')[0]}: ${why}`;

/** What there is to gain for a rule, and what each offer gains of it. */
interface Goals {
  /** Marks of cells and rows that no test reaches. */
  readonly marks: ReadonlySet<string>;
  readonly strength: Strength;
}

/**
 * Offers for one rule, the fewest that bring everything first (a greedy cover: at most ln n times the smallest, Chvátal,
 * Mathematics of Operations Research 4 (1979), 233-235); then those that add nothing, as they were suggested.
 * `seen`: the marks that the tests leave. `refused`: identities that are not to be offered.
 */
export function offersFor(
  r: CompiledRule,
  type: TypeProgram,
  meter: StrengthMeter,
  seen: ReadonlySet<string>,
  refused: ReadonlySet<string> = new Set(),
  tests: readonly RuleTest[] = [],
): Offer[] {
  const strength = sumOfStrength([
    meter.strengthOf({ kind: 'rule', key: r.rule.key }),
    ...[...r.tables].map((key) => meter.strengthOf({ kind: 'table', key })),
  ]);
  const taken = new Set([...refused, ...tests.map(identityOf)]);
  const suggestions = [
    ...asFamilies(meter.suggestionsFor(r, type), type),
    ...catchersOf(strength, r, type, meter),
  ].filter((s) => {
    const identity = identityOfSuggestion(s);
    return !taken.has(identity) && taken.add(identity);
  });
  const goals: Goals = { marks: seen, strength };
  const gains = suggestions.map((s) => ({ s, gain: gainOf(s.test, r, type, meter, goals) }));
  const have = new Set<string>();
  const ordered: Offer[] = [];
  const { caught, planted } = strength;
  let noticed = caught;
  while (gains.length > 0) {
    const left = gains.map(({ gain }) => [...gain.keys()].filter((g) => !have.has(g)).length);
    let at = 0;
    for (let i = 1; i < gains.length; i++)
      if (left[i]! > left[at]! || (left[i]! === left[at]! && casesOf(gains[i]!.s.test) < casesOf(gains[at]!.s.test)))
        at = i;
    if (left[at] === 0) {
      for (const { s } of gains) ordered.push(offerOf(s, [], planted === 0 ? 1 : noticed / planted));
      break;
    }
    const [{ s, gain }] = gains.splice(at, 1) as [(typeof gains)[number]];
    const added = [...gain].filter(([g]) => !have.has(g));
    for (const [g] of added) have.add(g);
    noticed += added.filter(([g]) => g.startsWith('fault ')).length;
    ordered.push(offerOf(s, added, planted === 0 ? 1 : noticed / planted));
  }
  return ordered;
}

function offerOf(s: Suggestion, added: readonly (readonly [string, string])[], strengthAfter: number): Offer {
  const of = (what: string): string[] => added.filter(([g]) => g.startsWith(`${what} `)).map(([, text]) => text);
  const adds = { cells: of('cell'), rows: of('row').length, faults: of('fault') };
  return {
    identity: identityOfSuggestion(s),
    kind: s.kind,
    why: s.why,
    test: s.test,
    cases: casesOf(s.test),
    adds,
    strengthAfter,
    ...(s.amends === undefined ? {} : { amends: s.amends }),
  };
}

/** The tests that strength found for what nothing notices, where no suggestion does. */
function catchersOf({ survivors }: Strength, r: CompiledRule, type: TypeProgram, meter: StrengthMeter): Suggestion[] {
  const own = survivors.filter((s) => s.part.kind === 'rule');
  const found = new Map<RuleTest, Survivor[]>();
  for (const s of own) found.set(s.test, [...(found.get(s.test) ?? []), s]);
  const each = [...found].map(([test, met], i): Suggestion => {
    const texts = met.map((s) => s.text);
    const why = `notices: ${texts[0]!}${texts.length > 1 ? ` and ${texts.length - 1} more` : ''}`;
    const settled = settleTest(meter.program, test, meter.options);
    // What the rule itself is about says most; all that comes out only where that would not notice.
    const about = { ...test, expect: expectationOf(r, type, settled) };
    const notices = met.every((s) => {
      const faulty = meter.faulty(s);
      return faulty && failsTest(faulty, about, meter.options);
    });
    const expect = notices ? about.expect : wholeExpectation(r, type, settled);
    if (meter.isKnown(test) && !test.key.includes('/')) {
      const more = `${test.name} looks at more`;
      return {
        rule: r.rule.key,
        kind: 'fault',
        why: `${more}, and ${why}`,
        test: { ...test, expect },
        amends: test.key,
      };
    }
    const key = `suggested-${r.rule.key}-fault-${i + 1}`;
    return { rule: r.rule.key, kind: 'fault', why, test: { ...test, key, name: `${r.rule.name}: ${why}`, expect } };
  });
  return [...throughAll(own, r, type, meter), ...each];
}

/** One test through each entry point that could go missing unnoticed, on the record of the first that would tell. */
function throughAll(
  survivors: readonly Survivor[],
  r: CompiledRule,
  type: TypeProgram,
  meter: StrengthMeter,
): Suggestion[] {
  const gone = survivors.filter((s) => s.entryPoint !== undefined);
  const first = (gone.find((s) => s.test.before === null) ?? gone[0])?.test;
  if (!first || gone.length < 2) return [];
  const { family: _, ...base } = first;
  const expect = wholeExpectation(r, type, settleTest(meter.program, base, meter.options));
  const alike = gone
    .map((s) => s.entryPoint!)
    .filter((way) => {
      const [line] = linesOf({ ...base, expect, family: { entryPoints: [way] } }, type);
      return line && !failsTest(meter.program, line.test, meter.options);
    });
  if (alike.length < 2) return [];
  const why = `acts through each of ${alike.length} entry points`;
  const key = `suggested-${r.rule.key}-ways`;
  const test = { ...base, key, name: `${r.rule.name}: ${why}`, expect, family: { entryPoints: alike } };
  return [{ rule: r.rule.key, kind: 'fault', why, test }];
}

/** What a test would add, each with its words: `cell …`, `row …`, `fault …`. */
function gainOf(
  test: RuleTest,
  r: CompiledRule,
  type: TypeProgram,
  meter: StrengthMeter,
  { marks, strength }: Goals,
): ReadonlyMap<string, string> {
  const gain = new Map<string, string>();
  const { program, options } = meter;
  const lines = linesOf(test, type);
  const cells = meter.cellsOf(r, type);
  for (const { test: line } of lines) {
    const { trace } = settleTest(program, line, options);
    for (const mark of marksOf(trace, line.entryPoint)) {
      if (marks.has(mark)) continue;
      const cell = cells.get(mark);
      if (cell !== undefined) gain.set(`cell ${mark}`, cell);
      else if (r.structure.table && mark.startsWith(cellId(r.rule.key, 'branch '))) gain.set(`row ${mark}`, mark);
    }
  }
  strength.survivors.forEach((survivor, i) => {
    // Faults of a table are met by values one by one, not by how a rule comes to act.
    if (survivor.part.kind === 'table' && !test.family?.cases) return;
    const faulty = meter.faulty(survivor);
    if (faulty && lines.some(({ test: line }) => failsTest(faulty, line, options)))
      gain.set(`fault ${i}`, survivor.text);
  });
  return gain;
}

/** The offers that add something, and what they do together. */
export function firstOffers(offers: readonly Offer[]): {
  readonly offers: readonly Offer[];
  readonly sentence: string;
} {
  const useful = offers.filter((o) => o.adds.cells.length + o.adds.rows + o.adds.faults.length > 0);
  const last = useful.at(-1);
  if (!last) return { offers: [], sentence: 'No suggestion adds anything to the tests that there are.' };
  const percent = Math.floor(last.strengthAfter * 100);
  const these = useful.length === 1 ? 'This one brings' : `These ${useful.length} bring`;
  return { offers: useful, sentence: `${these} it to ${percent} % of the planted faults.` };
}
