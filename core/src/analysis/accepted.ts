/** Findings that were accepted, as they are told: by what they are of. */
import type { Rulebook } from '../document/document.ts';
import { partId, toParts } from '../document/parts.ts';

/** Name of the part that a finding is of, by the key of the finding; the key itself where there is no such part. */
export function partOfFinding(finding: string, rulebook: Rulebook): string {
  const place = finding.slice(finding.indexOf(' ') + 1);
  const part = toParts(rulebook).find((p) => place === partId(p) || place.startsWith(`${partId(p)} `));
  return (part?.body as { readonly name?: string } | undefined)?.name ?? finding;
}
