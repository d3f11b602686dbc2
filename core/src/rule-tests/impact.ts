/**
 * What a draft would do to records that the live rules do not: by the same code as a save, one record at a time, in the
 * ways in which records meet a release.
 */
import type { Program } from '../compile/compiled.ts';
import type { Settlement } from '../settle/settlement.ts';
import type { Write } from '../records/write.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import type { FoundRecord, RecordSource } from '../records/record-source.ts';
import { sameStored } from '../language/field-types/field-type.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { RecordType, Stored } from '../document/document.ts';

export const impactWays = ['next save', 'as new', 'backfill'] as const;
/** `next save`: stored, saved with nothing sent. `as new`: the same values in a new record. `backfill`: all standing rules named. */
export type ImpactWay = (typeof impactWays)[number];

export interface Move {
  readonly from: string;
  readonly to: string;
  readonly records: number;
}

export interface FieldMoves {
  readonly field: string;
  readonly records: number;
  readonly moves: readonly Move[];
}

export interface ImpactFigures {
  readonly way: ImpactWay;
  readonly tried: number;
  /** Saved under both, with another value somewhere. */
  readonly changed: number;
  /** Values that are there under the live rules and blank under the draft. */
  readonly newlyBlank: number;
  /** Saved under the live rules and not under the draft, and the other way round. */
  readonly newlyStopped: number;
  readonly noLongerStopped: number;
  readonly fields: readonly FieldMoves[];
}

function writeOf(
  program: Program,
  type: string,
  { id, data }: FoundRecord,
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
    before: isNew ? null : { data, held: [] },
    sent: isNew ? data : {},
    typed: [],
    moment: isNew ? 'creating' : 'updating',
    entryPoint: way === 'backfill' ? 'backfill' : `form:${form}`,
    now,
    ...(way === 'backfill' ? { woken: own.rules.filter((r) => r.standing).map((r) => r.rule.key) } : {}),
  };
}

/** Gathers figures for one record type and way, record by record. */
export class Impact {
  private readonly recordType: RecordType;
  private readonly live: Program;
  private readonly draft: Program;
  private readonly way: ImpactWay;
  private readonly world: RecordSource;
  private readonly now: string;
  private readonly moves = new Map<string, Map<string, Move>>();
  private tried = 0;
  private changed = 0;
  private newlyBlank = 0;
  private newlyStopped = 0;
  private noLongerStopped = 0;

  /** `now`: ISO 8601 instant of the writes. */
  constructor(recordType: RecordType, live: Program, draft: Program, way: ImpactWay, world: RecordSource, now: string) {
    this.recordType = recordType;
    this.live = live;
    this.draft = draft;
    this.way = way;
    this.world = world;
    this.now = now;
  }

  private settle(program: Program, sample: FoundRecord): Settlement | undefined {
    const write = writeOf(program, this.recordType.key, sample, this.way, this.now);
    return write && settleAndPropagate(program, write, this.world, { trace: false }).settlement;
  }

  add(sample: FoundRecord): void {
    this.tried++;
    const [before, after] = [this.settle(this.live, sample), this.settle(this.draft, sample)];
    const [was, is] = [before?.verdict === 'saved', after?.verdict === 'saved'];
    if (was && !is) this.newlyStopped++;
    if (!was && is && before) this.noLongerStopped++;
    // A record that is not saved keeps what it has.
    if (!is || (before && !was)) return;
    const [from, to] = [before?.data ?? sample.data, after!.data];
    let moved = false;
    for (const field of this.recordType.fields) {
      const [a, b] = [from[field.key] ?? null, to[field.key] ?? null];
      if (sameStored(a, b)) continue;
      moved = true;
      if (b === null) this.newlyBlank++;
      const text = (v: Stored): string => fieldTypeOf(field).format(v, field) || 'blank';
      this.count(field.name, text(a), text(b));
    }
    if (moved) this.changed++;
  }

  private count(field: string, from: string, to: string): void {
    const list = this.moves.get(field) ?? new Map<string, Move>();
    this.moves.set(field, list);
    const key = `${from}\0${to}`;
    list.set(key, { from, to, records: (list.get(key)?.records ?? 0) + 1 });
  }

  figures(): ImpactFigures {
    const { way, tried, changed, newlyBlank, newlyStopped, noLongerStopped } = this;
    const fields = [...this.moves].map(([field, list]): FieldMoves => {
      const moves = [...list.values()].sort((a, b) => b.records - a.records);
      return { field, records: moves.reduce((sum, m) => sum + m.records, 0), moves };
    });
    return { way, tried, changed, newlyBlank, newlyStopped, noLongerStopped, fields };
  }
}
