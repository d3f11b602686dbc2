/** The text editor of formulas and templates: CodeMirror with what core knows about the language. Loaded when needed. */
import {
  acceptCompletion,
  autocompletion,
  completionStatus,
  startCompletion,
  type Completion as Offer,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, insertNewline } from '@codemirror/commands';
import { EditorState, StateEffect, StateField, type Extension } from '@codemirror/state';
import { Decoration, EditorView, hoverTooltip, keymap, placeholder, type DecorationSet } from '@codemirror/view';
import { completionsAt, describeAt, tokensOf, type Completion } from '@rigid-rule/core/assistance';
import type { Diagnostic } from '@rigid-rule/core/diagnostics';
import { isolated, templateParts, type Scope, type Variable } from '@rigid-rule/core/language';

export interface EditorContext {
  readonly scope: Scope;
  /** Names besides the fields: scratch values of earlier steps, the matched record. */
  readonly variables: readonly Variable[];
  readonly template: boolean;
}

interface EditorOptions {
  readonly parent: HTMLElement;
  readonly text: string;
  readonly label: string;
  readonly placeholder: string;
  readonly context: () => EditorContext;
  readonly change: (text: string) => void;
  readonly begin: () => void;
}

export interface CodeEditor {
  /** Shows another text, unless it is there already. */
  show(text: string): void;
  mark(diagnostics: readonly Diagnostic[], describedBy: string | undefined): void;
  /** The names that may be used have changed. */
  refresh(): void;
  focus(): void;
  destroy(): void;
}

/** A formula within the text, and where it begins: the whole, or the one of a template that holds the place. */
function formulaAt(text: string, at: number, template: boolean): { text: string; from: number } | undefined {
  if (!template) return { text, from: 0 };
  const { parts, open } = templateParts(text);
  for (const part of parts)
    if ('formula' in part && at >= part.from && at <= part.from + part.formula.length)
      return { text: part.formula, from: part.from };
  return open !== undefined && at > open ? { text: text.slice(open + 1), from: open + 1 } : undefined;
}

const typeOfOffer = {
  field: 'property',
  option: 'enum',
  member: 'property',
  function: 'function',
  table: 'class',
  word: 'keyword',
};

const offer = (c: Completion, at: { from: number }): Offer => ({
  label: c.label,
  detail: c.detail,
  type: typeOfOffer[c.kind],
  ...(c.help ? { info: c.help } : {}),
  apply: (view, _, from, to) => {
    const after = view.state.sliceDoc(to, to + 1);
    // A quotation mark or bracket that stands there already is not doubled.
    const end = (c.insert.endsWith('"') && after === '"') || (c.insert.endsWith('(') && after === '(') ? to + 1 : to;
    const start = Math.min(from, at.from);
    view.dispatch({
      changes: { from: start, to: end, insert: c.insert },
      selection: { anchor: start + c.insert.length },
    });
    if (c.insert.endsWith('.')) startCompletion(view);
  },
});

const complete =
  (context: () => EditorContext) =>
  (c: CompletionContext): CompletionResult | null => {
    const { scope, variables, template } = context();
    const text = c.state.doc.toString();
    const formula = formulaAt(text, c.pos, template);
    if (!formula) return null;
    const found = completionsAt(formula.text, c.pos - formula.from, scope, variables);
    if (!found) return null;
    const at = { from: found.from + formula.from };
    if (!c.explicit && at.from === c.pos && found.list[0]?.kind !== 'option' && found.list[0]?.kind !== 'member')
      return null;
    // Options are looked for by what is written inside the quotation mark.
    const quoted = text[at.from] === '"';
    return {
      from: at.from + (quoted ? 1 : 0),
      options: found.list.map((x) => offer(x, at)),
      validFor: /^[\p{L}\p{N}_ ]*$/u,
    };
  };

const hover = (context: () => EditorContext): Extension =>
  hoverTooltip((view, pos) => {
    const { scope, variables, template } = context();
    const formula = formulaAt(view.state.doc.toString(), pos, template);
    const found = formula && describeAt(formula.text, pos - formula.from, scope, variables);
    if (!found) return null;
    return {
      pos: found.from + formula.from,
      end: found.to + formula.from,
      create() {
        const dom = document.createElement('div');
        const title = document.createElement('b');
        title.textContent = found.title;
        const text = document.createElement('p');
        text.textContent = found.text;
        dom.append(title, text);
        return { dom };
      },
    };
  });

