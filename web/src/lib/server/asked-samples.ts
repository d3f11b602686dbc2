/** Which samples a request asks for. */
import type { RecordType } from '@rigid-rule/core/document';
import { authorise } from './auth/guard.ts';
import { usualSampleSet } from './db/samples.ts';
import { currentDraft, requireType } from './rulebook.ts';
import { wholeNumber } from '../whole-number.ts';

interface Asked {
  readonly params: { readonly type: string };
  readonly url: URL;
  readonly locals: App.Locals;
}

/** The record type, and the set asked for, else the oldest; undefined where there is none. @throws 403, 404. */
export async function askedSamples({
  params,
  url,
  locals,
}: Asked): Promise<{ readonly set: number | undefined; readonly type: RecordType }> {
  authorise(locals, 'rulebook.read');
  const type = requireType((await currentDraft()).rulebook, params.type);
  return { type, set: await usualSampleSet(wholeNumber(url.searchParams.get('set'))) };
}
