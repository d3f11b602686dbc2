/**
 * A condition that has to be true of every saved record, whatever was entered: a record and an act that break it are
 * looked for among the values at which rules turn, then by chance; what is found is made as small and plain as it can be.
 */
import { demandedSlots } from '../analysis/target-findings.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { recompileProgram } from '../compile/program.ts';
import type { Claim, Moment, RecordData, RuleTest, SampleRecord, Stored } from '../document/document.ts';
import type { Expression } from '../language/expression/ast.ts';
import { createCondition, type Formula } from '../language/expression/formula.ts';
import { isBlankStored } from '../language/field-types/field-type.ts';
import { hasErrors } from '../diagnostics/catalog.ts';
import type { Settlement } from '../settle/settlement.ts';
import { isPlainFormula } from './equal-mutants.ts';
import { settleTest } from './run.ts';
import { randomFrom } from './sampled.ts';
import { inOrder, typingsOf, type Typing } from './typing.ts';
import { apartFrom, testMoment, trialsOfFormulas, trialsOf } from './values.ts';
import { type SlotIndex, noSlot } from '../document/slots.ts';
import { inOneGo } from '../values/steps.ts';

export type ClaimResult = {
  readonly claim: string;
  /** Records and acts that were settled. */
  readonly tried: number;
} & (
  | { readonly state: 'sure' | 'tried' }
  | {
      readonly state: 'broken';
      /** A record and an act that break it, as small and plain as they could be made. */
      readonly counterexample: RuleTest;
      /** What that record is once it is saved. */
      readonly saved: RecordData;
    }
  /** What is wrong with its condition. */
  | { readonly state: 'cannot be read'; readonly problem: string }
);

export type ClaimState = ClaimResult['state'];

export interface ClaimOptions {
  /** Records to try besides those that are made up. */
  readonly samples?: readonly SampleRecord[];
  readonly seed?: number;
  /** Records and acts tried at most where it cannot be sure. */
  readonly most?: number;
  /** True: time is up, and what was tried so far is told. */
  readonly timeIsUp?: () => boolean;
}

/** Combinations up to which every one is tried. */
const mostRegions = 60_000;
const usualMost = 20_000;
const between = 200;

/** Looks for what breaks a claim; yields now and then. Never throws, whatever the claim says. */
export function* searchClaim(
  program: Program,
  claim: Claim,
  options: ClaimOptions = {},
): Generator<number, ClaimResult> {
  const type = program.types.get(claim.recordType);
  if (!type) return { claim: claim.key, state: 'cannot be read', tried: 0, problem: 'There is no such record type.' };
  const formula = createCondition(claim.condition, type.scope);
  if (!formula.evaluate || hasErrors(formula.diagnostics) || formula.related.length > 0) {
    const problem = formula.diagnostics[0]?.message ?? 'A claim is about one record: it cannot ask for others.';
    return { claim: claim.key, state: 'cannot be read', tried: 0, problem };
  }
  const search = new ClaimSearch(program, type, claim, formula);
  const regions = yield* inRegions(search, options);
  const sure = regions.complete && search.isFinite();
  const broken = regions.broken ?? (sure ? undefined : yield* byChance(search, options));
  const { tried } = search;
  if (!broken) return { claim: claim.key, state: sure ? 'sure' : 'tried', tried };
  const counterexample = search.shrunk(broken);
  return { claim: claim.key, state: 'broken', tried, counterexample, saved: search.settled(counterexample).data };
}

/** Every region, as far as there are not too many of them. */
function* inRegions(
  search: ClaimSearch,
  { timeIsUp = () => false }: ClaimOptions,
): Generator<number, { readonly broken?: RuleTest; readonly complete: boolean }> {
  let complete = true;
  for (const { test, real } of search.everyRegion()) {
    if (search.tried % between === 0) yield search.tried;
    if (search.tried >= mostRegions || timeIsUp()) return { complete: false };
    if (!search.mayBreak(test)) continue;
    const broken = real ? search.breaks(test) : undefined;
    if (broken) return { broken, complete: true };
    // Only rules that have nothing to do with the claim keep this one away.
    complete = false;
  }
  return { complete };
}

function* byChance(
  search: ClaimSearch,
  { most = usualMost, seed = 0, timeIsUp = () => false, samples = [] }: ClaimOptions,
): Generator<number, RuleTest | undefined> {
  const chance = search.byChance(seed, samples);
  for (let n = 0; n < most; n++) {
    if (n % between === 0) yield search.tried;
    if (n > 0 && timeIsUp()) return undefined;
    const broken = search.breaks(chance.next().value);
    if (broken) return broken;
  }
  return undefined;
}

