/** The present moment as ISO 8601 with the offset of a zone: `2026-05-03T09:00:00+01:00`. What a write's clock shows. */
export function nowIn(zone: string, at = new Date()): string {
  const clock = clockOf(zone);
  const second = Math.floor(at.getTime() / 1000);
  if (clock.second === second) return clock.shows;
  const part = Object.fromEntries(clock.format.formatToParts(at).map((p) => [p.type, p.value]));
  const offset = part['timeZoneName']!.replace('GMT', '') || 'Z';
  clock.second = second;
  clock.shows = `${part['year']}-${part['month']}-${part['day']}T${part['hour']}:${part['minute']}:${part['second']}${offset}`;
  return clock.shows;
}

interface Clock {
  readonly format: Intl.DateTimeFormat;
  /** Seconds since 1970 of what it showed last: within a second many ask. */
  second: number;
  shows: string;
}

const clocks = new Map<string, Clock>();

/** Making one costs more than many uses of it. */
function clockOf(timeZone: string): Clock {
  let clock = clocks.get(timeZone);
  if (!clock) {
    const format = new Intl.DateTimeFormat('en-CA', {
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
    clock = { format, second: NaN, shows: '' };
    clocks.set(timeZone, clock);
  }
  return clock;
}
