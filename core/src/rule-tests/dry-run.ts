/**
 * What a rulebook does to records that another one, or what is stored, does not: by the same code as a save, one record
 * at a time, in the ways in which records meet a release. Nothing is written anywhere.
 */
import type { Program } from '../compile/compiled.ts';
import type { Settlement } from '../settle/settlement.ts';
import type { Write } from '../records/write.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import type { FoundRecord, RecordSource } from '../records/record-source.ts';
import { sameStored } from '../language/field-types/field-type.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Field, RecordType, Stored } from '../document/document.ts';
import { spreadOver, sumOfSpreads, type Spread } from './spread.ts';

export const impactWays = ['next save', 'as new', 'backfill'] as const;
/** `next save`: stored, saved with nothing sent. `as new`: the same values in a new record. `backfill`: all standing rules named. */
export type ImpactWay = (typeof impactWays)[number];

export interface Move {
  /** Values as people read them; `blank` where there is none. */
  readonly from: string;
  readonly to: string;
  readonly records: number;
}

export interface FieldMoves {
  /** Key of the field. */
  readonly key: string;
  /** Its name. */
  readonly field: string;
  readonly records: number;
  /** The most first. */
  readonly moves: readonly Move[];
  /** Of a field with options or yes and no: records whose value stays, by value. */
  readonly stays?: readonly { readonly value: string; readonly records: number }[];
  /** Of a number: how its values were spread and are, over equal steps. */
  readonly spread?: Spread;
}

export interface Counted {
  readonly text: string;
  readonly records: number;
}

export interface ImpactFigures {
  readonly way: ImpactWay;
  readonly tried: number;
  /** Saved under both, with another value somewhere. */
  readonly changed: number;
  /** Values that are there before and blank after. */
  readonly newlyBlank: number;
  /** Saved before and not after, and the other way round. */
  readonly newlyStopped: number;
  readonly noLongerStopped: number;
  /** Does not settle, or fails, only after. */
  readonly failing: number;
  readonly fields: readonly FieldMoves[];
  /** What is said to those newly stopped. */
  readonly messages: readonly Counted[];
  /** What is newly so on the form: `Credit limit now required`. */
  readonly onForm: readonly Counted[];
  /** Notices that would go out more or fewer, by the name of their rule; fewer are negative. */
  readonly notices: readonly Counted[];
  /** Records that a rule writes otherwise, by its name. */
  readonly writers: readonly Counted[];
}

/** A record behind a number. */
export interface MovedRecord {
  readonly id: string;
  readonly data: FoundRecord['data'];
  readonly before: Stored;
  readonly after: Stored;
  /** Name of the rule that gives the new value, where one does. */
  readonly by?: string;
}

/** A record that is tried. */
export interface TriedRecord extends FoundRecord {
  /** Fields that a person holds. */
  readonly held?: readonly string[];
  /** ISO 8601 instant of its last write, where rules may ask what then was. */
  readonly writtenAt?: string;
}

/** The write by which a record meets a release; undefined where the program has no such record type, or no form of it. */
export function impactWrite(
  program: Program,
  type: string,
  { id, data, held = [], writtenAt }: TriedRecord,
  way: ImpactWay,
  now: string,
): Write | undefined {
  const own = program.types.get(type);
  const form = own?.recordType.forms[0]?.key;
  if (!own || form === undefined) return undefined;
  const isNew = way === 'as new';
  return {
    recordType: type,
    ...(isNew ? {} : { id }),
    before: isNew ? null : { data, held, ...(writtenAt === undefined ? {} : { now: writtenAt }) },
    sent: isNew ? data : {},
    typed: [],
    moment: isNew ? 'creating' : 'updating',
    entryPoint: way === 'backfill' ? 'backfill' : `form:${form}`,
    now,
    ...(way === 'backfill' ? { woken: own.rules.filter((r) => r.standing).map((r) => r.rule.key) } : {}),
  };
}

/** What is compared with: the rules of another rulebook, or what is stored as it is. */
export type Baseline = Program | 'stored';

const stateWords = { required: 'now required', locked: 'now locked', hidden: 'now hidden' } as const;

interface WatchedField {
  readonly field: Field;
  /** How its values are counted where rules write it. */
  readonly watch: 'choice' | 'number' | undefined;
}

