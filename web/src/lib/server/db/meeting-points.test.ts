import fc from 'fast-check';
import { expect, it } from 'vitest';
import { apart, type MeetingPoints } from './meeting-points.ts';

const some = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e'), { maxLength: 3 }).map((names) => new Set(names));
const pending = fc.record({ shared: some, alone: some }).map((points) => ({ points }));
const meet = (a: MeetingPoints, b: MeetingPoints): boolean =>
  [...a.alone].some((p) => b.alone.has(p) || b.shared.has(p)) || [...a.shared].some((p) => b.alone.has(p));

it('writes of one group meet nowhere; the first is in it, and whoever is not meets one that came before', () => {
  fc.assert(
    fc.property(fc.array(pending, { minLength: 1, maxLength: 8 }), (all) => {
      const group = apart(all);
      expect(group[0]).toBe(all[0]);
      group.forEach((a, i) => {
        for (const b of group.slice(i + 1)) expect(meet(a.points, b.points)).toBe(false);
      });
      for (const [i, one] of all.entries())
        if (!group.includes(one))
          expect(all.slice(0, i).some((other) => group.includes(other) && meet(one.points, other.points))).toBe(true);
    }),
  );
});
