/**
 * Tests worked out from the compiled rules. Their expectations are what the draft gives now: they count only when the
 * author has confirmed them.
 */
import { fieldTypeOf } from '../language/field-types/index.ts';
import { entryPointsOf } from '../compile/entry-points.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import type { Moment, RecordData, RuleTest } from '../document/document.ts';
import { conditionTrials, decidingRecords, holdingRecord } from './condition-records.ts';
import { expectationOf } from './expectations.ts';
import { through } from './family.ts';
import { usualValues } from './inputs.ts';
import { lookupWritten, neighboursOf } from './neighbours.ts';
import { pairwise } from './pairwise.ts';
import { actedVerdicts, settleTest } from './run.ts';
import { rowTrialsOf, testMoment, trialsOf, type Trial } from './values.ts';
import { type SlotIndex, slotAt } from '../document/slots.ts';

/** What a suggestion is about. */
export const suggestionKinds = {
  boundary: 'around each boundary',
  value: 'each value',
  entry: 'each entry point',
  transition: 'each move of an ordered list',
  deciding: 'each part of the condition decides alone',
  pair: 'every two values together',
  unrelated: 'what must not make it act',
  winner: 'who wins over a value set by hand',
  fault: 'what no other test would notice',
} as const;
export type SuggestionKind = keyof typeof suggestionKinds;

export interface Suggestion {
  readonly test: RuleTest;
  readonly rule: string;
  readonly kind: SuggestionKind;
  /** What it tries: `Employee count just below 10`. */
  readonly why: string;
  /** Key of the field whose value it tries, where it tries one. */
  readonly about?: string;
  /** Key of a test that there is: it would look at more. */
  readonly amends?: string;
}

/** Factors that are paired at most, and values of each. */
const mostFactors = 6;

/** `known`: tests that there are, whose related records are lent to suggestions where a rule asks for some. */
export function suggestTests(
  program: Program,
  options: SettleOptions = {},
  known: readonly RuleTest[] = [],
): Suggestion[] {
  const found: Suggestion[] = [];
  for (const type of program.types.values())
    for (const r of type.rules)
      if (r.compiles && r.rule.on) found.push(...suggestFor(r, type, program, options, known));
  return found;
}

/** A record that the rule acts on, with all that stands around it. */
type Base = Pick<RuleTest, 'related' | 'origin' | 'now' | 'user'> & { readonly record: RecordData };

class Suggester {
  readonly found: Suggestion[] = [];
  readonly r: CompiledRule;
  readonly type: TypeProgram;
  readonly program: Program;
  private readonly seen = new Set<string>();
  private readonly options: SettleOptions;
  base: Base;

  constructor(r: CompiledRule, type: TypeProgram, program: Program, options: SettleOptions, record: RecordData) {
    this.r = r;
    this.type = type;
    this.program = program;
    this.options = options;
    this.base = { record, now: testMoment };
  }

  /** Keeps a try as a test, unless there is one with the same input or it cannot settle. */
  add(
    kind: SuggestionKind,
    why: string,
    before: RecordData | null,
    sent: RecordData,
    more: Partial<Pick<RuleTest, 'entryPoint' | 'moment'>> & {
      held?: readonly string[];
      about?: string;
    } = {},
  ): void {
    const { rule } = this.r;
    const { held = [], moment = before ? 'updating' : 'creating', entryPoint = rule.entryPoints[0] ?? 'api' } = more;
    const identity = JSON.stringify([before, held, sent, moment, entryPoint]);
    if (this.seen.has(identity)) return;
    this.seen.add(identity);
    const { record: _, ...around } = this.base;
    const asked = {
      key: `suggested-${rule.key}-${this.found.length + 1}`,
      name: `${rule.name}: ${why}`,
      recordType: this.type.recordType.key,
      before: before ? { data: before, ...(held.length > 0 ? { held } : {}) } : null,
      ...around,
      sent,
      typed: Object.keys(sent),
      moment,
      entryPoint,
    };
    const settlement = settleTest(this.program, { ...asked, expect: {} }, this.options);
    if (settlement.verdict === 'waiting') return;
    const test = { ...asked, expect: expectationOf(this.r, this.type, settlement) };
    this.found.push({ rule: rule.key, kind, why, test, ...(more.about === undefined ? {} : { about: more.about }) });
  }

