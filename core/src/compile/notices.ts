/** Notifications of a rule, compiled once. */
import type { Diagnostic } from '../diagnostics/catalog.ts';
import type { Notice } from '../document/document.ts';
import { createFormula } from '../language/expression/formula.ts';
import type { Compiled } from '../language/expression/runtime.ts';
import type { Scope } from '../language/expression/scope.ts';
import { createTemplate } from '../language/expression/template.ts';
import type { PlacedFormula } from './rule-kinds/rule-kind.ts';

export interface CompiledNotice {
  readonly notice: Notice;
  readonly to: Compiled;
  readonly subject: Compiled;
  readonly body: Compiled;
}

export interface CompiledNotices {
  readonly notices: readonly CompiledNotice[];
  readonly diagnostics: readonly Diagnostic[];
  readonly formulas: readonly PlacedFormula[];
}

export function compileNotices(notices: readonly Notice[], scope: Scope): CompiledNotices {
  const diagnostics: Diagnostic[] = [];
  const formulas: PlacedFormula[] = [];
  const compiled = notices.flatMap((notice, i): CompiledNotice[] => {
    const path = `/notify/${i}`;
    const to = createFormula(notice.to, scope);
    formulas.push({ path: `${path}/to`, at: 0, formula: to });
    diagnostics.push(...to.diagnostics.map((d) => ({ ...d, path: `${path}/to` })));
    const text = (part: 'subject' | 'body'): Compiled | undefined => {
      const template = createTemplate(notice[part], scope, true);
      template.formulas.forEach((formula, at) =>
        formulas.push({ path: `${path}/${part}`, at: template.at[at]!, formula }),
      );
      diagnostics.push(...template.diagnostics.map((d) => ({ ...d, path: `${path}/${part}` })));
      return template.evaluate;
    };
    const [subject, body] = [text('subject'), text('body')];
    return to.evaluate && subject && body ? [{ notice, to: to.evaluate, subject, body }] : [];
  });
  return { notices: compiled, diagnostics, formulas };
}
