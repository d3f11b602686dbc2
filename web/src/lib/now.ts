/** The present moment as ISO 8601 with the offset of a zone: `2026-05-03T09:00:00+01:00`. What a write's clock shows. */
export function nowIn(zone: string, at = new Date()): string {
  const format = formatOf(zone);
  const part = Object.fromEntries(format.formatToParts(at).map((p) => [p.type, p.value]));
  const offset = part['timeZoneName']!.replace('GMT', '') || 'Z';
  return `${part['year']}-${part['month']}-${part['day']}T${part['hour']}:${part['minute']}:${part['second']}${offset}`;
}

const formats = new Map<string, Intl.DateTimeFormat>();

/** Making one costs more than many uses of it. */
function formatOf(timeZone: string): Intl.DateTimeFormat {
  let format = formats.get(timeZone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-CA', {
      timeZone,
      hourCycle: 'h23',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
      timeZoneName: 'longOffset',
    });
    formats.set(timeZone, format);
  }
  return format;
}
