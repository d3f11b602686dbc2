/**
 * One write and what it causes on other records of the same transaction: values that rules write on linked records, and
 * totals over child lists, wave by wave. Writes on child records, and records that read this one through a lookup, are
 * left to a job: they come back as dependants.
 */
import { sameStored } from '../language/field-types/field-type.ts';
import { linkedType } from '../language/field-types/index.ts';
import { nameOfField } from '../document/names.ts';
import type { RecordData } from '../document/document.ts';
import { compareText } from '../values/value.ts';
import type { Hop } from '../language/types/types.ts';
import { pathKey, type Program } from '../compile/compiled.ts';
import { updatedList } from '../settle/list-update.ts';
import { type Dependants, parentIds } from './dependants.ts';
import { settle } from '../settle/settle.ts';
import type { Message, RelatedWrite, Settlement, SettleOptions } from '../settle/settlement.ts';
import type { Write } from '../records/write.ts';
import {
  queryKey,
  emptySource,
  OverlaySource,
  untilAnswered,
  type RecordQuery,
  type FoundRecord,
  type RecordSource,
} from '../records/record-source.ts';

/** Waves after which a write is said not to settle. */
export const mostWaves = 8;

/** One settlement of a record that was settled because another one changed; a record that comes up again has another. */
export interface Follower {
  readonly recordType: string;
  readonly id: string;
  /** What this settlement began from: stored, or left by the one before. */
  readonly before: RecordData;
  readonly held: readonly string[];
  readonly settlement: Settlement;
  readonly wave: number;
}

/** What rules give one child record: one write. */
export interface ChildWrite {
  readonly recordType: string;
  readonly id: string;
  readonly values: readonly RelatedWrite[];
}

export interface Transaction {
  /** The write's own record as the waves left it. */
  readonly settlement: Settlement;
  /** Each settlement of that record, in order: the write itself, then what waves that came back made of it. */
  readonly own: readonly Settlement[];
  readonly followers: readonly Follower[];
  readonly dependants: readonly Dependants[];
  /** Writes on child records, for the same job. */
  readonly childWrites: readonly ChildWrite[];
  /** What has to be answered before all of it can settle. */
  readonly asks: readonly RecordQuery[];
}

/** What a wave brings to one record. */
interface PendingUpdate {
  readonly recordType: string;
  readonly id: string;
  readonly values: Map<string, RelatedWrite>;
  readonly paths: Set<string>;
}

export function settleAndPropagate(
  program: Program,
  write: Write,
  world: RecordSource = emptySource,
  options: SettleOptions = {},
): Transaction {
  return new Propagation(program, write, world, options).run();
}

class Propagation {
  private readonly program: Program;
  private readonly write: Write;
  private readonly stored: RecordSource;
  private readonly world: OverlaySource;
  private readonly options: SettleOptions;
  private readonly followers: Follower[] = [];
  /** The last settlement of each follower. */
  private readonly latest = new Map<string, Follower>();
  private readonly own: Settlement[] = [];
  private readonly dependants: Dependants[] = [];
  private readonly childWrites = new Map<string, PendingUpdate>();
  private readonly asks = new Map<string, RecordQuery>();
  private readonly messages: Message[] = [];
  private wave = new Map<string, PendingUpdate>();
  /** The settlement of the write itself; a wave that comes back to its record goes on from it. */
  private main: Settlement | undefined;

  constructor(program: Program, write: Write, world: RecordSource, options: SettleOptions) {
    this.program = program;
    this.write = write;
    this.stored = world;
    this.world = new OverlaySource(world, world.former ?? world);
    this.options = options;
  }

  run(): Transaction {
    const { write } = this;
    const settlement = settle(this.program, write, this.world, this.options);
    this.main = settlement;
    this.own.push(settlement);
    if (settlement.verdict !== 'saved') return this.result(settlement);
    this.follow(write.recordType, write.id ?? '', write.before?.data ?? null, settlement);
    for (let wave = 1; this.wave.size > 0; wave++) {
      if (wave > mostWaves) {
        const text = `After ${mostWaves} waves the records that this one changes still change each other.`;
        return this.result({
          ...settlement,
          verdict: 'does not settle',
          messages: [...settlement.messages, { severity: 'stop', text }],
        });
      }
      const now = this.wave;
      this.wave = new Map();
      for (const update of [...now.values()].sort(byTypeAndId)) this.settleFollower(update, wave);
      if (this.asks.size > 0) break;
    }
    const last = this.main;
    if (this.messages.length === 0) return this.result(last);
    const stopped = this.messages.some((m) => m.severity === 'stop');
    if (stopped) return this.result({ ...last, verdict: 'stopped', messages: [...last.messages, ...this.messages] });
    return this.result({ ...last, messages: [...last.messages, ...this.messages] });
  }

