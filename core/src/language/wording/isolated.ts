/**
 * Texts that are read from right to left, within sentences that are read from left to right. Without an isolate around
 * each, two of them change places with what stands between: what became of a value would be read as what it was.
 */

/** Characters that are read from right to left: `R` and `AL` of DerivedBidiClass.txt, unassigned ones included. */
const rightToLeft = /[\u0590-\u08ff\u200f\ufb1d-\ufdff\ufe70-\ufefe\u{10800}-\u{10fff}\u{1e800}-\u{1efff}]/u;
/** FIRST STRONG ISOLATE and POP DIRECTIONAL ISOLATE (Unicode Standard Annex #9, 2.7). */
const [open, close] = ['\u2068', '\u2069'];

const isOneIsolate = (text: string): boolean => text.startsWith(open) && text.indexOf(close) === text.length - 1;

/** The text as it may stand in any sentence: itself, where nothing in it is read from right to left. */
export const isolated = (text: string): string =>
  rightToLeft.test(text) && !isOneIsolate(text) ? `${open}${text}${close}` : text;

/** What something was and what it became, in this order whatever their scripts. */
export const becomes = (from: string, to: string): string => `${isolated(from)} → ${isolated(to)}`;
