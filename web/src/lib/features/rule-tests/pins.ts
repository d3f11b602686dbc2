/** Where tests stand on the ruler of a rule that divides a number or a date. */
import type { Stored } from '@rigid-rule/core/document';

export interface Pin {
  readonly value: number;
  readonly failing: boolean;
  /** What came in and what must come out, in words. */
  readonly text: string;
}

export interface PlacedPin extends Pin {
  readonly x: number;
}

/** Pixels between pins that would otherwise stand on each other. */
const apart = 15;

/**
 * Pins at the places of their values, moved apart where they would cover each other: the order stays, a pin at a boundary
 * stays where it is. `xOf`: the ruler's own scale, 0 to `width`.
 */
export function placePins(
  pins: readonly Pin[],
  boundaries: readonly number[],
  xOf: (value: number) => number,
  width: number,
): readonly PlacedPin[] {
  const byValue = new Map<number, Pin>();
  for (const pin of pins) {
    const known = byValue.get(pin.value);
    if (!known || (pin.failing && !known.failing)) byValue.set(pin.value, pin);
  }
  const sorted = [...byValue.values()].sort((a, b) => a.value - b.value);
  const xs = sorted.map((p) => xOf(p.value));
  const fixed = sorted.map((p) => boundaries.includes(p.value));
  // From each boundary outwards; what lies between two is pushed by the nearer one.
  for (let i = 1; i < xs.length; i++) if (!fixed[i] && xs[i]! - xs[i - 1]! < apart) xs[i] = xs[i - 1]! + apart;
  for (let i = xs.length - 2; i >= 0; i--) if (!fixed[i] && xs[i + 1]! - xs[i]! < apart) xs[i] = xs[i + 1]! - apart;
  return sorted.map((p, i) => ({ ...p, x: Math.max(-apart * 2, Math.min(width + apart * 2, xs[i]!)) }));
}

/** A stored value as the axis has it: a number, or the days since 1970-01-01 of a date. */
export function axisValue(value: Stored | undefined, dates: boolean): number | undefined {
  if (!dates) return typeof value === 'number' ? value : undefined;
  const time = typeof value === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(value) ? Date.parse(`${value}T00:00:00Z`) : NaN;
  return Number.isNaN(time) ? undefined : Math.round(time / 86_400_000);
}
