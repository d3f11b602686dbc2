/** A dry run of a change to any rule of the demo counts what settling each record by both rulebooks comes to. */
import { compileProgram, recompileProgram } from '@rigid-rule/core/compile';
import { RecordsSource } from '@rigid-rule/core/records';
import { settleAndPropagate } from '@rigid-rule/core/related';
import { Comparison, ImpactTally, impactWays, impactWrite, partThatDiffers } from '@rigid-rule/core/rule-tests';
import { expect, it } from 'vitest';
import { draft, sampleRecords, type DemoRecord } from './index.ts';

const now = '2026-05-03T09:00:00+01:00';
const records = Object.entries<readonly DemoRecord[]>({ ...sampleRecords() }).flatMap(([recordType, own]) =>
  own.map(({ id, data }) => ({ recordType, id: String(id), data })),
);
const world = new RecordsSource(records);
const before = compileProgram(draft);
/** Records of a type, from all over it. */
const tried = 6;

const changes = draft.rules.flatMap((rule, at) =>
  [{ on: false }, { condition: '', repeat: 'every' as const }].map((more) => ({
    name: `${rule.name}: ${Object.keys(more).join(', ')}`,
    rulebook: { ...draft, rules: draft.rules.with(at, { ...rule, ...more }) },
  })),
);

it.each(impactWays)('%s', (way) => {
  let inPart = 0;
  for (const { name, rulebook } of changes) {
    const after = recompileProgram(before, rulebook);
    for (const recordType of draft.recordTypes) {
      const { key } = recordType;
      const own = records.filter((r) => r.recordType === key);
      if (partThatDiffers(before, after, key)) inPart++;
      const comparison = new Comparison(key, before, after, way, now);
      const [counted, whole] = [0, 1].map(() => new ImpactTally(recordType, before, after, way));
      for (let i = 0; i < own.length; i += Math.ceil(own.length / tried)) {
        const record = own[i]!;
        counted!.add(record, ...comparison.settle(record, world));
        const [was, is] = [before, after].map((p) => {
          const write = impactWrite(p, key, record, way, now);
          return write && settleAndPropagate(p, write, world, { trace: false }).settlement;
        });
        whole!.add(record, was, is);
      }
      expect(counted!.figures(), `${name}, ${key}`).toEqual(whole!.figures());
    }
  }
  expect(inPart).toBeGreaterThan(0.8 * changes.length * draft.recordTypes.length);
});
