/**
 * What can come out otherwise by one rulebook than by another, where they differ in rules and tables only: the rules that
 * differ, those that share a field with them, and all that follow from these. Everything else gives the same by both, and
 * need be worked out once. The argument: no rule of the rest reads, or has to do with, a field that one of these touches,
 * so that whatever comes before the rest, in the order in which rules run, is of the rest as well.
 */
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { recompileProgram } from '../compile/program.ts';
import { sameJson } from '../document/canonical.ts';
import type { RecordData, Rulebook, Stored } from '../document/document.ts';
import { slotAt, type SlotIndex } from '../document/slots.ts';
import type { RelatedRead } from '../language/expression/checked.ts';
import { sameStored } from '../language/field-types/field-type.ts';
import type { Message, Settlement } from '../settle/settlement.ts';
import { settlementBudget } from '../values/meter.ts';

export interface PartThatDiffers {
  /** The first rulebook, with no more rules than what may differ follows from. */
  readonly program: Program;
  /** Keys of the fields that these rules have to do with: of a record they need no more. */
  readonly needs: readonly string[];
  /** Keys of the fields whose values, states and messages may be otherwise, and of the rules that may act otherwise. */
  readonly fields: ReadonlySet<string>;
  readonly rules: ReadonlySet<string>;
  /** A save has others settled in the same transaction, which happens only where it is saved. */
  readonly movesOthers: boolean;
}

/** Parts of a rulebook that say nothing of what a write does. */
const beside: ReadonlySet<string> = new Set<keyof Rulebook>([
  'name',
  'rules',
  'tables',
  'samples',
  'tests',
  'claims',
  'refused',
  'accepted',
]);

/** Share of the rules from which on working them out apart saves little. */
const worthwhile = 0.5;

/** What is known of two rulebooks: heaps of records are compared by them one after the other. */
class Differences {
  private readonly before: Program;
  private readonly after: Program;
  /** Keys of the rules that differ; undefined where more than rules and tables does. */
  private readonly rules: ReadonlySet<string> | undefined;
  private readonly parts = new Map<string, PartThatDiffers | undefined>();

  constructor(before: Program, after: Program) {
    this.before = before;
    this.after = after;
    const comparable = before.problems.length + after.problems.length === 0;
    const same = comparable && sameBeside(before.rulebook, after.rulebook);
    this.rules = same ? differingRules(before, after) : undefined;
  }

  partOf(typeKey: string): PartThatDiffers | undefined {
    if (!this.parts.has(typeKey)) this.parts.set(typeKey, this.workOut(typeKey));
    return this.parts.get(typeKey);
  }

  private workOut(typeKey: string): PartThatDiffers | undefined {
    const { before, after, rules: differing } = this;
    const [a, b] = [before.types.get(typeKey), after.types.get(typeKey)];
    if (!a || !b || !differing) return undefined;
    const { rules, slots } = downstream(a, [...a.rules, ...b.rules], differing);
    const fields = new Set([...slots].map((s) => a.slots[s]!.field.key));
    const moved = movedTypes([before, after], typeKey, fields, differing);
    if (!moved) return undefined;
    const { kept, needed } = upstream(a, rules);
    if (kept.size > worthwhile * a.rules.length) return undefined;
    const own = { ...before.rulebook, rules: a.rules.flatMap((r) => (kept.has(r.rule.key) ? [r.rule] : [])) };
    return {
      program: recompileProgram(before, own),
      needs: [...new Set([...needed, ...slots])].map((s) => a.slots[s]!.field.key),
      fields,
      rules,
      movesOthers: moved.size > 0,
    };
  }
}

/** By the second program, then by the first: kept for as long as both are. */
const compared = new WeakMap<Program, WeakMap<Program, Differences>>();

/**
 * What may come out otherwise for records of a type; undefined where that cannot be told from the rules alone, or is most
 * of them. The hosts of both answer alike what both ask.
 */
export function partThatDiffers(before: Program, after: Program, typeKey: string): PartThatDiffers | undefined {
  const others = compared.get(after) ?? new WeakMap<Program, Differences>();
  compared.set(after, others);
  const differences = others.get(before) ?? new Differences(before, after);
  others.set(before, differences);
  return differences.partOf(typeKey);
}

