/** Instants as the clocks of the organisation show them, and back. Stored they are UTC, ISO 8601 to the second. */
import { zoneOffset } from '@rigid-rule/core/host/zones';
import type { WrittenForm } from './locale.ts';
import { nowIn, offsetShown } from './now.ts';

/** `2026-05-03T09:00`, as inputs have it; an empty text for what is no instant. */
export function localInput(stored: string, zone: string): string {
  const at = new Date(stored);
  return Number.isNaN(at.getTime()) ? '' : nowIn(zone, at).slice(0, 16);
}

/** `3 May 2026, 09:00`. */
export function shownInstant(stored: string, zone: string, form: WrittenForm): string {
  const local = localInput(stored, zone);
  return local === '' ? stored : `${form.day(local.slice(0, 10))}, ${local.slice(11)}`;
}

/**
 * `3 May 2026, 09:00`, `3/5/2026 9:00`, `2026-05-03T09:00` as the clocks there show it, with its offset. What has an
 * offset of its own, or is no day with a time, stays as it was typed.
 */
export function typedInstant(typed: string, zone: string, form: WrittenForm): string {
  const found = /^(.*?)(?:,?\s+|T)(\d{1,2})[:.h](\d{2})(?::\d{2})?(?:\s*([ap])\.?m\.?)?$/i.exec(typed.trim());
  if (!found) return typed;
  const [, before = '', hour = '', minute = '', half] = found;
  const day = form.typedDay(before);
  const hours = half ? (Number(hour) % 12) + (half.toLowerCase() === 'p' ? 12 : 0) : Number(hour);
  if (!/^\d{4}-\d\d-\d\d$/.test(day) || hours > 23 || Number(minute) > 59) return typed;
  return withOffset(`${day}T${String(hours).padStart(2, '0')}:${minute}`, zone);
}

/** What was typed as the clocks there show it, with the offset of that moment: `2026-05-03T09:00:00+01:00`. */
export function withOffset(local: string, zone: string): string {
  return `${local}:00${offsetShown(zoneOffset(zone, `${local}:00`) ?? 0)}`;
}
