/** What formulas ask of the browser besides the clock: loaded where a rulebook uses it, since it is large. */
import { zoneOffset } from '@rigid-rule/zones';
import { hostNeeds, type Host, type HostNeed, type Rulebook } from '@rigid-rule/core';

export const hostLoaders: Readonly<Record<HostNeed, () => Promise<Host>>> = {
  pattern: async () => ({ pattern: (await import('@rigid-rule/patterns')).createPatterns() }),
  phone: async () => ({ phone: (await import('@rigid-rule/phone-numbers')).phoneNumber }),
};

export const plainHost: Host = { zoneOffset };

/** All that a rulebook asks for, the same as the server has at hand. */
export async function hostOf(rulebook: Pick<Rulebook, 'rules'>): Promise<Host> {
  const more = await Promise.all([...hostNeeds(rulebook)].map((need) => hostLoaders[need]()));
  return Object.assign({}, plainHost, ...more) as Host;
}
