/** What may be written at a place in a formula: fields, options after a comparison, members after a dot, functions. */
import { createFormula } from '../language/expression/formula.ts';
import type { Variable } from '../language/expression/checked.ts';
import { quoteText } from '../language/types/text-literal.ts';
import type { Scope } from '../language/expression/scope.ts';
import { type Type, typeName } from '../language/types/types.ts';
import { functions } from '../language/functions/index.ts';
import { describeFunction } from './describe.ts';
import { type Token, tokensOf } from './tokens.ts';

export type CompletionKind = 'field' | 'option' | 'member' | 'function' | 'table' | 'word';

export interface Completion {
  readonly label: string;
  /** What is put in the place of what stands from `from` on. */
  readonly insert: string;
  readonly kind: CompletionKind;
  readonly detail: string;
  readonly help?: string;
}

export interface Completions {
  /** Where what is being written begins. */
  readonly from: number;
  readonly list: readonly Completion[];
}

/** @param at offset of the cursor. */
export function completionsAt(
  text: string,
  at: number,
  scope: Scope,
  variables: readonly Variable[] = [],
): Completions | undefined {
  const before = text.slice(0, at);
  const tokens = tokensOf(
    before,
    scope,
    variables.map((v) => v.name),
  );
  const last = tokens.at(-1);
  if (last && (last.kind === 'comment' || last.kind === 'number')) return undefined;
  return (
    optionsAt(before, tokens, scope, variables) ??
    membersAt(before, tokens, scope, variables) ??
    namesAt(before, tokens, scope, variables)
  );
}

/** The path that ends before token `end`: names joined by dots. */
function pathBefore(text: string, tokens: readonly Token[], end: number): string | undefined {
  let i = end;
  while (i > 0 && tokens[i - 1]!.kind === 'name') {
    i--;
    if (i > 0 && text.slice(tokens[i - 1]!.from, tokens[i - 1]!.to) === '.') i--;
    else break;
  }
  return i === end ? undefined : text.slice(tokens[i]!.from, tokens[end - 1]!.to);
}

const typeOf = (path: string, scope: Scope, variables: readonly Variable[]): Type =>
  createFormula(path, scope, variables).type;

const comparing: ReadonlySet<string> = new Set(['=', '!=', '<', '<=', '>', '>=', 'in', 'between']);

/** Options after `Stage =`, `Stage in ("Won", `, also while a quotation mark is open. */
function optionsAt(
  text: string,
  tokens: readonly Token[],
  scope: Scope,
  variables: readonly Variable[],
): Completions | undefined {
  const last = tokens.at(-1);
  const open = last?.kind === 'text' && !/^"(?:\\.|[^"\\])*"$/.test(text.slice(last.from, last.to));
  let end = open ? tokens.length - 1 : tokens.length;
  const said = (i: number): string => (tokens[i] ? text.slice(tokens[i].from, tokens[i].to) : '');
  // Back over what a list holds already, to the comparison.
  while (end > 0 && (tokens[end - 1]!.kind === 'text' || [',', '(', '['].includes(said(end - 1)))) end--;
  if (!comparing.has(said(end - 1))) return undefined;
  const path = pathBefore(text, tokens, end - 1);
  const type = path === undefined ? undefined : typeOf(path, scope, variables);
  const options =
    type?.kind === 'option' ? type : type?.kind === 'list' && type.item.kind === 'option' ? type.item : undefined;
  if (options?.kind !== 'option') return undefined;
  const list = options.options.names.map((label): Completion => ({
    label,
    insert: quoteText(label),
    kind: 'option',
    detail: `option of ${options.options.field}`,
  }));
  return { from: open ? last.from : text.length, list };
}

