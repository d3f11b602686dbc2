/** A formula from text to closure: parse, check, compile. */
import { type Diagnostic, diagnostic, hasErrors } from '../../diagnostics/catalog.ts';
import type { Expression } from './ast.ts';
import { check } from './check.ts';
import type { Checked, Read, RelatedRead, Uses, Variable } from './checked.ts';
import { compile } from './compile.ts';
import type { Compiled } from './runtime.ts';
import type { Scope } from './scope.ts';
import { type Type, booleanType, fits, typeName } from '../types/types.ts';

export interface Formula extends Uses {
  readonly text: string;
  readonly diagnostics: readonly Diagnostic[];
  readonly type: Type;
  readonly reads: readonly Read[];
  readonly expression?: Expression;
  /** What its parts are found to be, where it can be read at all. */
  readonly checked?: Checked;
  /** Absent when there are errors. */
  readonly evaluate?: Compiled;
}

const unknown: Type = { kind: 'any' };
const noUses: Uses = {
  related: [] as readonly RelatedRead[],
  tables: new Set(),
  clock: false,
  user: false,
  change: false,
};

export function createFormula(text: string, scope: Scope, variables: readonly Variable[] = []): Formula {
  const parsed = scope.parser.parse(text);
  if (!parsed.expression) return { text, diagnostics: parsed.diagnostics, type: unknown, reads: [], ...noUses };
  const { expression } = parsed;
  const checked = check(expression, scope, variables);
  const { type, reads, related, tables, clock, user, change, diagnostics } = checked;
  const base = { text, expression, checked, type, reads, related, tables, clock, user, change, diagnostics };
  return hasErrors(checked.diagnostics) ? base : { ...base, evaluate: compile(expression, checked, variables.length) };
}

/** A formula whose value must be true or false. */
export function createCondition(text: string, scope: Scope): Formula {
  const formula = createFormula(text, scope);
  if (!formula.evaluate || fits(formula.type, booleanType)) return formula;
  const range = { from: 0, to: text.length };
  const wrong = diagnostic('type.condition', range, { found: typeName(formula.type) });
  const { evaluate: _, ...rest } = formula;
  return { ...rest, diagnostics: [...formula.diagnostics, wrong] };
}
