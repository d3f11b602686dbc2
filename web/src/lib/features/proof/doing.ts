/** What is done while a draft is weighed, in words. */
import type { StrengthProgress } from '$lib/workers/strength.ts';
import { ownWriting } from '$lib/organisation.svelte.ts';

/** `progress`: undefined before anything is weighed. Claims are tried once all is. */
export function doing(progress: StrengthProgress | undefined): string {
  if (!progress) return 'Being weighed …';
  const { done, all, spent } = progress;
  if (done === all) return 'All weighed; claims are being tried …';
  const left = done === 0 ? '' : `, about ${ownWriting(Math.ceil(((spent / done) * (all - done)) / 1000))} s left`;
  return `${ownWriting(done)} of ${ownWriting(all)} rules and tables weighed${left}`;
}
