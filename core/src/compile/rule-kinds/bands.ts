/** Bands over a number line: a boundary says which side it belongs to. Shared by the rule, its editor and its findings. */
import { compareNumbers, type Num } from '../../values/number.ts';
import { dateOfDay, dateText } from '../../values/calendar.ts';
import type { Writing } from '../../language/types/writing.ts';
import { writtenLoose } from '../../language/wording/written.ts';

export interface Band {
  /** Lower boundary; absent: no lower limit. */
  readonly from?: number;
  /** The lower boundary belongs to the band below. Default: to this one. */
  readonly fromOpen?: boolean;
  /** Upper boundary; absent: no upper limit. */
  readonly to?: number;
  /** The upper boundary belongs to this band. Default: to the next one. */
  readonly toClosed?: boolean;
  /** Key of the option, or the number or text, that the band gives. */
  readonly result: string | number;
}

export type Fit = 'below' | 'inside' | 'above';

/** Where a number lies in relation to a band. */
export function place(n: Num, band: Band): Fit {
  if (band.from !== undefined) {
    const order = compareNumbers(n, band.from);
    if (order < 0 || (order === 0 && band.fromOpen)) return 'below';
  }
  if (band.to !== undefined) {
    const order = compareNumbers(n, band.to);
    if (order > 0 || (order === 0 && !band.toClosed)) return 'above';
  }
  return 'inside';
}

/** Index of the band that a number falls into, by binary search over bands in ascending order; -1 for none. */
export function findBand(n: Num, bands: readonly Band[]): number {
  let low = 0;
  let high = bands.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const fit = place(n, bands[middle]!);
    if (fit === 'inside') return middle;
    if (fit === 'below') high = middle - 1;
    else low = middle + 1;
  }
  return -1;
}

/** How two neighbours meet. */
export type Meeting = 'touch' | 'gap' | 'overlap' | 'wrong order';

/** `step`: distance of neighbouring values; between two of them there is no gap. */
export function meet(lower: Band, upper: Band, step?: number): Meeting {
  const before = lower.from !== undefined && (upper.from === undefined || compareNumbers(upper.from, lower.from) < 0);
  if (lower.to === undefined || upper.from === undefined) return before ? 'wrong order' : 'overlap';
  const order = compareNumbers(lower.to, upper.from);
  // A band that ends before it begins is a mistake of its own; its neighbours still meet where it ends.
  if (order !== 0 && before) return 'wrong order';
  if (order < 0) return hasBetween(lower, upper, step) ? 'gap' : 'touch';
  if (order > 0) return 'overlap';
  if (lower.toClosed && !upper.fromOpen) return 'overlap';
  return !lower.toClosed && upper.fromOpen ? 'gap' : 'touch';
}

/** Whether a value lies between the end of one band and the beginning of another. */
function hasBetween({ to, toClosed }: Band, { from, fromOpen }: Band, step: number | undefined): boolean {
  if (step === undefined) return true;
  const units = (n: number): number => Number((n / step).toPrecision(15));
  const first = toClosed ? Math.floor(units(to!)) + 1 : Math.ceil(units(to!));
  const last = fromOpen ? Math.floor(units(from!)) : Math.ceil(units(from!)) - 1;
  return first <= last;
}

/** `from 10, below 50`: how a band reads. */
export function bandText(band: Band, dates: boolean, writing: Writing): string {
  const text = (n: number): string =>
    dates && Number.isInteger(n) ? writing.day(dateText(dateOfDay(n))) : writtenLoose(n, writing);
  const [above, below, all] = dates ? ['after', 'before', 'every day'] : ['above', 'below', 'every number'];
  const from = band.from === undefined ? '' : `${band.fromOpen ? above : 'from'} ${text(band.from)}`;
  const to = band.to === undefined ? '' : `${band.toClosed ? 'up to' : below} ${text(band.to)}`;
  return [from, to].filter(Boolean).join(', ') || all;
}
