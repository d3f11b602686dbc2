/** Answers what rules ask of other records from a set of samples, however large it is: nothing is kept between calls. */
import type { FoundRecord, RecordQuery } from '@rigid-rule/core/records';
import { keyOfStored, soughtKeys, type MatchMode } from '@rigid-rule/core/values';
import { samplesHolding, samplesOf, valuesAfter, type Sample } from './db/samples.ts';
import { groupsOf, soughtValue, type Search } from './searches.ts';

/** Samples whose keys are worked out before others have their turn. */
const page = 10_000;

const found = ({ id, data }: Sample): FoundRecord => ({ id: String(id), data });

/** In the order of the questions. */
export async function answerFromSamples(
  set: number,
  asks: readonly RecordQuery[],
): Promise<readonly (readonly FoundRecord[])[]> {
  const answers = asks.map((): readonly FoundRecord[] => []);
  const { searches, records } = groupsOf(asks);
  for (const search of searches) {
    const values = search.asks.map((i) => soughtValue(asks[i]!));
    const given = await (search.mode === 'exact' ? byValue(set, search, values) : byKey(set, search, values));
    search.asks.forEach((ask, i) => (answers[ask] = given[i]!));
  }
  for (const [type, asked] of records) {
    const ids = asked.flatMap((i) => recordId(asks[i]!));
    const byId = new Map((await samplesOf(set, type, ids)).map((s) => [String(s.id), found(s)]));
    for (const i of asked) answers[i] = recordId(asks[i]!).flatMap((id) => byId.get(id) ?? []);
  }
  return answers;
}

const recordId = (ask: RecordQuery): readonly string[] => (ask.kind === 'record' ? [ask.id] : []);

type Answers = readonly (readonly FoundRecord[])[];

async function byValue(set: number, { type, field }: Search, values: readonly string[]): Promise<Answers> {
  const samples = await samplesHolding(set, type, field, [...new Set(values)]);
  return values.map((v) => samples.filter((s) => v !== '' && keyOfStored('exact', s.data[field]) === v).map(found));
}

/** Keys are worked out as the engine does it, page by page. */
async function byKey(set: number, { type, field, mode }: Search, values: readonly string[]): Promise<Answers> {
  const sought = values.map((v) => soughtKeys(mode as MatchMode, v));
  const ids = new Map<string, string[]>(sought.flat().map((key) => [key, []]));
  for (let after = 0, more = true; more && ids.size > 0;) {
    const rows = await valuesAfter(set, type, field, after, page);
    for (const { id, value } of rows) ids.get(keyOfStored(mode as MatchMode, value) ?? '')?.push(String(id));
    after = rows.at(-1)?.id ?? after;
    more = rows.length === page;
  }
  const best = sought.map((own) => ids.get(own.find((key) => ids.get(key)!.length > 0) ?? '') ?? []);
  const byId = new Map((await samplesOf(set, type, best.flat())).map((s) => [String(s.id), found(s)]));
  return best.map((own) => own.flatMap((id) => byId.get(id) ?? []));
}
