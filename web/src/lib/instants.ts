/** Instants as the clocks of the organisation show them, and back. Stored they are UTC, ISO 8601 to the second. */
import { zoneOffset } from '@rigid-rule/zones';
import { nowIn } from './now.ts';

/** `2026-05-03T09:00`, as inputs have it; an empty text for what is no instant. */
export function localInput(stored: string, zone: string): string {
  const at = new Date(stored);
  return Number.isNaN(at.getTime()) ? '' : nowIn(zone, at).slice(0, 16);
}

/** `3 May 2026, 09:00`. */
export function shownInstant(stored: string, zone: string): string {
  const at = new Date(stored);
  if (Number.isNaN(at.getTime())) return stored;
  const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeZone: zone }).format(at);
  return `${day}, ${nowIn(zone, at).slice(11, 16)}`;
}

/** What was typed as the clocks there show it, with the offset of that moment: `2026-05-03T09:00:00+01:00`. */
export function withOffset(local: string, zone: string): string {
  const seconds = zoneOffset(zone, `${local}:00`) ?? 0;
  const two = (n: number): string => String(Math.floor(Math.abs(n))).padStart(2, '0');
  return `${local}:00${seconds < 0 ? '-' : '+'}${two(seconds / 3600)}:${two((Math.abs(seconds) / 60) % 60)}`;
}
