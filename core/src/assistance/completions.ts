/** What may be written at a place in a formula: fields, options after a comparison, members after a dot, functions. */
import type { Variable } from '../language/expression/checked.ts';
import { quoteText } from '../language/types/text-literal.ts';
import { originName, previousName, selfName, userName, type Scope } from '../language/expression/scope.ts';
import { optionsOf, type Type, typeName } from '../language/types/types.ts';
import { functions } from '../language/functions/index.ts';
import { describeFunction } from './describe.ts';
import { Place } from './place.ts';

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
  const place = new Place(text.slice(0, at), scope, variables);
  const last = place.tokens.at(-1);
  if (last && (last.kind === 'comment' || last.kind === 'number')) return undefined;
  return optionsAt(place) ?? membersAt(place, scope) ?? namesAt(place, scope, variables);
}

const comparing: ReadonlySet<string> = new Set(['=', '!=', '<', '<=', '>', '>=', 'in', 'between']);

/** Options after `Stage =`, `Stage in ("Won", `, also while a quotation mark is open. */
function optionsAt(place: Place): Completions | undefined {
  const { text, tokens } = place;
  const last = tokens.at(-1);
  const open = last?.kind === 'text' && !/^"(?:\\.|[^"\\])*"$/.test(text.slice(last.from, last.to));
  let end = open ? tokens.length - 1 : tokens.length;
  // Back over what a list holds already, to the comparison.
  while (end > 0 && (tokens[end - 1]!.kind === 'text' || [',', '(', '['].includes(place.said(end - 1)))) end--;
  if (!comparing.has(place.said(end - 1))) return undefined;
  const value = place.valueBefore(end - 1);
  const options = value === undefined ? undefined : optionsOf(place.typeOf(value, end - 1));
  if (!options) return undefined;
  const list = options.names.map((label): Completion => ({
    label,
    insert: quoteText(label),
    kind: 'option',
    detail: `option of ${options.field}`,
  }));
  return { from: open ? last.from : text.length, list };
}

function membersAt(place: Place, scope: Scope): Completions | undefined {
  const { text, tokens } = place;
  const dot = tokens.findLastIndex((_, i) => place.said(i) === '.');
  if (dot < 1 || tokens.slice(dot + 1).some((t) => t.kind === 'operator' || t.kind === 'text')) return undefined;
  const from = (tokens[dot + 1] ?? { from: text.length }).from;
  const value = place.valueBefore(dot);
  if (value === undefined) return undefined;
  const list =
    value === previousName
      ? [...scope.fields.values()].map((f) => member(f.field.name, f.type))
      : membersOf(place.typeOf(value, dot));
  return list.length > 0 ? { from, list } : undefined;
}

/** What a value of a type, or each item of a list of such, has under names. */
function membersOf(type: Type): readonly Completion[] {
  const inner = type.kind === 'list' ? type.item : type;
  if (inner.kind === 'record') return inner.of.memberNames().map((n) => member(n, inner.of.member(n)!.type));
  return inner.kind === 'context' && inner.members ? [...inner.members].map(([n, t]) => member(n, t)) : [];
}

const member = (name: string, type: Type): Completion => ({
  label: name,
  insert: name,
  kind: 'member',
  detail: typeName(type),
});

function namesAt(place: Place, scope: Scope, variables: readonly Variable[]): Completions | undefined {
  const { text, tokens } = place;
  const last = tokens.at(-1);
  if (last?.kind === 'text') return undefined;
  // Names may hold spaces: what is being written is the longest run of words at the end that some name begins with.
  const words = /[\p{L}_][\p{L}\p{M}\p{N}_ ]*$/u.exec(text);
  const item = place.itemAt(tokens.length);
  // Inside a filter a name is the item's first: the record's own is then reached as `record.Name`.
  const parts = item ? membersOf(item) : [];
  const own = new Set(parts.map((p) => p.label));
  const all = [...parts, ...namesOf(scope, variables).filter((c) => !own.has(c.label))];
  // A word of the language that stands there whole asks for nothing, unless a name goes on from it.
  const whole = last?.kind === 'keyword' && last.to === text.length ? text.slice(last.from) : undefined;
  // Between two values it is that word; where a value is to begin, it may be the beginning of `origin`.
  const asWord = place.endsValue(tokens.length - 1);
  const goesOn = ({ kind, label }: Completion): boolean =>
    label !== whole && label.toLowerCase().startsWith(whole!) && !(asWord && kind === 'word');
  if (whole !== undefined && !all.some(goesOn)) return undefined;
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
    ...ownNames(scope),
    ...['and', 'or', 'if', 'then', 'else', 'between', 'in', 'true', 'false', 'null'].map((w): Completion => ({
      label: w,
      insert: w,
      kind: 'word',
      detail: '',
    })),
  ];
}

/** Names that mean something in every formula of a record type. */
function ownNames({ self, origin, user }: Scope): Completion[] {
  const word = (label: string, detail: string): Completion => ({ label, insert: `${label}.`, kind: 'word', detail });
  return [
    word(previousName, 'the value before the write'),
    ...(self ? [word(selfName, 'the record itself, inside a filter')] : []),
    ...(origin ? [word(originName, 'what the record is made from')] : []),
    ...(user ? [word(userName, 'who writes')] : []),
  ];
}
