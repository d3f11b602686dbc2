/** What the formulas of one write run on; the reader of other records is made when one is first asked for. */
import type { Environment } from '../language/expression/runtime.ts';
import type { Host } from '../language/types/host.ts';
import { Meter, settlementBudget, type Deadline } from '../values/meter.ts';
import type { Value } from '../values/value.ts';
import type { RelatedReader } from '../records/related-reader.ts';

export class RunEnvironment implements Environment {
  readonly record: Value[];
  readonly previous: Value[];
  readonly variables: Value[] = [];
  readonly meter = new Meter(settlementBudget);
  host: Host = {};
  private reader: RelatedReader | undefined;
  private readonly makeReader: () => RelatedReader;

  constructor(record: Value[], previous: Value[], makeReader: () => RelatedReader) {
    this.record = record;
    this.previous = previous;
    this.makeReader = makeReader;
  }

  /** Another write begins. */
  reset(host: Host, deadline?: Deadline): void {
    this.host = host;
    this.reader = undefined;
    this.meter.restart(deadline);
  }

  get related(): RelatedReader {
    return (this.reader ??= this.makeReader());
  }

  /** The reader, if anything was asked of it. */
  get asked(): RelatedReader | undefined {
    return this.reader;
  }
}

/** The host of one moment: writes of a batch share it. */
let lastHost: { readonly host: Host; readonly now: string; readonly zone: string; readonly made: Host } | undefined;

export function hostAt(host: Host, now: string, zone: string): Host {
  if (lastHost?.host !== host || lastHost.now !== now || lastHost.zone !== zone)
    lastHost = { host, now, zone, made: { ...host, now, zone } };
  return lastHost.made;
}
