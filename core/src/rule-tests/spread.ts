/** How numbers are spread over equal steps, so that those of any heaps can be put together without a loss. */

export interface Spread {
  /** Which of the usual widths each step has, and the number of the first of these steps. */
  readonly width: number;
  readonly first: number;
  readonly from: number;
  readonly to: number;
  readonly before: readonly number[];
  readonly after: readonly number[];
}

/** Most steps of a spread. */
const bins = 24;

/** The `n`th width of steps: 1, 2 and 10 times powers of ten, each a whole number of times the one before it. */
const widthOf = (n: number): number => Number(`${isOdd(n) ? 2 : 1}e${Math.floor(n / 2)}`);
const isOdd = (n: number): boolean => n % 2 !== 0;
/** Narrowest and widest: what numbers can be. */
const [narrowest, widest] = [-600, 600];

/** Which step of this width a number is in, counted from 0; what is below a boundary only by rounding belongs above it. */
function stepOf(v: number, n: number): number {
  const exponent = Math.floor(n / 2);
  const scaled = exponent >= 0 ? v / Number(`1e${exponent}`) : v * Number(`1e${-exponent}`);
  const steps = isOdd(n) ? scaled / 2 : scaled;
  const near = Math.round(steps);
  return Math.abs(steps - near) < 1e-9 * Math.max(1, Math.abs(steps)) ? near : Math.floor(steps);
}

/** Numbers of steps are kept as small as that: to nine digits, sums of decimals are what they should be. */
const mostSteps = 1e9;

/** The narrowest width by which a range takes no more than the bins that there are. */
function widthFor(from: number, to: number): number {
  let [low, high] = [narrowest, widest];
  while (low < high) {
    const middle = Math.floor((low + high) / 2);
    const [first, last] = [stepOf(from, middle), stepOf(to, middle)];
    if (last - first < bins && Math.max(-first, last) < mostSteps) high = middle;
    else low = middle + 1;
  }
  return low;
}

function emptySpread(width: number, first: number, last: number): Spread & { before: number[]; after: number[] } {
  const zeros = (): number[] => new Array<number>(last - first + 1).fill(0);
  const at = (step: number): number => Number((step * widthOf(width)).toPrecision(12));
  return { width, first, from: at(first), to: at(last + 1), before: zeros(), after: zeros() };
}

export function spreadOver(before: readonly number[], after: readonly number[]): Spread | undefined {
  if (before.length + after.length === 0) return undefined;
  let [from, to] = [Infinity, -Infinity];
  for (const list of [before, after]) for (const v of list) [from, to] = [Math.min(from, v), Math.max(to, v)];
  const width = widthFor(from, to);
  const found = emptySpread(width, stepOf(from, width), stepOf(to, width));
  for (const v of before) found.before[stepOf(v, width) - found.first]!++;
  for (const v of after) found.after[stepOf(v, width) - found.first]!++;
  return found;
}

/** Exact: narrow steps lie whole within wide ones. */
export function sumOfSpreads(list: readonly Spread[]): Spread {
  /** A step of one width as the step of another one that holds it. */
  const within = (step: number, from: number, to: number): number => {
    for (let n = from; n < to; n++) step = Math.floor(step / (isOdd(n) ? 5 : 2));
    return step;
  };
  let width = Math.max(...list.map((s) => s.width));
  const ends = (): readonly [number, number] => [
    Math.min(...list.map((s) => within(s.first, s.width, width))),
    Math.max(...list.map((s) => within(s.first + s.before.length - 1, s.width, width))),
  ];
  while (ends()[1] - ends()[0] >= bins) width++;
  const sum = emptySpread(width, ...ends());
  for (const s of list)
    for (const side of ['before', 'after'] as const)
      s[side].forEach((count, i) => {
        sum[side][within(s.first + i, s.width, width) - sum.first]! += count;
      });
  return sum;
}
