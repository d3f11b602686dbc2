/**
 * Renaming a field, table or column: every formula, template and test that names it is rewritten in one act, with
 * spacing and comments kept. Texts that do not parse stay, and the former name is remembered.
 */
import { compileProgram } from '../engine/program.ts';
import { childrenOf, walk, type Expression } from '../expression/ast.ts';
import { check } from '../expression/check.ts';
import { createScope, extendScope, type Scope } from '../expression/scope.ts';
import { templateParts } from '../expression/template.ts';
import { givenTexts } from '../expression/given-texts.ts';
import { quoteText } from '../expression/text-literal.ts';
import { isFieldName } from './names.ts';
import { findRuleKind } from '../rule-kinds/index.ts';
import type { OutcomeText } from '../rule-kinds/rule-kind.ts';
import type { Cell, CellValue, Field, RecordType, Rule, Rulebook } from './document.ts';
import { applyPatch } from './patch.ts';

export type Renaming =
  | { readonly what: 'field'; readonly recordType: string; readonly key: string; readonly name: string }
  | {
      readonly what: 'option';
      readonly recordType: string;
      readonly field: string;
      readonly key: string;
      readonly name: string;
    }
  | { readonly what: 'table'; readonly key: string; readonly name: string }
  | { readonly what: 'column'; readonly table: string; readonly key: string; readonly name: string };

export type Renamed =
  | {
      readonly rulebook: Rulebook;
      /** Texts that were rewritten, by rule and path. */
      readonly rewritten: readonly { readonly rule: string; readonly path: string; readonly text: string }[];
    }
  | { readonly problem: string };

export function rename(rulebook: Rulebook, renaming: Renaming): Renamed {
  const { name } = renaming;
  if (renaming.what !== 'option' && !isFieldName(name))
    return {
      problem: `${name || 'Nothing'} cannot be a name: letters, digits and single spaces only, and no word of the language.`,
    };
  const named = withName(rulebook, renaming);
  if ('problem' in named) return named;
  const uses = renaming.what === 'option' ? rulesUsing(rulebook, renaming) : new Set<string>();
  const rewritten: { rule: string; path: string; text: string }[] = [];
  const rules = rulebook.rules.map((rule) => {
    const type = rulebook.recordTypes.find((t) => t.key === rule.recordType);
    if (!type) return rule;
    let changed = rule;
    for (const given of textsOf(rule)) {
      const { path, text } = given;
      const now = rewriteText(given, type, rulebook, renaming, named.former, scratchNames(rule));
      if (now === text) continue;
      rewritten.push({ rule: rule.key, path, text: now });
      changed = applyPatch(changed, [{ op: 'replace', path, value: now }]).value;
    }
    return renaming.what === 'option' ? optionInOutcome(changed, renaming, named.former, uses) : changed;
  });
  const result = { ...named.rulebook, rules };
  const broken = newlyBroken(rulebook, result);
  if (broken) return { problem: `${broken} would no longer mean the same: choose another name.` };
  return { rulebook: result, rewritten };
}

type OptionRenaming = Extract<Renaming, { what: 'option' }>;

/** Keys of the rules that read or write a field. */
function rulesUsing(rulebook: Rulebook, { recordType, field }: OptionRenaming): ReadonlySet<string> {
  const type = compileProgram(rulebook).types.get(recordType);
  const slot = type?.slotOf.get(field) ?? -1;
  const using = type?.rules.filter(
    (r) => [...r.reads.present, ...r.reads.previous, ...r.writes].includes(slot) || r.demands,
  );
  return new Set(using?.map((r) => r.rule.key));
}

/** Members of outcomes that hold options by name: pairs, groups, bands, grids. */
const optionMembers: ReadonlySet<string> = new Set(['from', 'to', 'result', 'value', 'values', 'allowed']);

function optionInOutcome(rule: Rule, { name }: OptionRenaming, former: string, uses: ReadonlySet<string>): Rule {
  if (!uses.has(rule.key)) return rule;
  let found = false;
  const rewrite = (v: unknown, holds: boolean): unknown => {
    if (holds && v === former) {
      found = true;
      return name;
    }
    if (Array.isArray(v)) return v.map((item) => rewrite(item, holds));
    if (typeof v !== 'object' || v === null) return v;
    return Object.fromEntries(Object.entries(v).map(([k, inner]) => [k, rewrite(inner, optionMembers.has(k))]));
  };
  const outcome = rewrite(rule.outcome, false);
  return found ? { ...rule, outcome } : rule;
}

/** Cells of the columns that hold the options of a field. */
function optionInTables(rulebook: Rulebook, { recordType, field, name }: OptionRenaming, former: string): Rulebook {
  if (!rulebook.tables) return rulebook;
  const renamed = (cell: Cell): Cell =>
    cell === former
      ? name
      : Array.isArray(cell)
        ? (cell as readonly CellValue[]).map((v) => (v === former ? name : v))
        : cell;
  const tables = rulebook.tables.map((table) => {
    const columns = [...table.keys, ...table.outputs].filter((c) => c.field === `${recordType}.${field}`);
    if (columns.length === 0) return table;
    const rows = table.rows.map((row) => {
      const changed = columns
        .filter((c) => row[c.key] !== undefined)
        .map((c) => [c.key, renamed(row[c.key]!)] as const);
      return { ...row, ...Object.fromEntries(changed) };
    });
    return { ...table, rows };
  });
  return { ...rulebook, tables };
}

