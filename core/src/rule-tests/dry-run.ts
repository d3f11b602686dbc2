/**
 * What a rulebook does to records that another one, or what is stored, does not: by the same code as a save, one record
 * at a time, in the ways in which records meet a release. Nothing is written anywhere.
 */
import type { Program, TypeProgram } from '../compile/compiled.ts';
import type { RecordType } from '../document/document.ts';
import type { RecordSource } from '../records/record-source.ts';
import type { Write } from '../records/write.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import type { Settlement } from '../settle/settlement.ts';
import { settle } from '../settle/settle.ts';
import { moving, type ImpactFigures, type ImpactWay } from './impact-figures.ts';
import { ImpactTally, type Baseline, type MovedRecord, type TriedRecord } from './impact-tally.ts';
import { neededOf, partThatDiffers, withPart, type PartThatDiffers } from './part-that-differs.ts';

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
    ...(way === 'backfill' ? { woken: standingRules(own) } : {}),
  };
}

const standing = new WeakMap<TypeProgram, readonly string[]>();

/** The same list for each record: what is named by it is worked out once. */
function standingRules(type: TypeProgram): readonly string[] {
  const known = standing.get(type);
  if (known) return known;
  const keys = type.rules.filter((r) => r.standing).map((r) => r.rule.key);
  standing.set(type, keys);
  return keys;
}

/** What two rulebooks make of records of one type in one way. */
export class Comparison {
  private readonly typeKey: string;
  private readonly before: Baseline;
  private readonly after: Program;
  private readonly way: ImpactWay;
  private readonly world: RecordSource;
  private readonly now: string;
  private readonly part: PartThatDiffers | undefined;

  /** `now`: ISO 8601 instant of the writes. */
  constructor(typeKey: string, before: Baseline, after: Program, way: ImpactWay, world: RecordSource, now: string) {
    this.typeKey = typeKey;
    this.before = before;
    this.after = after;
    this.way = way;
    this.world = world;
    this.now = now;
    this.part = before === 'stored' ? undefined : partThatDiffers(before, after, typeKey);
  }

  /** By the one and by the other; undefined where there is nothing to settle. */
  settle(sample: TriedRecord): readonly [Settlement | undefined, Settlement | undefined] {
    const work = { steps: 0 };
    const after = this.settleBy(this.after, sample, work);
    return [(after && this.byPart(sample, after, work)) ?? this.settleBy(this.before, sample), after];
  }

  private settleBy(program: Baseline, sample: TriedRecord, work?: { steps: number }): Settlement | undefined {
    if (program === 'stored') return undefined;
    const write = this.writeBy(program, sample);
    const options = { trace: false, ...(work ? { work } : {}) };
    return write && settleAndPropagate(program, write, this.world, options).settlement;
  }

  /** What the rulebook before makes of a record, told from what the other makes of it where only a part can differ. */
  private byPart(sample: TriedRecord, after: Settlement, work: { steps: number }): Settlement | undefined {
    const { part } = this;
    const write = part && this.writeBy(part.program, { ...sample, data: neededOf(part, sample.data) });
    return write && withPart(part, settle(part.program, write, this.world, { trace: false, work }), after, work.steps);
  }

  private writeBy(program: Program, sample: TriedRecord): Write | undefined {
    return impactWrite(program, this.typeKey, sample, this.way, this.now);
  }
}

/** Gathers figures for one record type and way, record by record. */
export class Impact {
  private readonly tally: ImpactTally;
  private readonly comparison: Comparison;

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
    this.comparison = new Comparison(recordType.key, before, after, way, world, now);
  }

  add(sample: TriedRecord): void {
    this.tally.add(sample, ...this.comparison.settle(sample));
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
    return this.tally.moved(sample, field, ...this.comparison.settle(sample));
  }
}