/** The same in everything that writes go by, but rules and tables. */
function sameBeside(a: Rulebook, b: Rulebook): boolean {
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]) as ReadonlySet<keyof Rulebook>;
  return [...keys].every((key) => beside.has(key) || sameJson(a[key], b[key]));
}

/** Keys of the rules that are not the same in both, or ask a table that is not. */
function differingRules(before: Program, after: Program): ReadonlySet<string> {
  const tables = new Set([...(before.rulebook.tables ?? []), ...(after.rulebook.tables ?? [])].map((t) => t.key));
  const otherTables = new Set([...tables].filter((t) => !sameJson(tableOf(before, t), tableOf(after, t))));
  const old = new Map(before.rulebook.rules.map((r) => [r.key, r]));
  const found = new Set(old.keys());
  for (const rule of after.rulebook.rules) {
    if (sameJson(old.get(rule.key), rule)) found.delete(rule.key);
    else found.add(rule.key);
  }
  for (const type of [...before.types.values(), ...after.types.values()])
    for (const r of type.rules) if ([...r.tables].some((t) => otherTables.has(t))) found.add(r.rule.key);
  return found;
}

const tableOf = (p: Program, key: string): unknown => p.rulebook.tables?.find((t) => t.key === key);

/** Slots of its own record that a rule gives values, states or messages. */
function touched(r: CompiledRule): readonly SlotIndex[] {
  const { hidden = [], required = [], locked = [], limits = [], constraints = [] } = r.fieldConstraints ?? {};
  const said = [...limits, ...constraints].flatMap(({ field }) => field ?? []);
  return [...r.writes, ...r.confines, ...hidden, ...required, ...locked, ...said];
}

/** Slots of its own record that what a rule does hangs on; `all` where its own record may be among those it looks up. */
function hangsOn(r: CompiledRule, type: TypeProgram): readonly SlotIndex[] | 'all' {
  const key = type.recordType.key;
  const related = [...r.related, ...r.told.related];
  if (related.some(({ route }) => route.some((hop) => hop.to === key)) || r.structure.match?.recordType === key)
    return 'all';
  return [...r.reads.present, ...r.reads.previous, ...r.wakes, ...r.told.present];
}

/** The rules of a type that may act otherwise, by key, and the slots that may then be otherwise. */
function downstream(
  type: TypeProgram,
  compiled: readonly CompiledRule[],
  differing: ReadonlySet<string>,
): { readonly rules: ReadonlySet<string>; readonly slots: ReadonlySet<SlotIndex> } {
  const [rules, slots] = [new Set<string>(), new Set<SlotIndex>()];
  const meets = (r: CompiledRule): boolean => {
    const on = hangsOn(r, type);
    return (on === 'all' ? slots.size > 0 : on.some((s) => slots.has(s))) || touched(r).some((s) => slots.has(s));
  };
  for (let known = -1; known !== rules.size + slots.size;) {
    known = rules.size + slots.size;
    for (const r of compiled) {
      if (!differing.has(r.rule.key) && !rules.has(r.rule.key) && !meets(r)) continue;
      rules.add(r.rule.key);
      for (const slot of touched(r)) slots.add(slot);
    }
  }
  return { rules, slots };
}

/** Keys of some rules and of all that they follow from, and the slots that they have to do with. */
function upstream(
  type: TypeProgram,
  keys: ReadonlySet<string>,
): { readonly kept: ReadonlySet<string>; readonly needed: ReadonlySet<SlotIndex> } {
  const [kept, needed] = [new Set(keys), new Set<SlotIndex>()];
  const every = type.slots.map((_, i) => slotAt(i));
  for (let known = -1; known !== kept.size + needed.size;) {
    known = kept.size + needed.size;
    for (const r of type.rules) {
      if (!kept.has(r.rule.key) && !touched(r).some((s) => needed.has(s))) continue;
      kept.add(r.rule.key);
      const on = hangsOn(r, type);
      for (const slot of [...(on === 'all' ? every : on), ...touched(r)]) needed.add(slot);
    }
  }
  return { kept, needed };
}

/**
 * The types whose records a write of this type has settled in the same transaction, where that is the same by both;
 * undefined where it may not be: rules of theirs differ, they hang on what does, or rules write on other records.
 */