function membersAt(
  text: string,
  tokens: readonly Token[],
  scope: Scope,
  variables: readonly Variable[],
): Completions | undefined {
  const dot = tokens.findLastIndex((t) => text.slice(t.from, t.to) === '.');
  if (dot < 1 || tokens.slice(dot + 1).some((t) => t.kind === 'operator' || t.kind === 'text')) return undefined;
  const from = (tokens[dot + 1] ?? { from: text.length }).from;
  const object = pathBefore(text, tokens, dot);
  if (object === undefined) return undefined;
  if (object === 'previous') {
    const list = [...scope.fields.values()].map((f) => member(f.field.name, f.type));
    return { from, list };
  }
  const type = typeOf(object, scope, variables);
  const inner = type.kind === 'list' ? type.item : type;
  if (inner.kind === 'record')
    return { from, list: inner.of.memberNames().map((n) => member(n, inner.of.member(n)!.type)) };
  if (inner.kind === 'context' && inner.members)
    return { from, list: [...inner.members].map(([n, t]) => member(n, t)) };
  return undefined;
}

const member = (name: string, type: Type): Completion => ({
  label: name,
  insert: name,
  kind: 'member',
  detail: typeName(type),
});

function namesAt(
  text: string,
  tokens: readonly Token[],
  scope: Scope,
  variables: readonly Variable[],
): Completions | undefined {
  const last = tokens.at(-1);
  if (last?.kind === 'text') return undefined;
  // Names may hold spaces: what is being written is the longest run of words at the end that some name begins with.
  const words = /[\p{L}_][\p{L}\p{M}\p{N}_ ]*$/u.exec(text);
  const all = namesOf(scope, variables);
  // A word of the language that stands there whole asks for nothing, unless a name goes on from it.
  const whole = last?.kind === 'keyword' && last.to === text.length ? text.slice(last.from) : undefined;
  if (whole !== undefined && !all.some(({ label }) => label !== whole && label.toLowerCase().startsWith(whole)))
    return undefined;
  if (!words) return { from: text.length, list: all };
  for (let from = words.index; from < text.length; from++) {
    if (from > words.index && text[from - 1] !== ' ') continue;
    const written = text.slice(from).toLowerCase();
    if (written.trim() !== '' && all.some((c) => c.label.toLowerCase().startsWith(written))) return { from, list: all };
  }
  const lastWord = text.length - (/[\p{L}\p{M}\p{N}_]*$/u.exec(text)?.[0].length ?? 0);
  return { from: lastWord, list: all };
}

function namesOf(scope: Scope, variables: readonly Variable[]): Completion[] {
  const lists = (scope.self?.memberNames() ?? []).filter((n) => !scope.fields.has(n));
  return [
    ...variables.map((v): Completion => ({ label: v.name, insert: v.name, kind: 'word', detail: typeName(v.type) })),
    ...[...scope.fields.values()].map(({ field, type }): Completion => {
      const { label } = field as { label?: string };
      return {
        label: field.name,
        insert: field.name,
        kind: 'field',
        detail: typeName(type),
        ...(label ? { help: `On forms: ${label}` } : {}),
      };
    }),
    ...lists.map((n): Completion => ({
      label: n,
      insert: n,
      kind: 'field',
      detail: typeName(scope.self!.member(n)!.type),
    })),
    ...[...scope.tables.keys()].map((n): Completion => ({
      label: n,
      insert: n,
      kind: 'table',
      detail: 'mapping table',
    })),
    ...functions.map((f): Completion => {
      const { signature, help, example } = describeFunction(f);
      return { label: f.name, insert: `${f.name}(`, kind: 'function', detail: signature, help: `${help} ${example}` };
    }),
    { label: 'previous', insert: 'previous.', kind: 'word', detail: 'the value before the write' },
    { label: 'user', insert: 'user.', kind: 'word', detail: 'who writes' },
    ...['and', 'or', 'if', 'then', 'else', 'between', 'in', 'true', 'false', 'null'].map((w): Completion => ({
      label: w,
      insert: w,
      kind: 'word',
      detail: '',
    })),
  ];
}
