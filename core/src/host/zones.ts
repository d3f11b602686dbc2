/** Zone rules of the machine that runs the command or serves the application: core itself has none. */

interface Zone {
  readonly format: Intl.DateTimeFormat;
  /**
   * Offsets by day of UTC, of those asked for last: a format takes longer than a rule. null: the clocks change in it. No
   * zone of the time zone database changes its offset and takes it back within one such day.
   */
  readonly days: Map<number, number | null>;
}

const mostKnown = 1000;
const millisPerDay = 86_400_000;
const zones = new Map<string, Zone | null>();

function zoneNamed(name: string): Zone | null {
  let zone = zones.get(name);
  if (zone === undefined) {
    try {
      const format = new Intl.DateTimeFormat('en-US', { timeZone: name, timeZoneName: 'longOffset', year: 'numeric' });
      zone = { format, days: new Map() };
    } catch {
      zone = null;
    }
    zones.set(name, zone);
  }
  return zone;
}

function readOffset(format: Intl.DateTimeFormat, instant: number): number {
  const name = format.formatToParts(instant).find((p) => p.type === 'timeZoneName')?.value ?? '';
  const m = /^GMT(?:([+-])(\d{2}):(\d{2})(?::(\d{2}))?)?$/.exec(name);
  if (!m?.[1]) return 0;
  return (m[1] === '-' ? -1 : 1) * (Number(m[2]) * 3600 + Number(m[3]) * 60 + Number(m[4] ?? 0));
}

function offsetIn({ format, days }: Zone, instant: number): number {
  const day = Math.floor(instant / millisPerDay);
  let offset = days.get(day);
  if (offset === undefined) {
    const first = readOffset(format, day * millisPerDay);
    offset = first === readOffset(format, (day + 1) * millisPerDay) ? first : null;
    if (days.size >= mostKnown) days.clear();
    days.set(day, offset);
  }
  return offset ?? readOffset(format, instant);
}

/** Seconds east of UTC that a zone (IANA name) keeps at an instant (milliseconds since 1970); null for a zone that there is not. */
export function offsetAt(zone: string, instant: number): number | null {
  const found = zoneNamed(zone);
  return found && offsetIn(found, instant);
}

/**
 * Seconds east of UTC that a zone keeps at a local time (`2026-05-03T09:00:00`); null for a zone that there is not. A
 * local time that occurs twice takes the earlier instant; one that is skipped is read with the offset before the gap.
 */
export function zoneOffset(zone: string, local: string): number | null {
  const found = /^[A-Za-z]/.test(zone) ? zoneNamed(zone) : null;
  if (!found) return null;
  const asUtc = Date.parse(`${local.slice(0, 19)}Z`);
  if (Number.isNaN(asUtc)) return 0;
  const [before, after] = [offsetIn(found, asUtc - millisPerDay), offsetIn(found, asUtc + millisPerDay)];
  const fits = [before, after].find((offset) => offsetIn(found, asUtc - offset * 1000) === offset);
  return fits ?? before;
}