/** Counts, for one record type and way, what two rulebooks make of records: whoever settles them adds them one by one. */
export class ImpactTally {
  private readonly recordType: RecordType;
  private readonly before: Baseline;
  private readonly way: ImpactWay;
  /** By field and move the numbers of the records, as they were added. */
  private readonly moves = new Map<string, Map<string, { from: string; to: string; at: number[] }>>();
  /** By field how many keep a value, as it is stored. */
  private readonly stays = new Map<string, Map<Stored, number>>();
  private readonly numbers = new Map<string, { before: number[]; after: number[] }>();
  private readonly counts = {
    messages: new Map<string, number>(),
    onForm: new Map<string, number>(),
    notices: new Map<string, number>(),
    writers: new Map<string, number>(),
  };
  /** Numbers of the records that are newly stopped, or fail, with their messages. */
  private readonly stopped: { readonly at: number; readonly text: string }[] = [];
  private tried = 0;
  private readonly fields: readonly WatchedField[];
  private readonly ruleNames: ReadonlyMap<string, string>;
  private changed = 0;
  private newlyBlank = 0;
  private newlyStopped = 0;
  private noLongerStopped = 0;
  private failing = 0;

  constructor(recordType: RecordType, before: Baseline, after: Program, way: ImpactWay) {
    this.recordType = recordType;
    this.before = before;
    this.way = way;
    const written = new Set(
      [before === 'stored' ? undefined : before, after].flatMap((p) => {
        const type = p?.types.get(recordType.key);
        return type?.rules.flatMap((r) => r.writes.map((s) => type.slots[s]!.field.key)) ?? [];
      }),
    );
    this.fields = recordType.fields.map((field): WatchedField => {
      const { chooses, choices, numeric, links } = fieldTypeOf(field);
      const watch = chooses === 'one' || choices ? 'choice' : numeric ? 'number' : undefined;
      return { field, watch: written.has(field.key) && !links ? watch : undefined };
    });
    this.ruleNames = new Map(after.rulebook.rules.map((r) => [r.key, r.name]));
  }

  /** What the two make of a record; `before` undefined: it is compared with what is stored. */
  add(sample: TriedRecord, before: Settlement | undefined, after: Settlement | undefined): void {
    const at = this.tried++;
    const [was, is] = [before === undefined || before.verdict === 'saved', after?.verdict === 'saved'];
    this.compareForms(before, after);
    if (was && !is) this.stop(at, after);
    if (!was && is) this.noLongerStopped++;
    // A record that is not saved keeps what it has.
    if (is && was) this.compare(at, sample, before, after!);
  }

  private stop(at: number, after: Settlement | undefined): void {
    if (after?.verdict === 'does not settle' || after?.verdict === 'failed') this.failing++;
    else this.newlyStopped++;
    const texts = after?.messages.filter((m) => m.severity === 'stop').map((m) => m.text) ?? [];
    for (const text of texts.length > 0 ? texts : ['It does not settle.']) {
      this.stopped.push({ at, text });
      bump(this.counts.messages, text);
    }
  }

  private compareForms(before: Settlement | undefined, after: Settlement | undefined): void {
    if (!after || this.before === 'stored') return;
    for (const key in after.states) {
      const state = after.states[key]!;
      for (const what of ['required', 'locked', 'hidden'] as const)
        if (state[what] !== undefined && before?.states[key]?.[what] === undefined) {
          const field = this.recordType.fields.find((f) => f.key === key);
          bump(this.counts.onForm, `${field?.name ?? key} ${stateWords[what]}`);
        }
    }
    if (after.notifications.length === 0 && (before?.notifications.length ?? 0) === 0) return;
    const told = (s: Settlement | undefined, by: number): void => {
      for (const n of s?.notifications ?? []) bump(this.counts.notices, this.ruleNames.get(n.rule) ?? n.rule, by);
    };
    told(after, 1);
    told(before, -1);
  }

  private compare(at: number, sample: FoundRecord, before: Settlement | undefined, after: Settlement): void {
    const [from, to] = [before?.data ?? sample.data, after.data];
    let moved = false;
    const writers = new Set<string>();
    for (const { field, watch } of this.fields) {
      const a = from[field.key] ?? null;
      const b = to[field.key] ?? null;
      const same = a === b || sameStored(a, b);
      if (same && a === null) continue;
      if (watch !== undefined) this.watch(field, watch, a, b, same);
      if (same) continue;
      moved = true;
      if (b === null) this.newlyBlank++;
      const rule = writerOf(field.key, after, before);
      if (rule !== undefined) writers.add(rule);
      this.count(field, at, text(field, a), text(field, b));
    }
    for (const rule of writers) bump(this.counts.writers, this.ruleNames.get(rule) ?? rule);
    if (moved) this.changed++;
  }

