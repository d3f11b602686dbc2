/**
 * Exact decimal numbers (DMN: 34 digits, half-even), at the speed of doubles wherever the operands allow it.
 *
 * A number is a JavaScript double exactly when that double is the one nearest to a decimal of at most 15 significant
 * digits; every such decimal has its own double (IEEE 754: DBL_DIG is 15), so the double stands for the decimal.
 * Everything else is a `Decimal` of up to 34 digits. `normalize` keeps this form canonical: equal numbers have one form.
 */
import { Decimal as DecimalBase } from 'decimal.js';

/** The library's constructor with DMN's precision and rounding, apart from anybody else's settings. */
export const Decimal = DecimalBase.clone({
  precision: 34,
  rounding: DecimalBase.ROUND_HALF_EVEN,
  maxE: 6144,
  minE: -6143,
  toExpNeg: -7,
  toExpPos: 40,
});
export type BigDecimal = DecimalBase;
export type Num = number | BigDecimal;

/** Steps (of a `Meter`) that an operation of the decimal library takes; one on doubles is about one step. */
export const decimalPrice = 40;

const limit = 1e15; // integers below this have at most 15 digits
const powers = Array.from({ length: 23 }, (_, k) => Number(`1e${k}`)); // 10^22 is the last exact power of ten
const maxScale = 22;

export function isNumber(v: unknown): v is Num {
  return typeof v === 'number' || v instanceof Decimal;
}

/** The canonical form of a decimal; null when it overflows what DMN's decimal128 can hold. */
export function normalize(d: BigDecimal): Num | null {
  if (!d.isFinite()) return null;
  if (d.precision(false) <= 15) {
    const n = d.toNumber();
    if (n === 0) return d.isZero() ? 0 : d;
    if (Number.isFinite(n) && Math.abs(n) >= 1e-290 && Math.abs(n) <= 1e290) return n;
  }
  return d;
}

export function toDecimal(n: Num): BigDecimal {
  return typeof n === 'number' ? new Decimal(n) : n;
}

/** Number of decimals of a double that stands for a short decimal; -1 when it has more than the fast path takes. */
function scaleOf(a: number): number {
  if (Number.isInteger(a)) return 0;
  for (let k = 1; k <= maxScale; k++) {
    const p = powers[k]!;
    const m = Math.round(a * p);
    if (m >= limit || m <= -limit) return -1;
    if (m / p === a) return k;
  }
  return -1;
}

const slow = (op: 'plus' | 'minus' | 'times' | 'div', a: Num, b: Num): Num | null =>
  normalize(toDecimal(a)[op](toDecimal(b)));

/** `m / 10^scale`: one correctly rounded division, hence the nearest double of that decimal. */
function unscale(m: number, scale: number): number {
  return m === 0 ? 0 : m / powers[scale]!;
}

function addFast(a: number, b: number): number | undefined {
  const plain = a + b;
  const sa = scaleOf(a);
  const sb = scaleOf(b);
  // Large operands that cancel each other would leave the error of their doubles.
  if (a >= limit || a <= -limit || b >= limit || b <= -limit) return undefined;
  if (sa === 0 && sb === 0) return plain < limit && plain > -limit ? plain : undefined;
  if (sa < 0 || sb < 0) return undefined;
  const s = sa > sb ? sa : sb;
  const p = powers[s]!;
  const ma = Math.round(a * p);
  const mb = Math.round(b * p);
  if (ma >= limit || ma <= -limit || mb >= limit || mb <= -limit) return undefined;
  const m = ma + mb;
  return m < limit && m > -limit ? unscale(m, s) : undefined;
}

export function add(a: Num, b: Num): Num | null {
  if (typeof a === 'number' && typeof b === 'number') {
    const fast = addFast(a, b);
    if (fast !== undefined) return fast;
  }
  return slow('plus', a, b);
}

export function subtract(a: Num, b: Num): Num | null {
  if (typeof a === 'number' && typeof b === 'number') {
    const fast = addFast(a, -b);
    if (fast !== undefined) return fast;
  }
  return slow('minus', a, b);
}

