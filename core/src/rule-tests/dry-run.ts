/**
 * What a rulebook does to records that another one, or what is stored, does not: by the same code as a save, one record
 * at a time, in the ways in which records meet a release. Nothing is written anywhere.
 */
import type { Program, TypeProgram } from '../compile/compiled.ts';
import type { RecordType } from '../document/document.ts';
import type { RecordSource } from '../records/record-source.ts';
import type { Write } from '../records/write.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import type { Settlement, SettleOptions } from '../settle/settlement.ts';
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

/** A settlement that a comparison needs. */
export interface Settling {
  readonly program: Program;
  readonly write: Write;
  readonly options: SettleOptions;
}

/** By the one rulebook and by the other; undefined where there is nothing to settle. */
export type SettledByBoth = readonly [Settlement | undefined, Settlement | undefined];

/** What two rulebooks make of records of one type in one way. */
export class Comparison {
  private readonly typeKey: string;
  private readonly before: Baseline;
  private readonly after: Program;
  private readonly way: ImpactWay;
  private readonly now: string;
  private readonly part: PartThatDiffers | undefined;

  /** `now`: ISO 8601 instant of the writes. */
  constructor(typeKey: string, before: Baseline, after: Program, way: ImpactWay, now: string) {
    this.typeKey = typeKey;
    this.before = before;
    this.after = after;
    this.way = way;
    this.now = now;
    this.part = before === 'stored' ? undefined : partThatDiffers(before, after, typeKey);
  }

  /** Asks for what has to be settled, of the same records each time. `of`: the record as the clocks of a rulebook tell it. */
  *settlements(of: (program: Program) => TriedRecord): Generator<Settling, SettledByBoth, Settlement> {
    const { before, part } = this;
    const work = { steps: 0 };
    const after = yield* this.settledBy(this.after, of(this.after), { trace: false, work });
    if (part?.rules.size === 0) return [after, after];
    if (part && after) {
      const sample = of(part.program);
      const needed = { ...sample, data: neededOf(part, sample.data) };
      const own = yield* this.settledBy(part.program, needed, { trace: false, work });
      const told = own && withPart(part, own, after, work.steps);
      if (told) return [told, after];
    }
    return [before === 'stored' ? undefined : yield* this.settledBy(before, of(before), { trace: false }), after];
  }

  private *settledBy(
    program: Program,
    sample: TriedRecord,
    options: SettleOptions,
  ): Generator<Settling, Settlement | undefined, Settlement> {
    const write = impactWrite(program, this.typeKey, sample, this.way, this.now);
    return write && (yield { program, write, options });
  }

  /** As `settlements`, where all records are at hand. */
  settle(sample: TriedRecord, world: RecordSource): SettledByBoth {
    const settlements = this.settlements(() => sample);
    let step = settlements.next();
    while (!step.done) {
      const { program, write, options } = step.value;
      step = settlements.next(settleAndPropagate(program, write, world, options).settlement);
    }
    return step.value;
  }
}

/** Gathers figures for one record type and way, record by record. */
export class Impact {
  private readonly tally: ImpactTally;
  private readonly comparison: Comparison;
  private readonly world: RecordSource;

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
    this.comparison = new Comparison(recordType.key, before, after, way, now);
    this.world = world;
  }

  add(sample: TriedRecord): void {
    this.tally.add(sample, ...this.comparison.settle(sample, this.world));
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
    return this.tally.moved(sample, field, ...this.comparison.settle(sample, this.world));
  }
}
