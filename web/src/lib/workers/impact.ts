/** Works out what a draft does to the samples, apart from the page; figures come as they are found. */
import { compileProgram } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import { RecordsSource, type StoredRecordOf } from '@rigid-rule/core/records';
import { Impact, impactWays, type ImpactFigures } from '@rigid-rule/core/rule-tests';
import { hostOf } from '../host-loading.ts';

export interface ImpactRequest {
  readonly live: Rulebook;
  readonly draft: Rulebook;
  readonly samples: readonly StoredRecordOf[];
  readonly now: string;
}

export interface TypeImpact {
  readonly recordType: string;
  readonly plural: string;
  readonly samples: number;
  readonly ways: readonly ImpactFigures[];
}

export interface ImpactAnswer {
  readonly types: readonly TypeImpact[];
  readonly done: boolean;
}

/** Records between two messages. */
const batch = 200;

async function work({ live, draft, samples, now }: ImpactRequest): Promise<void> {
  const [before, after] = [compileProgram(live, await hostOf(live)), compileProgram(draft, await hostOf(draft))];
  const world = new RecordsSource(samples);
  const found = new Map<
    string,
    { recordType: { key: string; plural: string }; own: readonly StoredRecordOf[]; ways: Impact[] }
  >();
  for (const { recordType, rules } of after.types.values()) {
    if (rules.length === 0 && !before.types.get(recordType.key)?.rules.length) continue;
    found.set(recordType.key, {
      recordType,
      own: samples.filter((s) => s.recordType === recordType.key),
      ways: impactWays.map((way) => new Impact(recordType, before, after, way, world, now)),
    });
  }
  const post = (done: boolean) =>
    postMessage({
      types: [...found.values()].map(({ recordType, own, ways }) => ({
        recordType: recordType.key,
        plural: recordType.plural,
        samples: own.length,
        ways: ways.map((w) => w.figures()),
      })),
      done,
    } satisfies ImpactAnswer);
  let since = 0;
  for (const { own, ways } of found.values())
    for (const sample of own) {
      for (const way of ways) way.add(sample);
      if (++since % batch === 0) post(false);
    }
  post(true);
}

addEventListener('message', ({ data }: MessageEvent<ImpactRequest>) => void work(data));