/** Claims to their ends, one after the other. */
export function checkClaims(program: Program, options: ClaimOptions = {}): ClaimResult[] {
  return (program.rulebook.claims ?? []).map((claim) => inOneGo(searchClaim(program, claim, options)));
}

class ClaimSearch {
  private readonly program: Program;
  private readonly type: TypeProgram;
  private readonly claim: Claim;
  private readonly formula: Formula;
  /** Rules that can have to do with a field of the claim. */
  private readonly rules: readonly CompiledRule[];
  /** Values by slot: of every field that the claim or one of its rules reads or writes. */
  private readonly values: ReadonlyMap<SlotIndex, readonly Stored[]>;
  /** The rulebook with those rules alone: what others refuse for reasons of their own is saved by it. */
  private readonly behind: Program;
  /** Keys of the fields that rules of other records write. */
  private readonly sendable: ReadonlySet<string>;
  private readonly standing: readonly string[];
  /** By key of a field the ways of typing it, besides among the others, that rules tell apart. */
  private readonly typings: ReadonlyMap<string, readonly Typing[]>;
  tried = 0;

  constructor(program: Program, type: TypeProgram, claim: Claim, formula: Formula) {
    this.program = program;
    this.type = type;
    this.claim = claim;
    this.formula = formula;
    const slots = new Set(formula.reads.map((r) => r.field.slot));
    this.rules = rulesBehind(type, slots);
    this.typings = typingsOf(this.rules, type);
    this.standing = type.rules.filter((r) => r.standing).map((r) => r.rule.key);
    const all = [...program.types.values()].flatMap((t) => t.rules);
    this.sendable = new Set(all.flatMap((r) => r.structure.sends?.fields ?? []));
    const values = new Map<SlotIndex, Stored[]>();
    const put = (slot: SlotIndex, list: readonly Stored[]): void => {
      const own = values.get(slot) ?? [];
      const known = new Set(own.map((v) => JSON.stringify(v)));
      for (const v of list) if (!known.has(JSON.stringify(v))) own.push(v);
      values.set(slot, own);
    };
    for (const [slot, list] of trialsOfFormulas([formula], type)) put(slot, list);
    for (const r of this.rules)
      for (const [slot, list] of trialsOf(r, type, program))
        put(
          slot,
          list.filter((t) => !t.outer).map((t) => t.value),
        );
    for (const [slot, list] of values) {
      const { field, type: fieldType } = type.slots[slot]!;
      for (const value of apartFrom(list, field)) {
        const coerced = fieldType.coerce(value, field);
        if ('value' in coerced) put(slot, [coerced.value]);
      }
    }
    this.values = values;
    const keys = new Set(this.rules.map((r) => r.rule.key));
    const rules = program.rulebook.rules.filter((r) => keys.has(r.key));
    this.behind = recompileProgram(program, { ...program.rulebook, rules });
  }

  private filling(slot: SlotIndex): Stored {
    const { field, type } = this.type.slots[slot]!;
    if (field.options) return field.options[0]?.key ?? null;
    const coerced = type.coerce(type.free ? 'Alder' : type.example, field);
    return 'value' in coerced ? coerced.value : null;
  }

  private readonly last = new Map<Program, { readonly test: RuleTest; readonly settlement: Settlement }>();

  /** What is asked of the same test again, as a region and as a breach, is settled once. */
  settled(test: RuleTest, program = this.program): Settlement {
    const last = this.last.get(program);
    if (last?.test === test) return last.settlement;
    const settlement = settleTest(program, test, { trace: false });
    this.last.set(program, { test, settlement });
    return settlement;
  }

  /**
   * The test, where its record is saved and the claim is not true of it, though it was true before: what breaks it
   * already is told by how it came to be.
   */
  breaks(test: RuleTest, program = this.program): RuleTest | undefined {
    this.tried++;
    if (test.before && !this.holds(test.before.data, test.now)) return undefined;
    const { verdict, data } = this.settled(test, program);
    return verdict === 'saved' && !this.holds(data, test.now) ? test : undefined;
  }

  /** The same, as far as the claim's own rules go: where they hold it, no others break it. */
  mayBreak(test: RuleTest): boolean {
    return this.breaks(test, this.behind) !== undefined;
  }

  /** A condition that is unknown is not true: it has to say what it means by blank. */
  private holds(data: RecordData, now: string): boolean {
    const { slots } = this.type;
    const record = slots.map(({ field, type }) => type.read(data[field.key] ?? null, field));
    try {
      return this.formula.evaluate!({ record, previous: record, host: { ...this.program.host, now } }) === true;
    } catch {
      return false;
    }
  }