  private result(settlement: Settlement): Transaction {
    const asks = [...settlement.asks, ...this.asks.values()];
    return {
      settlement: asks.length > 0 ? { ...settlement, verdict: 'waiting', asks } : settlement,
      own: this.own,
      followers: this.followers,
      dependants: this.dependants,
      childWrites: [...this.childWrites.values()].map(({ recordType, id, values }) => ({
        recordType,
        id,
        values: [...values.values()],
      })),
      asks,
    };
  }

  private settleFollower({ recordType, id, values: written, paths }: PendingUpdate, wave: number): void {
    const key = recordKey(recordType, id);
    const isOwn = recordType === this.write.recordType && id === this.write.id;
    const earlier = isOwn ? undefined : this.latest.get(key);
    const data = isOwn ? this.main!.data : (earlier?.settlement.data ?? this.dataOf(recordType, id));
    if (!data) return;
    const held = isOwn ? this.main!.held : (earlier?.settlement.held ?? this.stored.held?.(recordType, id) ?? []);
    const acted = isOwn
      ? this.own
      : earlier
        ? this.followers.filter((f) => recordKey(f.recordType, f.id) === key).map((f) => f.settlement)
        : [];
    const writtenAt = isOwn ? this.write.before?.now : this.stored.writtenAt?.(recordType, id);
    const values = [...written];
    const settlement = settle(
      this.program,
      {
        recordType,
        id,
        before: { data, held, ...(writtenAt === undefined ? {} : { now: writtenAt }) },
        sent: Object.fromEntries(values.map(([field, w]) => [field, w.value])),
        writtenBy: Object.fromEntries(values.map(([field, { rule, winner }]) => [field, { rule, winner }])),
        acted: [...new Set(acted.flatMap((s) => s.acted))],
        typed: [],
        moment: 'updating',
        entryPoint: 'rule',
        now: this.write.now,
        relatedChanges: [...paths].sort(compareText),
        ...(this.write.user ? { user: this.write.user } : {}),
      },
      this.world,
      this.options,
    );
    for (const ask of settlement.asks) this.asks.set(queryKey(ask), ask);
    const { name } = this.program.types.get(recordType)!.recordType;
    // What is said of another record names it, and stands at no field of this one.
    for (const m of settlement.messages)
      this.messages.push(
        isOwn ? m : { severity: m.severity, text: `${name} ${id}: ${m.text}`, ...(m.rule ? { rule: m.rule } : {}) },
      );
    if (isOwn) {
      this.own.push(settlement);
      this.main = continued(this.main!, settlement);
    } else {
      const follower = { recordType, id, before: data, held: settlement.held, settlement, wave };
      this.followers.push(follower);
      this.latest.set(key, follower);
    }
    if (settlement.verdict === 'saved') this.follow(recordType, id, data, settlement);
  }

  private dataOf(recordType: string, id: string): RecordData | undefined {
    const ask: RecordQuery = { kind: 'record', recordType, id };
    const found = this.world.answer(ask);
    if (!found) this.asks.set(queryKey(ask), ask);
    return found?.[0]?.data;
  }

  /** What a settled record causes: values for linked records, totals over the lists that it stands in, dependants. */
  private follow(recordType: string, id: string, before: RecordData | null, settlement: Settlement): void {
    this.world.write(recordType, id, settlement.data);
    for (const w of settlement.writes) this.queueWrite(recordType, w, settlement);
    const readers = this.program.readers.get(recordType);
    if (!readers) return;
    if (before !== null && settlement.changes.length === 0) return;
    const changed = new Set(settlement.changes.map((c) => c.field));
    if (before === null) changed.add('');
    for (const { owner, reads } of readers) {
      const jobs = new Map<string, { route: readonly Hop[]; paths: Set<string> }>();
      for (const read of reads) {
        const last = read.route[read.route.length - 1]!;
        const inList = last.by === 'children';
        const moved = inList && changed.has(last.field);
        if (!changed.has(read.field) && !moved && !(before === null && inList)) continue;
        const path = pathKey(read.route, read.field);
        if (inList && read.route.length === 1) this.queueTotals(owner, last, path, before, settlement.data);
        else {
          const key = pathKey(read.route, '');
          const job = jobs.get(key) ?? { route: read.route, paths: new Set<string>() };
          jobs.set(key, job);
          job.paths.add(path);
        }
      }
      for (const { route, paths } of jobs.values())
        if (before !== null || route[route.length - 1]!.by === 'children')
          this.dependants.push({
            recordType: owner,
            route,
            changed: { recordType, id, before },
            paths: [...paths].sort(compareText),
          });
    }
  }