  acts(test: RuleTest): boolean {
    const { trace } = settleTest(this.program, test, this.options);
    return actedVerdicts.has(trace.find((t) => t.rule === this.r.rule.key)?.verdict ?? '');
  }
}

export function suggestFor(
  r: CompiledRule,
  type: TypeProgram,
  program: Program,
  options: SettleOptions = {},
  known: readonly RuleTest[] = [],
): Suggestion[] {
  const trials = trialsOf(r, type, program);
  const suggester = new Suggester(r, type, program, options, holdingRecord(r, type, trials));
  borrowBase(suggester, known);
  valueTests(suggester, trials);
  rowTests(suggester);
  const { base } = suggester;
  const keyOf = (slot: SlotIndex): string => type.slots[slot]!.field.key;
  if (r.rule.moments.includes('updating')) {
    for (const slot of new Set([...r.reads.present, ...r.wakes])) transitions(suggester, slot);
    const touched: ReadonlySet<number> = new Set([...r.wakes, ...r.writes]);
    const unrelated = slotAt(type.slots.findIndex(({ field }, i) => !touched.has(i) && fieldTypeOf(field).free));
    if (unrelated >= 0)
      suggester.add('unrelated', 'another field changes', { ...base.record }, { [keyOf(unrelated)]: 'changed' });
  }
  entryTests(suggester);
  const decided = new Set([...conditionTrials(r, trials).keys()].map(keyOf));
  const others = Object.fromEntries(Object.entries(base.record).filter(([key]) => !decided.has(key)));
  for (const { record, why } of decidingRecords(r, type, trials))
    if (r.rule.moments.includes('creating')) suggester.add('deciding', why, null, { ...others, ...record });
    else if (r.rule.moments.includes('updating')) suggester.add('deciding', why, others, record);
  pairTests(suggester);
  winnerTests(suggester);
  return suggester.found;
}

/**
 * Where the record that was worked out does not make the rule act, or on no other record: that of a test in which it does,
 * or the same with made-up records beside it.
 */
function borrowBase(suggester: Suggester, known: readonly RuleTest[]): void {
  const { r, type, program, base } = suggester;
  const asked = { key: 'base', name: '', recordType: type.recordType.key, expect: {} };
  const moment: Moment = r.rule.moments.includes('creating') ? 'creating' : (r.rule.moments[0] ?? 'updating');
  const entryPoint = r.rule.entryPoints[0] ?? 'api';
  const actsOn = ({ record, ...around }: Base): boolean =>
    suggester.acts({ ...asked, ...around, before: null, sent: record, moment, entryPoint });
  const written = lookupWritten(r, type);
  const writesSomebody = (record: RecordData): boolean => written === undefined || (record[written] ?? null) !== null;
  if (writesSomebody(base.record) && actsOn(base)) return;
  const own = known.filter((t) => t.recordType === type.recordType.key && writesSomebody(recordOf(t)));
  const found = own.find((t) => t.before === null && suggester.acts(t)) ?? own.find((t) => suggester.acts(t));
  if (!found) {
    const beside: Base = { ...base, ...neighboursOf(r, type, program, base.record) };
    if (actsOn(beside)) suggester.base = beside;
    return;
  }
  const { related, origin, now, user } = found;
  suggester.base = {
    record: recordOf(found),
    now,
    ...(related ? { related } : {}),
    ...(origin ? { origin } : {}),
    ...(user ? { user } : {}),
  };
}

const recordOf = ({ before, sent }: RuleTest): RecordData => ({ ...before?.data, ...(sent as RecordData) });

function valueTests(suggester: Suggester, trials: ReadonlyMap<SlotIndex, readonly Trial[]>): void {
  const { r, type, base } = suggester;
  const { moments } = r.rule;
  for (const [slot, values] of trials) {
    const { key, name } = type.slots[slot]!.field;
    for (const { value, why, boundary } of values) {
      const kind = boundary ? 'boundary' : 'value';
      const sent = { ...base.record, [key]: value };
      if (moments.includes('creating')) suggester.add(kind, `${name} ${why}`, null, sent, { about: key });
      else if (moments.includes('updating'))
        suggester.add(kind, `${name} ${why}`, without(base.record, key), { [key]: value }, { about: key });
    }
  }
}

