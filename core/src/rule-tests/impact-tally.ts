/** Counts what two rulebooks make of records, and knows which records stand behind each number. */
import type { Program } from '../compile/compiled.ts';
import type { Field, RecordType, Stored } from '../document/document.ts';
import { sameStored } from '../language/field-types/field-type.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { writtenOrBlank } from '../language/wording/written.ts';
import { plainWriting } from '../language/types/writing.ts';
import type { FoundRecord } from '../records/record-source.ts';
import type { Settlement } from '../settle/settlement.ts';
import { bump, sorted, type FieldMoves, type ImpactFigures, type ImpactWay } from './impact-figures.ts';
import { spreadOver, type Spread } from './spread.ts';

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

/** What is compared with: the rules of another rulebook, or what is stored as it is. */
export type Baseline = Program | 'stored';

export interface MoveOfField {
  /** Key of the field. */
  readonly field: string;
  readonly from: string;
  readonly to: string;
}

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
    const programs = before === 'stored' ? [after] : [before, after];
    const written = new Set(
      programs.flatMap((p) => {
        const type = p.types.get(recordType.key);
        return type?.rules.flatMap((r) => r.writes.map((s) => type.slots[s]!.field.key)) ?? [];
      }),
    );
    this.fields = recordType.fields.map((field): WatchedField => {
      const { chooses, choices, numeric, links } = fieldTypeOf(field);
      const watch = chooses === 'one' || choices ? 'choice' : numeric ? 'number' : undefined;
      return { field, watch: written.has(field.key) && !links ? watch : undefined };
    });
    this.ruleNames = new Map(programs.flatMap((p) => p.rulebook.rules.map((r) => [r.key, r.name] as const)));
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
      for (const n of s?.notifications ?? []) bump(this.counts.notices, this.ruleNames.get(n.rule)!, by);
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
      this.count(field, at, moveText(field, a), moveText(field, b));
    }
    for (const rule of writers) bump(this.counts.writers, this.ruleNames.get(rule)!);
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
      const { written } = fieldTypeOf(field);
      if (!list && !stays && !spread) return [];
      const moves = [...(list?.values() ?? [])]
        .map(({ from, to, at }) => ({ from, to, records: at.length }))
        .sort((a, b) => b.records - a.records);
      return [
        {
          key: field.key,
          field: field.name,
          ...(written ? { written } : {}),
          records: moves.reduce((sum, m) => sum + m.records, 0),
          moves,
          ...(stays
            ? { stays: [...stays].map(([value, records]) => ({ value: moveText(field, value), records })) }
            : {}),
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
    const by = rule === undefined ? undefined : this.ruleNames.get(rule)!;
    return {
      id,
      data,
      before: (before?.data ?? data)[field] ?? null,
      after: after?.data[field] ?? null,
      ...(by === undefined ? {} : { by }),
    };
  }
}

/** The rule that makes the difference: it gives the new value, or gave another one before to what now stays as stored. */
function writerOf(field: string, ...settlements: readonly (Settlement | undefined)[]): string | undefined {
  for (const s of settlements) {
    const author = s?.changes.find((c) => c.field === field)?.author;
    if (author?.by === 'rule') return author.rule;
  }
  return undefined;
}

/** Neutral: what is agreed to is known by it, whoever reads it. A value that is called blank is no blank. */
function moveText(field: Field, v: Stored): string {
  const text = writtenOrBlank(field, v, plainWriting);
  return text === 'blank' && v !== null ? '“blank”' : text;
}
