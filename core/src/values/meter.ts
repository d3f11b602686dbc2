/**
 * The work that one run of a formula may still do. Whatever takes time or memory by the size of values is charged here,
 * so that a formula ends by a count of its own, the same on every host. A host that others wait for may set a deadline
 * besides: it is looked at only where a lot of work was done, so that what is cheap never hangs on a clock.
 */

/** Steps of one run of a formula; a step stands for about a tenth of a microsecond. */
export const stepBudget = 1_000_000;
/** Steps of all formulas of one settlement together: many that each keep within theirs hold nobody up either. */
export const settlementBudget = 1_000_000;
/** Steps between two looks at the deadline. */
export const stepsBetweenLooks = 50_000;
/** Calls of functions that are values, inside one another. */
const deepestCalls = 200;

/** A moment by which a host wants an answer. */
export interface Deadline {
  /** How long the work was granted, in milliseconds; for the words in which it is refused. */
  readonly ms: number;
  /** Whether it has passed. */
  passed(): boolean;
}

/** What a formula ran out of. */
export type Shortage = 'steps' | 'time';

/** Raised where the steps or the time are used up; the formula then gives null and its meter says so. */
export class Exhausted extends Error {
  readonly of: Shortage;

  constructor(of: Shortage = 'steps') {
    super();
    this.of = of;
  }
}

export class Meter {
  left = stepBudget;
  /** What a formula ran out of since this was last cleared. */
  exhausted: Shortage | undefined;
  private depth = 0;
  private granted = stepBudget;
  /** The deadline is looked at where `left` goes below this. */
  private look = 0;
  private deadline: Deadline | undefined;
  private total: number;
  private readonly whole: number;

  /** `total`: steps of all formulas that this one is charged for. */
  constructor(total = Infinity) {
    this.whole = this.total = total;
  }

  /** Another settlement begins: all that its formulas have together is there again. */
  restart(deadline?: Deadline): void {
    this.total = this.whole;
    this.granted = this.left = stepBudget;
    this.exhausted = undefined;
    this.deadline = deadline;
    this.look = deadline ? this.left - stepsBetweenLooks : 0;
  }

  /** Steps of all formulas since the restart. */
  get spent(): number {
    return this.whole - this.total + this.granted - Math.max(this.left, 0);
  }

  /** A formula begins: all steps are there again, unless those before it used up what they have together. */
  reset(): void {
    const untilLook = this.left - this.look;
    this.total -= this.granted - Math.max(this.left, 0);
    this.granted = this.left = Math.max(0, Math.min(stepBudget, this.total));
    this.look = this.deadline ? Math.max(0, this.left - Math.max(0, untilLook)) : 0;
    this.depth = 0;
  }

  spend(steps: number): void {
    this.left -= steps;
    // NaN and Infinity are no budget either.
    if (!(this.left >= this.look)) this.lookUp();
  }

  private lookUp(): void {
    if (!(this.left >= 0)) throw new Exhausted();
    if (this.deadline?.passed()) throw new Exhausted('time');
    this.look = Math.max(0, this.left - stepsBetweenLooks);
  }

  enter(): void {
    if (++this.depth > deepestCalls) throw new Exhausted();
  }

  leave(): void {
    this.depth--;
  }
}