/** Each row of a table that several fields ask, among its own values. */
function rowTests(suggester: Suggester): void {
  const { r, type, base, program } = suggester;
  if (!r.rule.moments.includes('creating')) return;
  for (const { slot, others, value, why, boundary } of rowTrialsOf(r, type, program)) {
    const { key, name } = type.slots[slot]!.field;
    const sent = { ...base.record, ...others, [key]: value };
    suggester.add(boundary ? 'boundary' : 'value', `${name} ${why}`, null, sent, { about: key });
  }
}

/** The same through each entry point: a new record where the rule acts on such, else a change of what wakes it. */
function entryTests(suggester: Suggester): void {
  const { r, type, base } = suggester;
  const onNew = r.rule.moments.includes('creating');
  const wake = r.wakes.map((s) => type.slots[s]!.field.key).find((k) => base.record[k] !== undefined);
  if (!onNew && wake === undefined) return;
  const before = onNew ? null : { data: without(base.record, wake!) };
  const sent = onNew ? base.record : { [wake!]: base.record[wake!]! };
  const moment = onNew ? 'creating' : 'updating';
  for (const entry of entryPointsOf(type.recordType)) {
    const line = through({ before, sent, moment, entryPoint: '' }, entry.key, type.recordType);
    if (line.moment !== 'creating' && line.moment !== 'updating') continue;
    suggester.add('entry', `through ${entry.name}`, line.before?.data ?? null, sent, {
      entryPoint: entry.key,
      moment: line.moment,
    });
  }
}

/** Every two options of the picklists that a rule reads stand together in one of these. */
function pairTests(suggester: Suggester): void {
  const { r, type, base } = suggester;
  const factors = r.reads.present
    .map((slot) => type.slots[slot]!.field)
    .filter((f) => fieldTypeOf(f).chooses === 'one' && f.options)
    .slice(0, mostFactors);
  if (factors.length < 2 || !r.rule.moments.includes('creating')) return;
  const allowed = factors.map((f) => f.options!);
  for (const row of pairwise(allowed.map((o) => o.length))) {
    const chosen = factors.map((f, i) => [f.key, allowed[i]![row[i]!]!] as const);
    const why = chosen.map(([, option]) => option.name).join(' with ');
    const sent = { ...base.record, ...Object.fromEntries(chosen.map(([key, option]) => [key, option.key])) };
    suggester.add('pair', why, null, sent);
  }
}

/** What becomes of a value that is typed together with its cause, and of one that was set by hand before. */
function winnerTests(suggester: Suggester): void {
  const { r, type, base } = suggester;
  const [target] = r.writes;
  const cause = r.wakes.find((s) => base.record[type.slots[s]!.field.key] !== undefined);
  if (target === undefined || cause === undefined) return;
  const { field } = type.slots[target]!;
  const other = usualValues(field).find((v) => v !== null && v !== base.record[field.key]);
  if (other === undefined || other === null) return;
  const [source, key] = [type.slots[cause]!.field.key, field.key];
  const set = `${field.name} set by hand`;
  const rest = without(base.record, source);
  const after = { [source]: base.record[source]!, [key]: other };
  if (r.rule.moments.includes('creating'))
    suggester.add('winner', `${set} after its cause`, null, { ...base.record, ...after });
  else suggester.add('winner', `${set} after its cause`, rest, after);
  suggester.add('winner', `${set} before its cause`, rest, { [key]: other, [source]: base.record[source]! });
  const held = { held: [key] };
  suggester.add('winner', `${set} earlier`, { ...rest, [key]: other }, { [source]: base.record[source]! }, held);
}

const without = (data: RecordData, key: string): RecordData =>
  Object.fromEntries(Object.entries(data).filter(([k]) => k !== key));

/** Each move between neighbours of an ordered picklist, and back. */
function transitions(suggester: Suggester, slot: SlotIndex): void {
  const { record } = suggester.base;
  const { field } = suggester.type.slots[slot]!;
  if (!field.ordered) return;
  const options = field.options ?? [];
  options.slice(1).forEach((to, i) => {
    const from = options[i]!;
    for (const [a, b] of [
      [from, to],
      [to, from],
    ] as const)
      suggester.add(
        'transition',
        `${field.name} from ${a.name} to ${b.name}`,
        { ...record, [field.key]: a.key },
        { [field.key]: b.key },
      );
  });
}
