/** Zone rules of the machine that runs the command or serves the application: core itself has none. */

interface Zone {
  readonly format: Intl.DateTimeFormat;
  /** Offsets by local time, of those asked for last: a format takes longer than a rule. */
  readonly known: Map<string, number>;
}

const mostKnown = 500;
const zones = new Map<string, Zone | null>();

function zoneNamed(name: string): Zone | null {
  let zone = zones.get(name);
  if (zone === undefined) {
    try {
      const format = new Intl.DateTimeFormat('en-US', { timeZone: name, timeZoneName: 'longOffset', year: 'numeric' });
      zone = { format, known: new Map() };
    } catch {
      zone = null;
    }
    zones.set(name, zone);
  }
  return zone;
}

/** Seconds east of UTC at an instant. */
function offsetAt(format: Intl.DateTimeFormat, instant: number): number {
  const name = format.formatToParts(instant).find((p) => p.type === 'timeZoneName')?.value ?? '';
  const m = /^GMT(?:([+-])(\d{2}):(\d{2})(?::(\d{2}))?)?$/.exec(name);
  if (!m?.[1]) return 0;
  return (m[1] === '-' ? -1 : 1) * (Number(m[2]) * 3600 + Number(m[3]) * 60 + Number(m[4] ?? 0));
}

/**
 * Seconds east of UTC that a zone keeps at a local time (`2026-05-03T09:00:00`); null for a zone that there is not. A
 * local time that occurs twice takes the earlier instant; one that is skipped is read with the offset before the gap.
 */
export function zoneOffset(zone: string, local: string): number | null {
  const found = /^[A-Za-z]/.test(zone) ? zoneNamed(zone) : null;
  if (!found) return null;
  const { format, known } = found;
  const time = local.slice(0, 19);
  const offset = known.get(time) ?? offsetOf(format, time);
  if (known.size >= mostKnown) known.clear();
  known.set(time, offset);
  return offset;
}

function offsetOf(format: Intl.DateTimeFormat, time: string): number {
  const asUtc = Date.parse(`${time}Z`);
  if (Number.isNaN(asUtc)) return 0;
  const day = 86_400_000;
  const [before, after] = [offsetAt(format, asUtc - day), offsetAt(format, asUtc + day)];
  const fits = [before, after].find((offset) => offsetAt(format, asUtc - offset * 1000) === offset);
  return fits ?? before;
}