/** All formulas and templates of a rule, by path in it. */
export function textsOf(rule: Rule): readonly OutcomeText[] {
  const own = (findRuleKind(rule.kind)?.texts(rule.outcome) ?? []).map((t) => ({ ...t, path: `/outcome${t.path}` }));
  const notices = (rule.notify ?? []).flatMap((n, i): OutcomeText[] => [
    { path: `/notify/${i}/to`, text: n.to },
    { path: `/notify/${i}/subject`, text: n.subject, template: true },
    { path: `/notify/${i}/body`, text: n.body, template: true },
  ]);
  const condition = rule.condition ? [{ path: '/condition', text: rule.condition }] : [];
  return [...condition, ...own, ...notices].filter((t) => t.text.trim() !== '');
}

function scratchNames(rule: Rule): readonly string[] {
  const { steps } = (rule.outcome ?? {}) as { steps?: unknown };
  const own = Array.isArray(steps) ? (steps as { scratch?: unknown }[]).map((s) => s.scratch) : [];
  return [...own.filter((s): s is string => typeof s === 'string' && s !== ''), 'match'];
}

/** The rulebook with the new name, and the former one; the parts that carry the name change, nothing else. */
function withName(rulebook: Rulebook, r: Renaming): { rulebook: Rulebook; former: string } | { problem: string } {
  if (r.what === 'field' || r.what === 'option') {
    const type = rulebook.recordTypes.find((t) => t.key === r.recordType);
    const key = r.what === 'field' ? r.key : r.field;
    const field = type?.fields.find((f) => f.key === key);
    if (!type || !field) return { problem: 'There is no such field.' };
    const option = r.what === 'option' ? field.options?.find((o) => o.key === r.key) : undefined;
    if (r.what === 'option' && !option) return { problem: 'There is no such option.' };
    const taken =
      r.what === 'field'
        ? type.fields.some((f) => f.key !== r.key && f.name === r.name)
        : field.options!.some((o) => o.key !== r.key && o.name === r.name);
    if (taken) return { problem: `${r.name} is taken.` };
    const now: Field =
      r.what === 'field'
        ? { ...field, name: r.name }
        : { ...field, options: field.options!.map((o) => (o.key === r.key ? { ...o, name: r.name } : o)) };
    const recordTypes = rulebook.recordTypes.map((t): RecordType =>
      t === type ? { ...t, fields: t.fields.map((f) => (f === field ? now : f)) } : t,
    );
    const formerNames =
      r.what === 'field' ? { formerNames: { ...rulebook.formerNames, [`${type.key}.${field.name}`]: r.name } } : {};
    const former = option?.name ?? field.name;
    const withTables = r.what === 'option' ? optionInTables(rulebook, r, former) : rulebook;
    return { rulebook: { ...withTables, recordTypes, ...formerNames }, former };
  }
  const key = r.what === 'table' ? r.key : r.table;
  const table = rulebook.tables?.find((t) => t.key === key);
  if (!table) return { problem: 'There is no such table.' };
  const column = r.what === 'column' ? [...table.keys, ...table.outputs].find((c) => c.key === r.key) : undefined;
  if (r.what === 'column' && !column) return { problem: 'There is no such column.' };
  const renamed = <T extends { key: string; name: string }>(list: readonly T[]): T[] =>
    list.map((c) => (c.key === r.key ? { ...c, name: r.name } : c));
  const now =
    r.what === 'table'
      ? { ...table, name: r.name }
      : { ...table, keys: renamed(table.keys), outputs: renamed(table.outputs) };
  const tables = rulebook.tables!.map((t) => (t === table ? now : t));
  return { rulebook: { ...rulebook, tables }, former: column?.name ?? table.name };
}

function rewriteText(
  { text, template, gives }: OutcomeText,
  type: RecordType,
  rulebook: Rulebook,
  renaming: Renaming,
  former: string,
  names: readonly string[],
): string {
  const scope = extendScope(createScope(type, rulebook), names);
  if (!template) return rewriteFormula(text, scope, rulebook, renaming, former, gives);
  let result = '';
  let at = 0;
  for (const part of templateParts(text).parts) {
    if (!('formula' in part)) continue;
    result += text.slice(at, part.from) + rewriteFormula(part.formula, scope, rulebook, renaming, former);
    at = part.from + part.formula.length;
  }
  return result + text.slice(at);
}

