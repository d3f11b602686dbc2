import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';

/** Zones with summer time north and south, half an hour of it, half an hour of offset, and none of all this. */
const zone = fc.constantFrom('Europe/Lisbon', 'America/New_York', 'Asia/Kolkata', 'Australia/Lord_Howe', 'UTC');

/** Moments of 1975 to 2095 in zones, whole seconds, half of them within four hours of a change of clocks. */
export const zonedMoment: fc.Arbitrary<Temporal.ZonedDateTime> = fc
  .record({
    zone,
    at: fc.integer({ min: 157_766_400, max: 3_944_678_400 }),
    by: fc.option(fc.integer({ min: -15_000, max: 15_000 })),
  })
  .map(({ zone, at, by }) => {
    const there = Temporal.Instant.fromEpochMilliseconds(at * 1000).toZonedDateTimeISO(zone);
    const change = by === null ? null : there.getTimeZoneTransition('next');
    return change ? change.add({ seconds: by! }) : there;
  });
