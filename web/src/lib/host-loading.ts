/** What rules ask of the browser besides the clock; what is large is loaded where a rulebook uses it, since it is large. */
import { zoneOffset } from '@rigid-rule/core/host/zones';
import { hostNeeds, type HostNeed } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import type { Host } from '@rigid-rule/core/language';
import { writingOf } from './writing.ts';

export const hostLoaders: Readonly<Record<HostNeed, () => Promise<Host>>> = {
  pattern: async () => ({ pattern: (await import('@rigid-rule/core/host/patterns')).createPatterns() }),
  phone: async () => ({ phone: (await import('@rigid-rule/core/host/phone-numbers')).phoneNumber }),
};

export const plainHost: Host = { zoneOffset, writing: writingOf };

/** All that a rulebook asks for, the same as the server has at hand. */
export async function hostOf(rulebook: Pick<Rulebook, 'rules' | 'tables' | 'claims'>): Promise<Host> {
  const more = await Promise.all([...hostNeeds(rulebook)].map((need) => hostLoaders[need]()));
  return Object.assign({}, plainHost, ...more) as Host;
}