const refreshed = StateEffect.define<null>();
const marked =
  StateEffect.define<readonly { readonly from: number; readonly to: number; readonly severity: string }[]>();

function paint(state: EditorState, context: () => EditorContext): DecorationSet {
  const { scope, variables, template } = context();
  const text = state.doc.toString();
  const names = variables.map((v) => v.name);
  const formulas = template
    ? templateParts(text).parts.flatMap((p) => ('formula' in p ? [{ text: p.formula, from: p.from }] : []))
    : [{ text, from: 0 }];
  return Decoration.set(
    formulas.flatMap((f) =>
      tokensOf(f.text, scope, names).map((t) => {
        const written = f.text.slice(t.from, t.to);
        return Decoration.mark({
          class: `tok-${t.kind}`,
          ...(isolated(written) === written ? {} : { attributes: { dir: 'auto' } }),
        }).range(f.from + t.from, f.from + t.to);
      }),
    ),
  );
}

const colours = (context: () => EditorContext): Extension =>
  StateField.define<DecorationSet>({
    create: (state) => paint(state, context),
    update: (now, tr) => (tr.docChanged || tr.effects.some((e) => e.is(refreshed)) ? paint(tr.state, context) : now),
    // Names that are read from right to left change no order of what is between them.
    provide: (field) => [EditorView.decorations.from(field), EditorView.bidiIsolatedRanges.from(field)],
  });

/** Where something is missing there is nothing to mark: the sign before it is. */
function seen(text: string, from: number, to: number): { readonly from: number; readonly to: number } {
  if (to > from) return { from, to };
  const last = text.slice(0, from).trimEnd().length;
  return { from: Math.max(0, last - 1), to: last };
}

const mistakes = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(now, tr) {
    for (const e of tr.effects)
      if (e.is(marked)) {
        const end = tr.state.doc.length;
        return Decoration.set(
          e.value
            .map((d) => ({ ...d, ...seen(tr.state.doc.toString(), Math.min(d.from, end), Math.min(d.to, end)) }))
            .filter((d) => d.to > d.from)
            .map((d) => Decoration.mark({ class: `wrong ${d.severity}` }).range(d.from, d.to)),
          true,
        );
      }
    return now.map(tr.changes);
  },
  provide: (field) => EditorView.decorations.from(field),
});

const pageNonce = (): string => document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce ?? '';

export function createCodeEditor(options: EditorOptions): CodeEditor {
  const { parent, text, label, context, change, begin } = options;
  let silent = false;
  const view = new EditorView({
    parent,
    state: EditorState.create({
      doc: text,
      extensions: [
        EditorView.cspNonce.of(pageNonce()),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false', autocorrect: 'off' }),
        placeholder(options.placeholder),
        history(),
        keymap.of([
          { key: 'Tab', run: (v) => completionStatus(v.state) === 'active' && acceptCompletion(v) },
          { key: 'Shift-Enter', run: insertNewline },
          // A formula is one line as a rule: Enter takes what is offered and otherwise does nothing.
          { key: 'Enter', run: () => true },
          // Undo reaches over the whole draft.
          ...historyKeymap.filter((k) => k.key !== 'Mod-z' && k.key !== 'Mod-y'),
          ...defaultKeymap.filter((k) => k.key !== 'Enter' && k.key !== 'Mod-Enter'),
        ]),
        autocompletion({ override: [complete(context)], icons: false, closeOnBlur: true }),
        hover(context),
        colours(context),
        mistakes,
        EditorView.updateListener.of((u) => {
          if (u.docChanged && !silent) change(u.state.doc.toString());
          if (u.focusChanged && u.view.hasFocus) begin();
        }),
      ],
    }),
  });
  return {
    show(now) {
      if (view.state.doc.toString() === now) return;
      silent = true;
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now } });
      silent = false;
    },
    mark(diagnostics, describedBy) {
      view.dispatch({ effects: marked.of(diagnostics.map((d) => ({ ...d.range, severity: d.severity }))) });
      const content = view.contentDOM;
      if (describedBy) {
        content.setAttribute('aria-invalid', 'true');
        content.setAttribute('aria-describedby', describedBy);
      } else {
        content.removeAttribute('aria-invalid');
        content.removeAttribute('aria-describedby');
      }
    },
    refresh: () => view.dispatch({ effects: refreshed.of(null) }),
    focus: () => view.focus(),
    destroy: () => view.destroy(),
  };
}