export function multiply(a: Num, b: Num): Num | null {
  if (typeof a === 'number' && typeof b === 'number') {
    const sa = scaleOf(a);
    const sb = scaleOf(b);
    if (sa >= 0 && sb >= 0 && sa + sb <= maxScale) {
      const m = Math.round(a * powers[sa]!) * Math.round(b * powers[sb]!);
      if (m < limit && m > -limit) return unscale(m, sa + sb);
    }
  }
  return slow('times', a, b);
}

/** null for a division by zero, as DMN has it. */
export function divide(a: Num, b: Num): Num | null {
  if (isZero(b)) return null;
  if (typeof a === 'number' && typeof b === 'number' && Number.isInteger(a) && Number.isInteger(b)) {
    const q = a / b;
    if (Number.isInteger(q) && Math.abs(a) < limit) return q === 0 ? 0 : q;
  }
  return slow('div', a, b);
}

/** `a ** b`; null where the result is no finite real number. */
export function power(a: Num, b: Num): Num | null {
  const exponent = toDecimal(b);
  if (isZero(a) && exponent.isNegative() && !exponent.isZero()) return null;
  if (exponent.abs().greaterThan(100_000)) return null;
  return normalize(toDecimal(a).pow(exponent));
}

export function negate(a: Num): Num {
  if (typeof a === 'number') return a === 0 ? 0 : -a;
  return a.negated();
}

export function isZero(a: Num): boolean {
  return typeof a === 'number' ? a === 0 : a.isZero();
}

/** Negative, zero or positive as a is below, equal to or above b. Exact: doubles stand for distinct decimals. */
export function compareNumbers(a: Num, b: Num): number {
  if (typeof a === 'number' && typeof b === 'number') return a < b ? -1 : a > b ? 1 : 0;
  return toDecimal(a).comparedTo(toDecimal(b));
}

export type Rounding = 'half-even' | 'half-up' | 'half-down' | 'up' | 'down' | 'ceiling' | 'floor';
const modes: Record<Rounding, DecimalBase.Rounding> = {
  'half-even': Decimal.ROUND_HALF_EVEN,
  'half-up': Decimal.ROUND_HALF_UP,
  'half-down': Decimal.ROUND_HALF_DOWN,
  up: Decimal.ROUND_UP,
  down: Decimal.ROUND_DOWN,
  ceiling: Decimal.ROUND_CEIL,
  floor: Decimal.ROUND_FLOOR,
};

/** Rounds to `scale` decimals (negative: tens, hundreds ...). */
export function round(a: Num, scale: number, mode: Rounding = 'half-even'): Num | null {
  if (typeof a === 'number') {
    const s = scaleOf(a);
    if (s >= 0 && s <= scale) return a;
  }
  const d = toDecimal(a);
  if (scale >= 0) return normalize(d.toDecimalPlaces(scale, modes[mode]));
  const shift = new Decimal(10).pow(-scale);
  return normalize(d.div(shift).toDecimalPlaces(0, modes[mode]).times(shift));
}

const numberText = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d{1,5})?$/;

/** Reads a plain decimal text (`1250`, `-0.5`, `1E3`); null when it is not one or overflows. */
export function parseNumber(text: string): Num | null {
  if (text.length > 400 || !numberText.test(text)) return null;
  const exact = new DecimalBase(text);
  return normalize(exact.precision(false) > 34 ? new Decimal(text).plus(0) : new Decimal(exact));
}

/** Shortest plain form, without an exponent between 1e-7 and 1e40. */
export function numberToText(n: Num): string {
  return typeof n === 'number'
    ? Math.abs(n) < 1e-6 || Math.abs(n) >= 1e21
      ? new Decimal(n).toString()
      : String(n)
    : n.toString();
}

/** Whether a number has at most 15 significant digits, so that JSON, the database and the browser carry it unharmed. */
export function isShort(n: Num): n is number {
  if (typeof n !== 'number') return false;
  return scaleOf(n) >= 0 ? n < limit && n > -limit : digits(n) <= 15;
}

/** Significant digits of a number in its shortest decimal form. */
export function digits(n: Num): number {
  return toDecimal(n).precision(false);
}
