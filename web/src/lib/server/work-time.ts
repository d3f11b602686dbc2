/**
 * The time that the rules of one write have on the event loop, where everybody else waits meanwhile. What the write
 * itself waits for, the database say, does not count.
 */
import type { Deadline } from '@rigid-rule/core/values';

const usual = 50;

/** In milliseconds; `WRITE_TIME` sets another one. @throws {RangeError} where that is no time. */
function timeOfAWrite(): number {
  const set = process.env['WRITE_TIME'];
  if (set === undefined || set === '') return usual;
  const ms = Number(set);
  if (!(ms >= 1 && ms <= 60_000)) throw new RangeError(`WRITE_TIME is from 1 to 60000, not ${set}.`);
  return ms;
}

export class WorkTime implements Deadline {
  readonly ms: number;
  private used = 0;
  private since = 0;
  private readonly clock: () => number;

  constructor(ms = timeOfAWrite(), clock = () => performance.now()) {
    this.ms = ms;
    this.clock = clock;
  }

  /** Does some of the work; its time counts. */
  during<T>(work: () => T): T {
    this.since = this.clock();
    try {
      return work();
    } finally {
      this.used += this.clock() - this.since;
    }
  }

  /** Asked from within the work. */
  passed(): boolean {
    return this.used + this.clock() - this.since > this.ms;
  }
}
