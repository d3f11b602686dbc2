import { offsetAt } from '@rigid-rule/core/host/zones';
import { offsetText } from '@rigid-rule/core/values';

/**
 * The present moment as ISO 8601 with the offset of a zone: `2026-05-03T09:00:00+01:00`. What a write's clock shows.
 * @throws RangeError where there is no such zone.
 */
export function nowIn(zone: string, at = new Date()): string {
  const offset = offsetAt(zone, at.getTime());
  if (offset === null) throw new RangeError(`There is no time zone ${zone}.`);
  const shown = new Date(at.getTime() + offset * 1000).toISOString().replace(/\.\d+Z$/, '');
  return `${shown}${offsetShown(offset)}`;
}

/** `+01:00`, `+00:00` for UTC too; with seconds where a zone once had some. `offset`: seconds east of UTC. */
export const offsetShown = (offset: number): string => (offset === 0 ? '+00:00' : offsetText(offset));