  /** The parents of a child, as it was and as it is, total it anew. */
  private queueTotals(owner: string, hop: Hop, path: string, before: RecordData | null, after: RecordData): void {
    for (const id of parentIds([before, after], hop)) updateOf(this.wave, { recordType: owner, id }).paths.add(path);
  }

  /** A value for the linked record, for the next wave; for a child record, for the job. Two values for one field stop. */
  private queueWrite(recordType: string, w: RelatedWrite, settlement: Settlement): void {
    const updates = isLinked(this.program, recordType, w, settlement.data) ? this.wave : this.childWrites;
    const { values } = updateOf(updates, w);
    const other = values.get(w.field);
    if (other && w.update) return void values.set(w.field, this.updated(other, w, w.update));
    if (other && !sameStored(other.value, w.value) && !this.isSameStep(other, w)) {
      const name = nameOfField(this.program.types.get(w.recordType)!.recordType.fields, w.field);
      const [one, two] = [ruleName(this.program, other.rule), ruleName(this.program, w.rule)];
      const text = one === two ? `${one} gives ${name} two values.` : `${one} and ${two} give ${name} two values.`;
      this.messages.push({ severity: 'stop', text, rule: w.rule });
    }
    values.set(w.field, w);
    this.givers.set(w, settlement);
  }

  /** Another value for a list that something is given to already: both are added, or taken out. */
  private updated(
    other: RelatedWrite,
    w: RelatedWrite,
    { way, value }: NonNullable<RelatedWrite['update']>,
  ): RelatedWrite {
    const type = this.program.types.get(w.recordType)!;
    const target = type.slots[type.slotOf.get(w.field)!]!;
    return { ...w, value: updatedList(other.value, value, way, target) };
  }

  /** A later step of the same rule on the same record has the last word. */
  private isSameStep(a: RelatedWrite, b: RelatedWrite): boolean {
    return a.rule === b.rule && this.givers.get(a)?.writes.includes(b) === true;
  }

  private readonly givers = new Map<RelatedWrite, Settlement>();
}

const recordKey = (recordType: string, id: string): string => `${recordType}\0${id}`;

/** What is to be brought to a record, as far as it is gathered. */
function updateOf(
  updates: Map<string, PendingUpdate>,
  { recordType, id }: { readonly recordType: string; readonly id: string },
): PendingUpdate {
  const key = recordKey(recordType, id);
  let update = updates.get(key);
  if (!update) updates.set(key, (update = { recordType, id, values: new Map(), paths: new Set() }));
  return update;
}

/** Types by name, ids by number where they are numbers. */
function byTypeAndId(a: PendingUpdate, b: PendingUpdate): number {
  const numbers = Number(a.id) - Number(b.id);
  return compareText(a.recordType, b.recordType) || (Number.isNaN(numbers) ? compareText(a.id, b.id) : numbers);
}

/** One settlement and what a wave made of its record afterwards: changes from the first state to the last. */
function continued(first: Settlement, next: Settlement): Settlement {
  const changes = new Map(first.changes.map((c) => [c.field, c]));
  for (const c of next.changes) changes.set(c.field, { ...c, from: changes.get(c.field)?.from ?? c.from });
  return {
    ...first,
    data: next.data,
    held: next.held,
    acted: [...new Set([...first.acted, ...next.acted])],
    changes: [...changes.values()].filter((c) => !sameStored(c.from, c.to)),
    notifications: [...first.notifications, ...next.notifications],
  };
}

const ruleName = (program: Program, key: string): string => program.rulebook.rules.find((r) => r.key === key)!.name;

/** Whether a lookup of the record names the other; otherwise that one is its child. */
function isLinked(program: Program, recordType: string, w: RelatedWrite, data: RecordData): boolean {
  return program.types
    .get(recordType)!
    .recordType.fields.some((f) => linkedType(f) === w.recordType && data[f.key] === w.id);
}

/** Answers questions until the write settles, from a reader that gets each round of them at once. */
export const settleAnswered = <T extends { readonly asks: readonly RecordQuery[] }>(
  work: () => T,
  put: (ask: RecordQuery, found: readonly FoundRecord[]) => void,
  read: (asks: readonly RecordQuery[]) => Promise<readonly (readonly FoundRecord[])[]>,
): Promise<T | undefined> =>
  untilAnswered(
    work,
    ({ asks }) => asks.length > 0,
    async ({ asks }) => {
      const answers = await read(asks);
      asks.forEach((ask, i) => put(ask, answers[i] ?? []));
    },
  );