  private watch(field: Field, as: 'choice' | 'number', a: Stored, b: Stored, same: boolean): void {
    if (as === 'choice') {
      if (!same) return;
      const own = this.stays.get(field.key) ?? new Map<Stored, number>();
      this.stays.set(field.key, own);
      own.set(a, (own.get(a) ?? 0) + 1);
    } else {
      const own = this.numbers.get(field.key) ?? { before: [], after: [] };
      this.numbers.set(field.key, own);
      if (typeof a === 'number') own.before.push(a);
      if (typeof b === 'number') own.after.push(b);
    }
  }

  private count(field: Field, at: number, from: string, to: string): void {
    const list = this.moves.get(field.key) ?? new Map<string, { from: string; to: string; at: number[] }>();
    this.moves.set(field.key, list);
    const key = `${from}\0${to}`;
    const move = list.get(key) ?? { from, to, at: [] };
    list.set(key, move);
    move.at.push(at);
  }

  /** All that was counted: fields that rules write are there whether they change or not, for heaps to be put together. */
  figures(): ImpactFigures {
    const { way, changed, newlyBlank, newlyStopped, noLongerStopped, failing, counts } = this;
    const fields = this.fields.flatMap(({ field }): FieldMoves[] => {
      const list = this.moves.get(field.key);
      const stays = this.stays.get(field.key);
      const spread = this.spreadOf(field.key);
      if (!list && !stays && !spread) return [];
      const moves = [...(list?.values() ?? [])]
        .map(({ from, to, at }) => ({ from, to, records: at.length }))
        .sort((a, b) => b.records - a.records);
      return [
        {
          key: field.key,
          field: field.name,
          records: moves.reduce((sum, m) => sum + m.records, 0),
          moves,
          ...(stays ? { stays: [...stays].map(([value, records]) => ({ value: text(field, value), records })) } : {}),
          ...(spread ? { spread } : {}),
        },
      ];
    });
    return {
      way,
      tried: this.tried,
      changed,
      newlyBlank,
      newlyStopped,
      noLongerStopped,
      failing,
      fields: fields.sort((a, b) => b.records - a.records),
      messages: sorted(counts.messages),
      onForm: sorted(counts.onForm),
      notices: sorted(counts.notices).filter((n) => n.records !== 0),
      writers: sorted(counts.writers),
    };
  }

  private spreadOf(key: string): Spread | undefined {
    const own = this.numbers.get(key);
    return own && spreadOver(own.before, own.after);
  }

  /** The records of a move. Numbers count as they were added, from 0. */
  movedRecords(field: string, from: string, to: string): readonly number[] {
    return this.moves.get(field)?.get(`${from}\0${to}`)?.at ?? [];
  }

  /** The records to which a message is newly said. */
  stoppedRecords(message: string): readonly number[] {
    return this.stopped.filter((s) => s.text === message).map((s) => s.at);
  }

  /** All that is behind the numbers: each record of each move, and each that is newly stopped. */
  *behind(): Generator<{ readonly at: number } & (MoveOfField | { readonly message: string })> {
    for (const [field, list] of this.moves)
      for (const { from, to, at: all } of list.values()) for (const at of all) yield { at, field, from, to };
    for (const { at, text: message } of this.stopped) yield { at, message };
  }

  /** A record with what becomes of one of its fields, from what the two make of it. */
  moved(
    { id, data }: TriedRecord,
    field: string,
    before: Settlement | undefined,
    after: Settlement | undefined,
  ): MovedRecord {
    const rule = writerOf(field, after, before);
    const by = rule === undefined ? undefined : (this.ruleNames.get(rule) ?? rule);
    return {
      id,
      data,
      before: (before?.data ?? data)[field] ?? null,
      after: after?.data[field] ?? null,
      ...(by === undefined ? {} : { by }),
    };
  }
}

export interface MoveOfField {
  /** Key of the field. */
  readonly field: string;
  readonly from: string;
  readonly to: string;
}

/** Gathers figures for one record type and way, record by record. */
export class Impact {
  private readonly tally: ImpactTally;
  private readonly typeKey: string;
  private readonly before: Baseline;
  private readonly after: Program;
  private readonly way: ImpactWay;
  private readonly world: RecordSource;
  private readonly now: string;

  /** `now`: ISO 8601 instant of the writes. */
  constructor(
    recordType: RecordType,
    before: Baseline,
    after: Program,
    way: ImpactWay,
    world: RecordSource,
    now: string,
  ) {
    this.tally = new ImpactTally(recordType, before, after, way);
    this.typeKey = recordType.key;
    this.before = before;
    this.after = after;
    this.way = way;
    this.world = world;
    this.now = now;
  }

  private settle(program: Baseline, sample: TriedRecord): Settlement | undefined {
    if (program === 'stored') return undefined;
    const write = impactWrite(program, this.typeKey, sample, this.way, this.now);
    return write && settleAndPropagate(program, write, this.world, { trace: false }).settlement;
  }

