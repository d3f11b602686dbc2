/** Zone rules of the machine that runs the command or serves the application: core itself has none. */

const formats = new Map<string, Intl.DateTimeFormat | null>();

function formatOf(zone: string): Intl.DateTimeFormat | null {
  let format = formats.get(zone);
  if (format === undefined) {
    try {
      format = new Intl.DateTimeFormat('en-US', { timeZone: zone, timeZoneName: 'longOffset', year: 'numeric' });
    } catch {
      format = null;
    }
    formats.set(zone, format);
  }
  return format;
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
  const format = /^[A-Za-z]/.test(zone) ? formatOf(zone) : null;
  const asUtc = Date.parse(`${local.slice(0, 19)}Z`);
  if (!format) return null;
  if (Number.isNaN(asUtc)) return 0;
  const day = 86_400_000;
  const [before, after] = [offsetAt(format, asUtc - day), offsetAt(format, asUtc + day)];
  const fits = [before, after].find((offset) => offsetAt(format, asUtc - offset * 1000) === offset);
  return fits ?? before;
}
