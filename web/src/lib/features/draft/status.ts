import { counted } from '$lib/counted.ts';
import { ownMoments } from '$lib/organisation.svelte.ts';
import type { Draft } from './draft.svelte.ts';

/** The time, behind its day where that is not today. */
function savedText(at: Date): string {
  const day = ownMoments({ dateStyle: 'medium' }).format(at);
  const isToday = day === ownMoments({ dateStyle: 'medium' }).format(new Date());
  return `Saved ${isToday ? '' : `${day}, `}${ownMoments({ timeStyle: 'medium' }).format(at)}`;
}

/** What the bar at the foot says: whether all is saved, and what there is. */
export function draftStatus(
  { saver, rulebook, findings, testResults, analysed, analysisWaits, lastRemoteEdit, refusal, said }: Draft,
  strength?: { readonly caught: number; readonly planted: number },
): string {
  const saved = saver.savedAt ? savedText(saver.savedAt) : 'Nothing changed yet';
  const words = {
    saved,
    saving: 'Saving …',
    'kept here': 'Could not save; kept here',
    refused: 'Not taken; kept here',
    clash: 'Two versions: choose one',
  };
  const tests = rulebook.tests?.length ?? 0;
  const failing = [...testResults.values()].filter((f) => f.length > 0).length;
  return [
    ...(said ? [said] : []),
    refusal ?? saver.problem ?? words[saver.state],
    counted(rulebook.rules.length, 'rule'),
    ...(analysed
      ? [
          ...(tests > 0 ? [`${counted(tests, 'test')}, ${failing === 0 ? 'all hold' : `${failing} fail`}`] : []),
          counted(findings.length, 'finding'),
          ...(strength && strength.planted > 0
            ? [`${Math.floor((strength.caught / strength.planted) * 100)} of 100 planted faults would be noticed`]
            : []),
        ]
      : [analysisWaits ? 'findings and tests wait to be worked out' : 'findings and tests are being worked out']),
    ...(lastRemoteEdit ? [`${lastRemoteEdit.by} changed ${lastRemoteEdit.what}`] : []),
  ].join('   ·   ');
}