  /** What follows from other writes sends only what rules of other records give; a backfill names the rules that stand. */
  private test(
    entryPoint: string,
    moment: Moment,
    before: RuleTest['before'],
    asked: RecordData,
    typing: ReadonlyMap<string, Typing> = new Map(),
  ): RuleTest {
    const follows = this.type.entryPoints.get(entryPoint)?.followsUp === true;
    const sent = follows ? Object.fromEntries(Object.entries(asked).filter(([key]) => this.sendable.has(key))) : asked;
    return {
      key: `claim-${this.claim.key}`,
      name: this.claim.name,
      recordType: this.claim.recordType,
      before,
      sent,
      typed: inOrder(Object.keys(sent), typing),
      moment,
      entryPoint,
      now: testMoment,
      ...(follows && moment !== 'creating' ? { woken: this.standing } : {}),
      expect: {},
    };
  }

  /**
   * Every record that can come to be stored, met by every combination of values sent, through every entry point: new
   * records first, then what became of them, until nothing new comes. `real`: no rule at all refuses that the record comes
   * to be; the others do not either where only the claim's own rules are looked at.
   */
  *everyRegion(): Generator<{ readonly test: RuleTest; readonly real: boolean }, void> {
    const ways = [...this.type.entryPoints.values()];
    const met = { real: new Set<string>(), all: new Set<string>() };
    const waiting: { readonly before: RuleTest['before']; readonly real: boolean }[] = [{ before: null, real: true }];
    for (let next = waiting.shift(); next !== undefined; next = waiting.shift()) {
      const { before, real } = next;
      for (const sent of this.everySent()) {
        const asked = before === null ? { ...this.fillings(), ...sent } : sent;
        for (const { key, moments } of ways) {
          const moment = before === null ? 'creating' : 'updating';
          if (!moments.includes(moment)) continue;
          for (const typing of this.everyTyping(asked)) {
            const test = this.test(key, moment, before, asked, typing);
            yield { test, real };
            const behind = this.settled(test, this.behind);
            const state = JSON.stringify([this.seen(behind.data), behind.held]);
            if (behind.verdict !== 'saved' || met.real.has(state) || (!real && met.all.has(state))) continue;
            const whole = real ? this.settled(test) : undefined;
            const isReal = whole?.verdict === 'saved';
            if (!isReal && met.all.has(state)) continue;
            met.all.add(state);
            if (isReal) met.real.add(state);
            const { data, held } = isReal ? whole : behind;
            waiting.push({ before: { data, held }, real: isReal });
          }
        }
      }
    }
  }

  /** Every way to type what is asked that rules tell apart. */
  private everyTyping(asked: RecordData): Iterable<ReadonlyMap<string, Typing>> {
    const open = [...this.typings].filter(([key]) => Object.hasOwn(asked, key));
    return open.reduce<readonly ReadonlyMap<string, Typing>[]>(
      (all, [key, ways]) => all.flatMap((so) => ways.map((way) => new Map([...so, [key, way]]))),
      [new Map()],
    );
  }

  /** What of a record the claim and its rules look at. */
  private seen(data: RecordData): readonly Stored[] {
    return [...this.values.keys()].map((slot) => data[this.type.slots[slot]!.field.key] ?? null);
  }

  /** Required fields that nothing looks at. */
  private fillings(): RecordData {
    const slots = this.type.required.filter((slot) => !this.values.has(slot));
    return Object.fromEntries(slots.map((slot) => [this.type.slots[slot]!.field.key, this.filling(slot)]));
  }

  /** Every combination of values, each also not sent. */
  private *everySent(): Iterable<RecordData> {
    const factors = [...this.values].map(([slot, list]) => ({ key: this.type.slots[slot]!.field.key, list }));
    const total = factors.reduce((n, { list }) => n * (list.length + 1), 1);
    for (let i = 0; i < total; i++) {
      let rest = i;
      const data: Record<string, Stored> = {};
      for (const { key, list } of factors) {
        const at = rest % (list.length + 1);
        rest = Math.floor(rest / (list.length + 1));
        if (at > 0) data[key] = list[at - 1]!;
      }
      yield data;
    }
  }

