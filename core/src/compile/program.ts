/** A rulebook compiled: rules with their reads, writes and closures, in the order in which they run. */
import { type CompiledRule, type Program, type RunIndex, type TypeProgram, pathKey } from './compiled.ts';
import { CompiledParts } from './compiled-parts.ts';
import type { UnorderedRule } from './compile-rule.ts';
import { inOneGo } from '../values/steps.ts';
import { hasErrors } from '../diagnostics/catalog.ts';
import { childListsOf } from '../language/expression/shapes.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Host } from '../language/types/host.ts';
import { plainWriting, type Writing } from '../language/types/writing.ts';
import { LazyMap } from './lazy-map.ts';
import type { CompiledTable } from './mapping/table.ts';
import type { Limit } from './rule-kinds/rule-kind.ts';
import type { MappingTable, Moment, RecordType, Rule, Rulebook } from '../document/document.ts';
import { lookThrough, wellFormed } from '../document/well-formed.ts';
import { entryPointsOf } from './entry-points.ts';
import { orderRulesInSteps } from './order.ts';
import { readersOf } from './readers.ts';
import { type SlotIndex, slotAt } from '../document/slots.ts';

const noHost: Host = {};

const writingOf = (host: Host, rulebook: Rulebook): Writing => host.writing?.(rulebook) ?? plainWriting;

/**
 * Never throws, whatever the document is: what is wrong with it is told in `problems` and `broken`. A record type or a
 * table is compiled when it is first asked for.
 */
export function compileProgram(document: Rulebook, host: Host = noHost): Program {
  return new LazyProgram(document, host);
}

/** As `compileProgram`; what did not change is that of `previous`, record types, rules, tables and rows, whatever else did. */
export function recompileProgram(previous: Program, document: Rulebook, host: Host = previous.host): Program {
  return new LazyProgram(document, host, previous instanceof LazyProgram ? previous : undefined);
}

class LazyProgram implements Program {
  readonly rulebook: Rulebook;
  readonly problems: Program['problems'];
  readonly writing: Writing;
  readonly types: LazyMap<string, RecordType, TypeProgram>;
  readonly tables: LazyMap<string, MappingTable, CompiledTable>;
  readonly readers: Program['readers'];
  private readonly parts: CompiledParts;
  private readonly unchanged: ReadonlyMap<RecordType, TypeProgram>;
  private knownBroken: Program['broken'] | undefined;

  constructor(
    document: Rulebook,
    readonly host: Host,
    before?: LazyProgram,
    prepared?: CompiledParts,
  ) {
    const { rulebook, problems } = wellFormed(document);
    this.rulebook = rulebook;
    this.problems = problems;
    this.writing = writingOf(host, rulebook);
    // What was compiled says numbers as they were written then.
    const previous = before?.writing === this.writing ? before : undefined;
    const parts = prepared ?? previous?.parts ?? new CompiledParts(this.writing);
    this.parts = parts;
    // A program does not keep the one before it: what goes on as it was is looked up now.
    this.unchanged = previous?.typesUnchangedIn(rulebook) ?? new Map();
    this.types = new LazyMap(byKey(rulebook.recordTypes), (t) => inOneGo(this.typeInSteps(t)));
    this.tables = new LazyMap(byKey(rulebook.tables ?? []), (t) => parts.tables.compile(t, rulebook));
    this.readers = readersOf(rulebook.recordTypes, this.types);
  }

  private *typeInSteps(type: RecordType): Generator<void, TypeProgram> {
    return this.unchanged.get(type) ?? (yield* compileTypeInSteps(type, this.rulebook, this.parts));
  }

  *prepareTypes(keys: Iterable<string>): Generator<void, void> {
    const byKeys = byKey(this.rulebook.recordTypes);
    for (const key of keys) {
      yield;
      const type = byKeys.get(key);
      if (type && !this.types.peek(key)) this.types.keep(key, yield* this.typeInSteps(type));
    }
  }

  /** Compiles all that was not asked for yet, in short steps. */
  *prepare(): Generator<void, void> {
    yield* this.prepareTypes(this.types.keys());
    for (const _ of this.tables) yield;
    for (const _ of this.readers) yield;
    // Asked for once: known from now on.
    void this.broken;
  }

  get broken(): Program['broken'] {
    return (this.knownBroken ??= [...this.types.values()].flatMap((t) =>
      t.rules.filter((r) => hasErrors(r.diagnostics)),
    ));
  }

  /** The record types whose fields, names and rules are those of another rulebook, as far as they are compiled. */
  private typesUnchangedIn(rulebook: Rulebook): ReadonlyMap<RecordType, TypeProgram> {
    const own = this.rulebook;
    const otherRules = typesWithOtherRules(own.rules, rulebook.rules);
    const sameNames = (['recordTypes', 'tables', 'formerNames', 'userRecordType'] as const).every(
      (name) => own[name] === rulebook[name],
    );
    return new Map(
      rulebook.recordTypes.flatMap((type) => {
        if (otherRules.has(type.key)) return [];
        const known = this.types.peek(type.key);
        if (known?.recordType !== type || !(sameNames || known.scope === this.parts.scopeOf(type, rulebook))) return [];
        return [[type, known] as const];
      }),
    );
  }
}

const byKey = <T extends { readonly key: string }>(parts: readonly T[]): ReadonlyMap<string, T> =>
  new Map(parts.map((p) => [p.key, p]));

/**
 * As `compileProgram`, in steps of a millisecond or so, for who has to do other things in between. What comes out is
 * ready to run: nothing large is left for the first write. Never throws, whatever the document is.
 */
