/**
 * The work that one run of a formula may still do. Whatever takes time or memory by the size of values is charged here,
 * so that a formula ends by a count of its own, the same on every host, and never by a clock.
 */

/** Steps of one run of a formula; a step stands for about a tenth of a microsecond. */
export const stepBudget = 1_000_000;
/** Steps of all formulas of one settlement together: many that each keep within theirs hold nobody up either. */
export const settlementBudget = 1_000_000;
/** Calls of functions that are values, inside one another. */
const deepestCalls = 200;

/** Raised where the steps are used up; the formula then gives null and its meter says so. */
export class Exhausted extends Error {}

export class Meter {
  left = stepBudget;
  /** A formula ran out of steps since this was last set to false. */
  exhausted = false;
  private depth = 0;
  private given = stepBudget;
  private total: number;

  /** `total`: steps of all formulas that this one is charged for. */
  constructor(total = Infinity) {
    this.total = total;
  }

  /** A formula begins: all steps are there again, unless those before it used up what they have together. */
  begin(): void {
    this.total -= this.given - Math.max(this.left, 0);
    this.given = this.left = Math.max(0, Math.min(stepBudget, this.total));
    this.depth = 0;
  }

  spend(steps: number): void {
    this.left -= steps;
    // NaN and Infinity are no budget either.
    if (!(this.left >= 0)) throw new Exhausted();
  }

  enter(): void {
    if (++this.depth > deepestCalls) throw new Exhausted();
  }

  leave(): void {
    this.depth--;
  }
}
