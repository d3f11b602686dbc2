/** One sample record, changed by hand, and what the draft's rules make of it at once. */
import {
  entryPointsOf,
  formKey,
  RecordsWorld,
  sameStored,
  settle,
  type Program,
  type RecordData,
  type RecordType,
  type Settlement,
  type Stored,
  type Write,
} from '@rigid-rule/core';
import { nowIn } from '$lib/now.ts';

export interface SampleRecord {
  readonly id: number;
  readonly data: RecordData;
}

export class Bench {
  private readonly program: () => Program;
  readonly typeKey: string;
  /** ISO 8601 instant that the try is made at. */
  private readonly clock: string;
  samples = $state.raw<readonly SampleRecord[]>([]);
  /** Place in the sample set. */
  index = $state(0);
  isNew = $state(false);
  entryPoint = $state(formKey('full'));
  /** Values changed by hand, in the order in which they were first changed; kept when the sample changes. */
  tried = $state.raw<readonly { readonly key: string; readonly value: unknown }[]>([]);

  constructor(program: () => Program, typeKey: string) {
    this.program = program;
    this.clock = nowIn(program().rulebook.zone);
    this.typeKey = typeKey;
  }

  readonly recordType: RecordType = $derived.by(() => this.program().types.get(this.typeKey)!.recordType);
  readonly sample: SampleRecord | undefined = $derived(this.samples[this.index]);
  readonly entries = $derived.by(() => entryPointsOf(this.recordType));
  readonly entry = $derived.by(() => this.entries.find((e) => e.key === this.entryPoint) ?? this.entries[0]!);

  readonly before = $derived.by<Write['before']>(() =>
    this.isNew || !this.sample ? null : { data: this.sample.data, held: [] },
  );

  readonly write: Write = $derived.by(() => ({
    recordType: this.typeKey,
    ...(this.isNew || !this.sample ? {} : { id: String(this.sample.id) }),
    before: this.before,
    sent: Object.fromEntries(this.tried.map((t) => [t.key, t.value])),
    typed: this.tried.map((t) => t.key),
    moment: this.isNew ? 'creating' : 'updating',
    entryPoint: this.entry.key,
    now: this.clock,
  }));

  /** Other records are those of the sample set; one that is not among them does not exist for the try. */
  private readonly world = $derived.by(
    () => new RecordsWorld(this.samples.map((s) => ({ recordType: this.typeKey, id: String(s.id), data: s.data }))),
  );

  readonly settlement: Settlement = $derived.by(() => settle(this.program(), this.write, this.world));

  stored(key: string): Stored {
    return this.before?.data[key] ?? null;
  }

  settled(key: string): Stored {
    return this.settlement.data[key] ?? null;
  }

  triedValue(key: string): { readonly value: unknown } | undefined {
    return this.tried.find((t) => t.key === key);
  }

  try(key: string, value: unknown): void {
    const others = this.tried.filter((t) => t.key !== key);
    const back = sameStored(value as Stored, this.stored(key));
    this.tried = back ? others : [...others, { key, value }];
  }

  step(by: 1 | -1): void {
    const n = this.samples.length;
    if (n > 0) this.index = (this.index + by + n) % n;
  }

  clear(): void {
    this.tried = [];
  }
}
