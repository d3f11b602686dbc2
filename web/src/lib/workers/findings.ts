/** Looks through a rulebook as a whole, apart from the page: a large one takes longer than a frame. */
import { compileProgram, findingsOf, type Finding, type Rulebook } from '@rigid-rule/core';

export interface FindingsRequest {
  readonly id: number;
  /** As JSON: parts of a draft may be held by the interface in ways that cannot be cloned. */
  readonly rulebook: string;
}

export interface FindingsAnswer {
  readonly id: number;
  readonly findings: readonly Finding[];
}

addEventListener('message', ({ data: { id, rulebook } }: MessageEvent<FindingsRequest>) => {
  const findings = findingsOf(compileProgram(JSON.parse(rulebook) as Rulebook)).filter((f) => f.accepted === undefined);
  postMessage({ id, findings } satisfies FindingsAnswer);
});