  /** Only comparisons with constants stand between values and what becomes of them: regions are all alike inside. */
  isFinite(): boolean {
    return (
      isPlainFormula(this.formula) &&
      this.rules.every(
        (r) =>
          r.related.length === 0 &&
          r.tables.size === 0 &&
          !r.structure.table &&
          !r.structure.match &&
          r.placed.formulas.every(
            ({ path, formula }) =>
              isPlainFormula(formula) &&
              // A value that is handed on would have to be compared with what its field is compared with there.
              (path === '/condition' || r.structure.division !== undefined || givesConstants(formula.expression!)),
          ),
      )
    );
  }

  *byChance(seed: number, samples: readonly SampleRecord[]): Generator<RuleTest, never> {
    const random = randomFrom(seed);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
    const own = samples.filter((s) => s.recordType === this.claim.recordType);
    const ways = [...this.type.entryPoints.values()];
    const { slots } = this.type;
    const some = (share: number): RecordData =>
      Object.fromEntries(
        [...this.values].flatMap(([slot, list]) => (random() < share ? [[slots[slot]!.field.key, pick(list)]] : [])),
      );
    for (;;) {
      const way = pick(ways);
      const moment = pick(way.moments.filter((m) => m === 'creating' || m === 'updating'));
      const typing = new Map([...this.typings].map(([key, ways]) => [key, pick(ways)] as const));
      const base = own.length > 0 && random() < 0.4 ? pick(own).data : {};
      if (moment === 'creating')
        yield this.test(way.key, moment, null, { ...this.fillings(), ...base, ...some(0.8) }, typing);
      else {
        const made = this.settled(
          this.test(pick(ways).key, 'creating', null, { ...this.fillings(), ...base, ...some(0.8) }),
        );
        yield this.test(way.key, moment, { data: made.data, held: made.held }, some(0.4), typing);
      }
    }
  }

  /** As few and as plain values as still break it. */
  shrunk(test: RuleTest): RuleTest {
    let best = test;
    const better = (candidate: RuleTest): boolean => {
      const typed = candidate.typed?.filter((key) => Object.hasOwn(candidate.sent, key)) ?? [];
      // Typed as anybody would, where that breaks it too.
      const found = [Object.keys(candidate.sent), typed].find((t) => this.breaks({ ...candidate, typed: t }));
      if (found) best = { ...candidate, typed: found };
      return found !== undefined;
    };
    if (best.before) better({ ...best, before: null, moment: 'creating', sent: { ...best.before.data, ...best.sent } });
    const forms = [...this.type.entryPoints.values()].filter((e) => e.moments.includes(best.moment));
    for (const { key } of forms) if (key === best.entryPoint || better({ ...best, entryPoint: key })) break;
    for (const of of ['sent', 'before'] as const) {
      for (const key of Object.keys(of === 'sent' ? best.sent : (best.before?.data ?? {}))) {
        const without = (data: RecordData): RecordData =>
          Object.fromEntries(Object.entries(data).filter(([k]) => k !== key));
        if (of === 'sent') better({ ...best, sent: without(best.sent as RecordData) });
        else better({ ...best, before: { held: best.before!.held ?? [], data: without(best.before!.data) } });
      }
    }
    for (const key of Object.keys(best.sent)) {
      const plain = this.plainest(key);
      if (plain !== undefined) better({ ...best, sent: { ...best.sent, [key]: plain } });
    }
    return best;
  }

  private plainest(key: string): Stored | undefined {
    const list = this.values.get(this.type.slotOf.get(key) ?? noSlot);
    const sized = (v: Stored): number => (typeof v === 'number' ? Math.abs(v) : JSON.stringify(v).length);
    return list?.filter((v) => !isBlankStored(v)).sort((a, b) => sized(a) - sized(b))[0];
  }
}

/** Whatever the fields are, one of the constants in it comes out. */
function givesConstants(e: Expression): boolean {
  if (e.kind === 'if') return givesConstants(e.then) && givesConstants(e.otherwise);
  return e.kind === 'literal';
}

/** The rules that write these fields or constrain them, and those that write what they read. Grows `slots`. */
function rulesBehind(type: TypeProgram, slots: Set<number>): readonly CompiledRule[] {
  const found = new Set<CompiledRule>();
  for (let known = -1; known !== found.size;) {
    known = found.size;
    for (const r of type.rules) {
      if (found.has(r) || !r.compiles || !r.rule.on) continue;
      const constrained = r.fieldConstraints ? [...r.reads.present, ...demandedSlots(r.fieldConstraints)] : [];
      if (![...r.writes, ...constrained].some((s) => slots.has(s))) continue;
      found.add(r);
      for (const s of [...r.reads.present, ...r.reads.previous, ...r.writes]) slots.add(s);
    }
  }
  return [...found];
}
