/** The text literals that a formula may give as its result, each where it stands: what is checked against options. */
import type { TextRange } from '../../diagnostics/catalog.ts';
import type { Expression } from './ast.ts';

export interface GivenText {
  readonly text: string;
  readonly range: TextRange;
}

/** Through conditionals, lists and `first filled`; what other functions give is known only when they run. */
export function givenTexts(e: Expression): GivenText[] {
  switch (e.kind) {
    case 'literal':
      return typeof e.value === 'string' ? [{ text: e.value, range: e.range }] : [];
    case 'if':
      return [...givenTexts(e.then), ...givenTexts(e.otherwise)];
    case 'list':
      return e.items.flatMap(givenTexts);
    case 'call':
      return e.name === 'first filled' ? e.arguments.flatMap(givenTexts) : [];
    default:
      return [];
  }
}
