/** Templates: text with formulas in braces. `{{` writes a brace. */
import { type Diagnostic, diagnostic, hasErrors } from '../../diagnostics/catalog.ts';
import { squeeze } from '../../values/unicode-case.ts';
import { type Value, isBlank, isList, valueToText } from '../../values/value.ts';
import type { Variable } from './checked.ts';
import { type Formula, createFormula } from './formula.ts';
import type { Compiled } from './runtime.ts';
import type { Scope } from './scope.ts';
import { tableAsValue } from './table-as-value.ts';

export type TemplatePart = { readonly text: string } | { readonly formula: string; readonly from: number };

/** The parts of a template in order; `open` is the offset of a brace that is never closed. */
export function templateParts(template: string): { readonly parts: readonly TemplatePart[]; readonly open?: number } {
  const parts: TemplatePart[] = [];
  let text = '';
  const flush = (): void => {
    if (text !== '') parts.push({ text });
    text = '';
  };
  for (let i = 0; i < template.length; i++) {
    const c = template[i]!;
    if ((c === '{' || c === '}') && template[i + 1] === c) {
      text += c;
      i++;
    } else if (c === '{') {
      const end = closingBrace(template, i + 1);
      if (end < 0) return { parts, open: i };
      flush();
      parts.push({ formula: template.slice(i + 1, end), from: i + 1 });
      i = end;
    } else text += c;
  }
  flush();
  return { parts };
}

/** Braces of contexts inside the formula come in pairs; those inside its texts do not count. */
function closingBrace(template: string, from: number): number {
  let depth = 0;
  let quoted = false;
  for (let i = from; i < template.length; i++) {
    const c = template[i];
    if (c === '\\' && quoted) i++;
    else if (c === '"') quoted = !quoted;
    else if (quoted) continue;
    else if (c === '{') depth++;
    else if (c === '}' && depth-- === 0) return i;
  }
  return -1;
}

export interface Template {
  readonly diagnostics: readonly Diagnostic[];
  readonly formulas: readonly Formula[];
  /** Where each of them begins. */
  readonly at: readonly number[];
  /** The text, or null where a formula is blank and gaps are not wanted. Absent when there are errors. */
  readonly evaluate?: Compiled;
}

/** `gaps`: a blank leaves a gap and the spaces are squeezed; otherwise it makes the whole blank. */
export function createTemplate(
  template: string,
  scope: Scope,
  gaps: boolean,
  variables: readonly Variable[] = [],
): Template {
  const { parts, open } = templateParts(template);
  const diagnostics: Diagnostic[] = [];
  const formulas: Formula[] = [];
  const at: number[] = [];
  if (open !== undefined) diagnostics.push(diagnostic('template.open', { from: open, to: template.length }));
  const compiled = parts.map((part): Compiled | string => {
    if ('text' in part) return part.text;
    const formula = createFormula(part.formula, scope, variables);
    formulas.push(formula);
    at.push(part.from);
    const whole = formula.evaluate && tableAsValue(formula.type, part.formula, scope);
    for (const d of [...formula.diagnostics, ...(whole ? [whole] : [])])
      diagnostics.push({ ...d, range: { from: d.range.from + part.from, to: d.range.to + part.from } });
    return formula.evaluate ?? (() => null);
  });
  if (hasErrors(diagnostics)) return { diagnostics, formulas, at };
  const evaluate: Compiled = (env) => {
    let result = '';
    for (const part of compiled) {
      const v = typeof part === 'string' ? part : part(env);
      if (isBlank(v) && !gaps) return null;
      result += isBlank(v) ? '' : plainText(v);
    }
    return gaps ? squeeze(result) : result;
  };
  return { diagnostics, formulas, at, evaluate };
}

const plainText = (v: Value): string => (isList(v) ? v.map((item) => valueToText(item)).join(', ') : valueToText(v));
