/** A derived value written as a formula or as a text with fields: one turned into the other where it says the same. */
import type { Expression } from '../language/expression/ast.ts';
import { createFormula } from '../language/expression/formula.ts';
import type { Scope } from '../language/expression/scope.ts';
import { templateParts } from '../language/expression/template.ts';

const escaped = (text: string): string => text.replace(/[{}]/g, (brace) => brace + brace);

/** `Name + ", " + Town` as `{Name}, {Town}`; undefined where the formula is more than texts put together. */
export function templateOfFormula(formula: string, scope: Scope): string | undefined {
  if (formula.trim() === '') return '';
  const { expression } = createFormula(formula, scope);
  const pieces = expression && piecesOf(expression, formula, scope);
  return pieces?.join('');
}

function piecesOf(e: Expression, text: string, scope: Scope): readonly string[] | undefined {
  if (e.kind === 'literal') return typeof e.value === 'string' ? [escaped(e.value)] : undefined;
  if (e.kind === 'name' || e.kind === 'path') return [`{${text.slice(e.range.from, e.range.to)}}`];
  if (e.kind === 'call' && e.name === 'string' && e.arguments.length === 1)
    return piecesOf(e.arguments[0]!, text, scope);
  if (e.kind !== 'arithmetic' || e.operator !== '+') return undefined;
  // Numbers are added by the same sign: only where texts are put together it is a text.
  const { type } = createFormula(text.slice(e.range.from, e.range.to), scope);
  if (type.kind !== 'text') return undefined;
  const [left, right] = [piecesOf(e.left, text, scope), piecesOf(e.right, text, scope)];
  return left && right ? [...left, ...right] : undefined;
}

/** `{Name}, {Town}` as `Name + ", " + Town`, what is no text written out; undefined where a part cannot be read. */
export function formulaOfTemplate(template: string, scope: Scope): string | undefined {
  const { parts, open } = templateParts(template);
  if (open !== undefined) return undefined;
  const pieces = parts.map((part) => {
    if ('text' in part) return JSON.stringify(part.text);
    const { type, expression } = createFormula(part.formula, scope);
    if (!expression) return undefined;
    const formula = part.formula.trim();
    if (type.kind !== 'text' && type.kind !== 'option') return `string(${formula})`;
    return expression.kind === 'name' || expression.kind === 'path' || expression.kind === 'call'
      ? formula
      : `(${formula})`;
  });
  if (pieces.some((p) => p === undefined)) return undefined;
  // One formula alone keeps its value as it is.
  const only = parts.length === 1 && 'formula' in parts[0]! ? parts[0].formula.trim() : undefined;
  return only ?? pieces.join(' + ');
}