  add(sample: TriedRecord): void {
    this.tally.add(sample, this.settle(this.before, sample), this.settle(this.after, sample));
  }

  figures(): ImpactFigures {
    return moving(this.tally.figures());
  }

  /** Figures of a heap, to be put together with those of others by `sumOfFigures`. */
  share(): ImpactFigures {
    return this.tally.figures();
  }

  movedRecords(field: string, from: string, to: string): readonly number[] {
    return this.tally.movedRecords(field, from, to);
  }

  stoppedRecords(message: string): readonly number[] {
    return this.tally.stoppedRecords(message);
  }

  /** A record with what becomes of one of its fields, settled once more. */
  look(sample: TriedRecord, field: string): MovedRecord {
    return this.tally.moved(sample, field, this.settle(this.before, sample), this.settle(this.after, sample));
  }
}

/** Only the fields that change. */
export const moving = (figures: ImpactFigures): ImpactFigures => ({
  ...figures,
  fields: figures.fields.filter((f) => f.records > 0),
});

/** The rule that makes the difference: it gives the new value, or gave another one before to what now stays as stored. */
function writerOf(field: string, ...settlements: readonly (Settlement | undefined)[]): string | undefined {
  for (const s of settlements) {
    const author = s?.changes.find((c) => c.field === field)?.author;
    if (author?.by === 'rule') return author.rule;
  }
  return undefined;
}

const text = (field: Field, v: Stored): string => fieldTypeOf(field).format(v, field) || 'blank';

const bump = (counts: Map<string, number>, key: string, by = 1): void => {
  counts.set(key, (counts.get(key) ?? 0) + by);
};

const sorted = (counts: ReadonlyMap<string, number>): readonly Counted[] =>
  [...counts].map(([t, records]) => ({ text: t, records })).sort((a, b) => b.records - a.records);

/** Figures of the same records in several heaps, put together. */
export function sumOfFigures(heaps: readonly ImpactFigures[]): ImpactFigures {
  const [first] = heaps;
  if (!first || heaps.length === 1) return first ?? emptyFigures;
  const sum = (of: (f: ImpactFigures) => number): number => heaps.reduce((n, f) => n + of(f), 0);
  const counts = (of: (f: ImpactFigures) => readonly Counted[]): readonly Counted[] => {
    const found = new Map<string, number>();
    for (const f of heaps) for (const c of of(f)) bump(found, c.text, c.records);
    return sorted(found).filter((c) => c.records !== 0);
  };
  const fields = new Map<string, FieldMoves[]>();
  for (const f of heaps.flatMap((h) => h.fields)) fields.set(f.key, [...(fields.get(f.key) ?? []), f]);
  return {
    way: first.way,
    tried: sum((f) => f.tried),
    changed: sum((f) => f.changed),
    newlyBlank: sum((f) => f.newlyBlank),
    newlyStopped: sum((f) => f.newlyStopped),
    noLongerStopped: sum((f) => f.noLongerStopped),
    failing: sum((f) => f.failing),
    fields: [...fields.values()].map(sumOfMoves).sort((a, b) => b.records - a.records),
    messages: counts((f) => f.messages),
    onForm: counts((f) => f.onForm),
    notices: counts((f) => f.notices),
    writers: counts((f) => f.writers),
  };
}

const emptyFigures: ImpactFigures = {
  way: 'next save',
  tried: 0,
  changed: 0,
  newlyBlank: 0,
  newlyStopped: 0,
  noLongerStopped: 0,
  failing: 0,
  fields: [],
  messages: [],
  onForm: [],
  notices: [],
  writers: [],
};

function sumOfMoves(list: readonly FieldMoves[]): FieldMoves {
  const [first] = list as readonly [FieldMoves, ...FieldMoves[]];
  const moves = new Map<string, { from: string; to: string; records: number }>();
  const stays = new Map<string, number>();
  for (const f of list) {
    for (const m of f.moves) {
      const key = `${m.from}\0${m.to}`;
      const known = moves.get(key) ?? { from: m.from, to: m.to, records: 0 };
      moves.set(key, { ...known, records: known.records + m.records });
    }
    for (const s of f.stays ?? []) bump(stays, s.value, s.records);
  }
  const spreads = list.flatMap((f) => f.spread ?? []);
  return {
    key: first.key,
    field: first.field,
    records: list.reduce((n, f) => n + f.records, 0),
    moves: [...moves.values()].sort((a, b) => b.records - a.records),
    ...(stays.size > 0 ? { stays: [...stays].map(([value, records]) => ({ value, records })) } : {}),
    ...(spreads.length > 0 ? { spread: sumOfSpreads(spreads) } : {}),
  };
}
