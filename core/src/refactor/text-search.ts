/** Goes through the texts of a rulebook and gathers what has to be written in their place. */
import { type CompiledRule, type Program } from '../compile/compiled.ts';
import type { Rulebook } from '../document/document.ts';
import type { PartRef } from '../document/parts.ts';
import { applyPatch, valueAt } from '../document/patch.ts';
import { createCondition } from '../language/expression/formula.ts';
import type { TextAt } from './renaming.ts';

export interface Replacement {
  readonly from: number;
  readonly to: number;
  readonly by: string;
}

/** A part with its formulas, each at a place in one of its texts. */
export interface Holder {
  readonly part: PartRef;
  readonly body: unknown;
  readonly formulas: CompiledRule['placed']['formulas'];
}

export abstract class TextSearch {
  readonly rewritten: (TextAt & { from: string })[] = [];
  readonly left: TextAt[] = [];
  protected readonly rulebook: Rulebook;
  protected readonly program: Program;
  protected readonly former: string;

  /** @param program The rulebook, compiled. */
  constructor(rulebook: Rulebook, program: Program, former: string) {
    this.rulebook = rulebook;
    this.program = program;
    this.former = former;
  }

  abstract run(): void;

  protected *rules(): Iterable<CompiledRule> {
    for (const type of this.program.types.values()) yield* type.rules;
  }

  /** Parts that have formulas in them, with where each stands. */
  protected *holders(): Iterable<Holder> {
    for (const { rule, placed } of this.rules())
      yield { part: { kind: 'rule', key: rule.key }, body: rule, formulas: placed.formulas };
    yield* this.claims();
  }

  protected *claims(): Iterable<Holder> {
    for (const claim of this.program.rulebook.claims ?? []) {
      const type = this.program.types.get(claim.recordType);
      if (!type) continue;
      const formula = createCondition(claim.condition, type.scope);
      yield {
        part: { kind: 'claim', key: claim.key },
        body: claim,
        formulas: [{ path: '/condition', at: 0, formula }],
      };
    }
  }

  protected replace(part: PartRef, body: unknown, path: string, replacements: readonly Replacement[]): void {
    const from = textAt(body, path);
    if (from === undefined || replacements.length === 0) return;
    const sorted = [...new Map(replacements.map((p) => [p.from, p])).values()].sort((a, b) => b.from - a.from);
    const text = sorted.reduce((so, p) => so.slice(0, p.from) + p.by + so.slice(p.to), from);
    if (text !== from) this.rewritten.push({ part, path, from, text });
  }

  protected leave(part: PartRef, path: string, text: string): void {
    if (!this.left.some((l) => l.path === path && l.part.key === part.key && l.part.kind === part.kind))
      this.left.push({ part, path, text });
  }

  applyTo(rulebook: Rulebook): Rulebook {
    const changed = <T extends { readonly key: string }>(kind: PartRef['kind'], list: readonly T[]): readonly T[] =>
      list.map((body) => {
        const own = this.rewritten.filter((r) => r.part.kind === kind && r.part.key === body.key);
        if (own.length === 0) return body;
        return applyPatch(
          body,
          own.map(({ path, text }) => ({ op: 'replace', path, value: text })),
        ).value;
      });
    const { rules, tables, tests, claims } = rulebook;
    return {
      ...rulebook,
      rules: changed('rule', rules),
      ...(tables ? { tables: changed('table', tables) } : {}),
      ...(tests ? { tests: changed('test', tests) } : {}),
      ...(claims ? { claims: changed('claim', claims) } : {}),
    };
  }
}

export function textAt(body: unknown, path: string): string | undefined {
  const found = valueAt(body, path);
  return typeof found === 'string' ? found : undefined;
}

/** Whether a text that cannot be read has the words of a name in it. */
export const mentions = (text: string, name: string): boolean => text.replace(/\s+/g, ' ').includes(name);