function movedTypes(
  programs: readonly Program[],
  typeKey: string,
  fields: ReadonlySet<string>,
  differing: ReadonlySet<string>,
): ReadonlySet<string> | undefined {
  const reached = new Set([typeKey]);
  for (const key of reached)
    for (const program of programs) {
      const type = program.types.get(key);
      if (type?.rules.some((r) => r.structure.sends)) return undefined;
      for (const { owner, reads } of program.readers.get(key) ?? [])
        if (reads.some(isTotal)) {
          if (owner === typeKey) return undefined;
          reached.add(owner);
        }
    }
  reached.delete(typeKey);
  const hangs = ({ route, field }: RelatedRead): boolean => fields.has(field) || route.some((h) => fields.has(h.field));
  for (const key of reached)
    for (const program of programs)
      for (const r of program.types.get(key)?.rules ?? [])
        if (differing.has(r.rule.key) || r.structure.match || [...r.related, ...r.told.related].some(hangs))
          return undefined;
  return reached;
}

const isTotal = ({ route }: RelatedRead): boolean => route.length === 1 && route[0]!.by === 'children';

/** Of a record what a part needs. */
export function neededOf(part: PartThatDiffers, data: RecordData): RecordData {
  const needed: Record<string, Stored> = {};
  for (const key of part.needs) if (data[key] !== undefined) needed[key] = data[key];
  return needed;
}

/** What was settled by the second rulebook, with the part settled by the first in its place: what the first makes of all. */
export function withPart(
  part: PartThatDiffers,
  own: Settlement,
  rest: Settlement,
  steps: number,
): Settlement | undefined {
  if (!isPlain(own) || !isPlain(rest) || steps > settlementBudget) return undefined;
  if (part.movesOthers && rest.verdict !== 'saved') return undefined;
  const messages = put(part, own.messages, rest.messages);
  const notifications = put(part, own.notifications, rest.notifications);
  const data = overlaid(part.fields, own.data, rest.data, same);
  const states = overlaid(part.fields, own.states, rest.states, sameJson);
  if (
    messages === rest.messages &&
    notifications === rest.notifications &&
    data === rest.data &&
    states === rest.states
  )
    return rest;
  const changes = rest.changes.filter((c) => !part.fields.has(c.field));
  for (const c of own.changes) if (part.fields.has(c.field)) changes.push(c);
  return {
    ...rest,
    verdict: messages.some(stops) ? 'stopped' : 'saved',
    data,
    states,
    messages,
    notifications,
    changes,
  };
}

interface Said {
  readonly rule?: string;
  readonly field?: string;
}

const isOf = (part: PartThatDiffers, { rule, field }: Said): boolean =>
  (rule !== undefined && part.rules.has(rule)) || (field !== undefined && part.fields.has(field));

/** What the rest says, with what is said of the part by its own; `rest` itself where that is the same. */
function put<T extends Said>(part: PartThatDiffers, own: readonly T[], rest: readonly T[]): readonly T[] {
  if (own.length + rest.length === 0) return rest;
  const [mine, theirs] = [own, rest].map((said) => said.filter((m) => isOf(part, m)));
  return sameJson(mine, theirs) ? rest : [...rest.filter((m) => !isOf(part, m)), ...mine!];
}

const stops = (m: Message): boolean => m.severity === 'stop';
const same = (a: Stored | undefined, b: Stored | undefined): boolean => a === b || sameStored(a ?? null, b ?? null);
/** It came to an end that rules brought about one by one. */
const isPlain = ({ verdict }: Settlement): boolean => verdict === 'saved' || verdict === 'stopped';

/** The members of `rest`, those named as `own` has them; `rest` itself where that is the same. */
function overlaid<T>(
  names: ReadonlySet<string>,
  own: Readonly<Record<string, T>>,
  rest: Readonly<Record<string, T>>,
  isSame: (a: T | undefined, b: T | undefined) => boolean,
): Readonly<Record<string, T>> {
  let made: Record<string, T> | undefined;
  for (const name of names) {
    const value = own[name];
    if (isSame(value, rest[name])) continue;
    made ??= { ...rest };
    if (value === undefined) Reflect.deleteProperty(made, name);
    else made[name] = value;
  }
  return made ?? rest;
}