export function* compileInSteps(document: Rulebook, host: Host = noHost): Generator<void, Program> {
  const parts = yield* preparations(document, host);
  const program = new LazyProgram(document, host, undefined, parts);
  yield* program.prepare();
  return program;
}

function* preparations(document: Rulebook, host: Host): Generator<void, CompiledParts> {
  yield* lookThrough(document);
  const { rulebook } = wellFormed(document);
  const parts = new CompiledParts(writingOf(host, rulebook));
  for (const type of rulebook.recordTypes) {
    yield;
    const scope = parts.scopeOf(type, rulebook);
    const slotOf = slotsOf(type);
    for (const rule of rulebook.rules) {
      if (rule.recordType !== type.key) continue;
      yield;
      parts.ruleOf(rule, type, scope, slotOf);
    }
  }
  for (const table of rulebook.tables ?? []) yield* parts.tables.prepare(table, rulebook);
  return parts;
}

/** Keys of the record types that have not the same rules in the same order. */
function typesWithOtherRules(before: readonly Rule[], now: readonly Rule[]): ReadonlySet<string> {
  if (before === now) return new Set();
  const [old, fresh] = [byType(before), byType(now)];
  const isSame = (a: readonly Rule[] = [], b: readonly Rule[] = []): boolean =>
    a.length === b.length && a.every((rule, i) => rule === b[i]);
  return new Set([...old.keys(), ...fresh.keys()].filter((key) => !isSame(old.get(key), fresh.get(key))));
}

function byType(rules: readonly Rule[]): ReadonlyMap<string, readonly Rule[]> {
  const found = new Map<string, Rule[]>();
  for (const rule of rules) {
    const own = found.get(rule.recordType) ?? [];
    own.push(rule);
    found.set(rule.recordType, own);
  }
  return found;
}

/** Of which each was compiled before, as a rule. */
const rulesInStep = 50;

const slotsOf = (type: RecordType): ReadonlyMap<string, SlotIndex> =>
  new Map(type.fields.map((f, i) => [f.key, slotAt(i)]));

function* compileTypeInSteps(
  recordType: RecordType,
  rulebook: Rulebook,
  parts: CompiledParts,
): Generator<void, TypeProgram> {
  const scope = parts.scopeOf(recordType, rulebook);
  const slots = recordType.fields.map((field) => ({ field, type: fieldTypeOf(field) }));
  const slotOf = slotsOf(recordType);
  const own = rulebook.rules.filter((r) => r.recordType === recordType.key);
  const compiled: UnorderedRule[] = [];
  for (const rule of own) {
    compiled.push(parts.ruleOf(rule, recordType, scope, slotOf));
    if (compiled.length % rulesInStep === 0) yield;
  }
  const rules = yield* orderRulesInSteps(compiled);
  yield;
  const wokenBy: RunIndex[][] = slots.map(() => []);
  const wokenByRelated = new Map<string, RunIndex[]>();
  const usable = rules.filter((r) => r.compiles);
  for (const rule of usable) {
    for (const slot of rule.wakes) wokenBy[slot]!.push(rule.runIndex);
    for (const key of new Set(rule.related.map((r) => pathKey(r.route, r.field))))
      wokenByRelated.set(key, [...(wokenByRelated.get(key) ?? []), rule.runIndex]);
  }
  yield;
  const locked = new Map<SlotIndex, CompiledRule>();
  for (const r of usable) if (r.rule.on && r.rule.winner === 'locked') for (const slot of r.writes) locked.set(slot, r);
  return {
    recordType,
    scope,
    writing: parts.writing,
    slots,
    slotOf,
    entryPoints: new Map(entryPointsOf(recordType).map((e) => [e.key, e])),
    childLists: new Map(childListsOf(recordType.key, rulebook).map((c) => [c.name, c])),
    rules,
    wokenBy,
    wokenByRelated,
    everyWrite: usable.filter((r) => r.rule.repeat === 'every' || r.confines.length > 0),
    onNewRecord: rules.filter((r) => r.onNewRecord),
    limitsOn: limitsOf(usable),
    demanding: rules.filter((r) => r.fieldConstraints && r.rule.on),
    locked,
    admitted: admissions(rules),
    starting: {
      stored: slots.map((s) => s.type.starting),
      values: slots.map((s) => s.type.read(s.type.starting, s.field)),
      previous: slots.map((s) => s.type.read(null, s.field)),
    },
    required: recordType.fields.flatMap((f, i) => (f.required ? [slotAt(i)] : [])),
    readsPrevious: rules.some((r) => r.reads.previous.length > 0 || r.rule.repeat === 'starts' || r.fieldConstraints),
  };
}

function limitsOf(rules: readonly CompiledRule[]): TypeProgram['limitsOn'] {
  const found = new Map<SlotIndex, { rule: CompiledRule; limit: Limit }[]>();
  for (const rule of rules)
    for (const limit of (rule.rule.on && rule.fieldConstraints?.limits) || [])
      found.set(limit.field, [...(found.get(limit.field) ?? []), { rule, limit }]);
  return found;
}

/** Worked out once for each moment and entry point that comes up. */
function admissions(rules: readonly CompiledRule[]): TypeProgram['admitted'] {
  const known = new Map<Moment, Map<string, readonly boolean[]>>();
  return (moment, entryPoint) => {
    const byEntry = known.get(moment) ?? new Map<string, readonly boolean[]>();
    known.set(moment, byEntry);
    let admitted = byEntry.get(entryPoint);
    if (!admitted) {
      admitted = rules.map(
        ({ compiles, rule }) =>
          compiles && rule.on && rule.moments.includes(moment) && rule.entryPoints.includes(entryPoint),
      );
      byEntry.set(entryPoint, admitted);
    }
    return admitted;
  };
}