/** The new name at each place where the former one stands for what is renamed; all other characters as they are. */
function rewriteFormula(
  text: string,
  scope: Scope,
  rulebook: Rulebook,
  renaming: Renaming,
  former: string,
  gives?: string,
): string {
  if (!text.includes(former.split(' ')[0]!)) return text;
  const { expression } = scope.parser.parse(text);
  if (!expression) return text;
  const { types, meanings } = check(expression, scope);
  const places: { from: number; to: number; by: string }[] = [];
  const put = (range: { from: number; to: number }, by = renaming.name): void =>
    void places.push({ from: range.from, to: range.to, by });
  const typeKey = (e: Expression): string | undefined => {
    const t = types.get(e);
    const item = t?.kind === 'list' ? t.item : t;
    return item?.kind === 'record' ? item.of.key : undefined;
  };
  const ofType = renaming.what === 'field' || renaming.what === 'option' ? renaming.recordType : '';
  const ownType = scope.self?.key;
  const filters: string[] = [];
  const visit = (e: Expression): void => {
    if (e.kind === 'name' && e.name === former) {
      const meaning = meanings.get(e);
      if (renaming.what === 'field' && meaning?.kind === 'field' && ownType === ofType) put(e.range);
      if (renaming.what === 'field' && meaning?.kind === 'member' && filters.at(-1) === ofType) put(e.range);
      if (renaming.what === 'table' && meaning?.kind === 'table' && meaning.key === renaming.key) put(e.range);
      if (renaming.what === 'column' && meaning?.kind === 'member' && filters.at(-1) === `table:${renaming.table}`)
        put(e.range);
    }
    if (e.kind === 'path' && e.name === former) {
      const meaning = meanings.get(e);
      const own = meaning?.kind === 'field' && ownType === ofType;
      if (renaming.what === 'field' && (own || typeKey(e.object) === ofType)) put(e.nameRange);
      if (renaming.what === 'column' && tableOf(e.object, meanings) === renaming.table) put(e.nameRange);
    }
    if (renaming.what === 'option') optionPlaces(e, types, renaming, rulebook, former, put);
    if (e.kind === 'filter') {
      visit(e.object);
      const table = tableOf(e.object, meanings);
      filters.push(table === undefined ? (typeKey(e.object) ?? '') : `table:${table}`);
      visit(e.condition);
      filters.pop();
      return;
    }
    for (const child of childrenOf(e)) visit(child);
  };
  visit(expression);
  // What the formula gives to the field is one of its options.
  if (renaming.what === 'option' && ownType === ofType && gives === renaming.field)
    for (const given of givenTexts(expression)) if (given.text === former) put(given.range, quoteText(renaming.name));
  const sorted = [...new Map(places.map((p) => [p.from, p])).values()].sort((a, b) => b.from - a.from);
  return sorted.reduce((so, { from, to, by }) => so.slice(0, from) + by + so.slice(to), text);
}

function tableOf(e: Expression, meanings: ReturnType<typeof check>['meanings']): string | undefined {
  if (e.kind === 'filter') return tableOf(e.object, meanings);
  const meaning = e.kind === 'name' ? meanings.get(e) : undefined;
  return meaning?.kind === 'table' ? meaning.key : undefined;
}

/** Texts that are compared with a field of the options, or stand in a list that is. */
function optionPlaces(
  e: Expression,
  types: ReturnType<typeof check>['types'],
  renaming: Extract<Renaming, { what: 'option' }>,
  rulebook: Rulebook,
  former: string,
  put: (range: { from: number; to: number }, by: string) => void,
): void {
  const field = rulebook.recordTypes
    .find((t) => t.key === renaming.recordType)
    ?.fields.find((f) => f.key === renaming.field);
  const isOption = (x: Expression): boolean => {
    const t = types.get(x);
    const item = t?.kind === 'list' ? t.item : t;
    return item?.kind === 'option' && item.options.field === field?.name;
  };
  const rewrite = (x: Expression): void =>
    walk(x, (inner) => {
      if (inner.kind === 'literal' && inner.value === former) put(inner.range, quoteText(renaming.name));
    });
  if (e.kind === 'comparison') {
    if (isOption(e.left)) rewrite(e.right);
    if (isOption(e.right)) rewrite(e.left);
  }
  if (e.kind === 'in' && isOption(e.operand))
    for (const t of e.tests) for (const x of t.kind === 'interval' ? [t.low, t.high] : [t.value]) rewrite(x);
  if (e.kind === 'between' && isOption(e.operand)) for (const x of [e.low, e.high]) rewrite(x);
  if (e.kind === 'call' && e.arguments.some(isOption)) e.arguments.filter((a) => a.kind === 'literal').forEach(rewrite);
}

/** A rule that compiled before and does not under the new names, or reads something else. */
function newlyBroken(before: Rulebook, after: Rulebook): string | undefined {
  const describe = (book: Rulebook): Map<string, string> =>
    new Map(
      [...compileProgram(book).types.values()].flatMap((t) =>
        t.rules.map(
          (r) =>
            [
              r.rule.key,
              JSON.stringify([r.sound, r.reads, r.wakes, r.related.map((x) => [x.recordType, x.field])]),
            ] as const,
        ),
      ),
    );
  const [a, b] = [describe(before), describe(after)];
  const different = [...a].find(([key, text]) => b.get(key) !== text && text.startsWith('[true'));
  return different && (before.rules.find((r) => r.key === different[0])?.name ?? different[0]);
}
