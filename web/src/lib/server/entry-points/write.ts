/** A write on a live record, in a transaction of its own; the records that depend on it follow. */
import type { RecordData, Rulebook } from '@rigid-rule/core';
import { serializable } from '../db/transaction.ts';
import { live } from '../rulebook.ts';
import { linkTitles, type TitleMap } from '../titles.ts';
import { runDependants } from './dependants.ts';
import { previewIn, writeIn, type Preview, type WriteRequest, type WriteResult } from './write-in.ts';

export async function writeRecord(request: WriteRequest): Promise<WriteResult> {
  const result = await serializable((client) => writeIn(client, request));
  if (result.outcome === 'saved') void runDependants();
  return result;
}

/** What the write would do elsewhere, with the names of the records concerned and of those that they would link to. */
export async function previewWrite(request: WriteRequest): Promise<Preview & { readonly titles: TitleMap }> {
  const preview = (await serializable((client) => previewIn(client, request))) ?? { effects: [], dependants: [] };
  return { ...preview, titles: await titlesIn((await live()).program.rulebook, preview) };
}

async function titlesIn(rulebook: Rulebook, { effects }: Preview): Promise<TitleMap> {
  const titles: TitleMap = {};
  for (const type of rulebook.recordTypes) {
    const own = effects.filter((e) => e.recordType === type.key);
    const values = own.flatMap((e): RecordData[] =>
      e.changes.flatMap((c) => [{ [c.field]: c.from ?? null }, { [c.field]: c.to }]),
    );
    if (own.length === 0) continue;
    const named = await linkTitles(
      rulebook,
      type.fields,
      values,
      own.map((e) => ({ recordType: e.recordType, id: e.id })),
    );
    for (const [key, names] of Object.entries(named)) titles[key] = { ...titles[key], ...names };
  }
  return titles;
}
