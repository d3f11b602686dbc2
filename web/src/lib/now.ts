import { offsetAt } from '@rigid-rule/core/host/zones';

const two = (n: number): string => String(n).padStart(2, '0');

/**
 * The present moment as ISO 8601 with the offset of a zone: `2026-05-03T09:00:00+01:00`. What a write's clock shows.
 * @throws RangeError where there is no such zone.
 */
export function nowIn(zone: string, at = new Date()): string {
  const offset = offsetAt(zone, at.getTime());
  if (offset === null) throw new RangeError(`There is no time zone ${zone}.`);
  const shown = new Date(at.getTime() + offset * 1000).toISOString().replace(/\.\d+Z$/, '');
  return `${shown}${offsetText(offset)}`;
}

/** `+01:00`; with seconds where a zone once had some. */
function offsetText(offset: number): string {
  const [east, seconds] = [Math.abs(offset), Math.abs(offset) % 60];
  const text = `${offset < 0 ? '-' : '+'}${two(Math.floor(east / 3600))}:${two(Math.floor(east / 60) % 60)}`;
  return seconds === 0 ? text : `${text}:${two(seconds)}`;
}
