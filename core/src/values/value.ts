/** What formulas compute with, and how such values compare. Blank is `null` everywhere. */
import { compareNumbers, isNumber, numberToText, type Num } from './number.ts';

export type Value = null | boolean | Num | string | readonly Value[];

/** Order of Unicode code points, not of UTF-16 units: the same everywhere, independent of any locale. */
export function compareText(a: string, b: string): number {
  if (a === b) return 0;
  const n = Math.min(a.length, b.length);
  for (let i = 0; i < n; i++) {
    const x = a.charCodeAt(i);
    const y = b.charCodeAt(i);
    if (x !== y) {
      const surrogateX = x >= 0xd800 && x <= 0xdfff;
      const surrogateY = y >= 0xd800 && y <= 0xdfff;
      if (surrogateX !== surrogateY) return surrogateX ? 1 : -1;
      return x < y ? -1 : 1;
    }
  }
  return a.length - b.length;
}

/** FEEL's `=`: null equals only null; values of different types give null. */
export function equalValues(a: Value, b: Value): boolean | null {
  if (a === null || b === null) return a === b;
  if (isNumber(a)) return isNumber(b) ? compareNumbers(a, b) === 0 : null;
  if (Array.isArray(a)) {
    if (!Array.isArray(b)) return null;
    if (a.length !== b.length) return false;
    for (let i = 0; i < a.length; i++) {
      const same = equalValues(a[i] as Value, b[i] as Value);
      if (same !== true) return same;
    }
    return true;
  }
  return typeof a === typeof b ? a === b : null;
}

/** FEEL's order: null unless both are numbers or both are texts. */
export function orderValues(a: Value, b: Value): number | null {
  if (isNumber(a)) return isNumber(b) ? compareNumbers(a, b) : null;
  if (typeof a === 'string' && typeof b === 'string') return compareText(a, b);
  return null;
}

/** Blank: null, empty text and the empty list. */
export function isBlank(v: Value): boolean {
  return v === null || v === '' || (Array.isArray(v) && v.length === 0);
}

/** How a value reads in a trace: as FEEL would write it. */
export function valueToText(v: Value): string {
  if (v === null) return 'blank';
  if (typeof v === 'boolean') return String(v);
  if (typeof v === 'string') return v;
  if (isNumber(v)) return numberToText(v);
  return v.map((item) => valueToText(item)).join(', ');
}
