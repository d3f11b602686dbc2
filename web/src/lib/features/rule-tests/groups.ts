/** Faults that no test would notice, alike ones together, each group with the tests that would. */
import { mutantKinds, type MutantKind, type PartStrength, type Survivor } from '@rigid-rule/core/rule-tests';
import type { RuleTest } from '@rigid-rule/core/document';

export interface SurvivorGroup {
  readonly kind: MutantKind;
  /** `which entry points act: 6 of 7 removals go unnoticed`. */
  readonly sentence: string;
  readonly survivors: readonly Survivor[];
  /** Tests that together would notice all of them. */
  readonly tests: readonly RuleTest[];
}

export function survivorGroups(parts: readonly PartStrength[]): readonly SurvivorGroup[] {
  const groups = new Map<MutantKind, Survivor[]>();
  for (const s of parts.flatMap((p) => p.survivors)) groups.set(s.kind, [...(groups.get(s.kind) ?? []), s]);
  return [...groups].map(([kind, survivors]) => {
    const n = survivors.length;
    const head = mutantKinds[kind];
    const sentence =
      n === 1
        ? `${capital(head)}: ${survivors[0]!.text}, and nobody would notice.`
        : `${capital(head)}: ${n} changes would go unnoticed.`;
    return { kind, sentence, survivors, tests: [...new Set(survivors.map((s) => s.test))] };
  });
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
