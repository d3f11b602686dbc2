/**
 * Renaming a part of the rulebook: everything that names it is rewritten in one act, with spacing and comments kept.
 * What names it is found by what the checker knows of each formula; what looks like it and cannot be known to be it is
 * left and told. The former name is remembered.
 */
import { fieldTypeOf, linkedType } from '../language/field-types/index.ts';
import { compileProgram } from '../compile/program.ts';
import { type CompiledRule, type Program } from '../compile/compiled.ts';
import type { Named } from '../language/expression/checked.ts';
import { type OptionFlow, optionTexts, optionTextsOfTests } from '../language/expression/option-texts.ts';
import { createOpenScope } from '../language/expression/scope.ts';
import { createCondition } from '../language/expression/formula.ts';
import { checkTests } from '../language/expression/check.ts';
import { walk } from '../language/expression/ast.ts';
import { quoteText } from '../language/expression/text-literal.ts';
import type { OptionNames } from '../language/expression/types.ts';
import { optionNames } from '../language/field-types/options.ts';
import { columnField } from '../language/expression/shapes.ts';
import type { Cell, Field, MappingTable, RecordType, RuleTest, Rulebook } from '../document/document.ts';
import { isFieldName } from '../document/names.ts';
import { optionOwner } from '../document/shared-options.ts';
import { applyPatch, pointer, valueAt } from '../document/patch.ts';
import type { PartRef } from '../document/parts.ts';

export type Renaming =
  | { readonly what: 'field'; readonly recordType: string; readonly key: string; readonly name: string }
  /** The plural of a record type: the child lists that have no name of their own. */
  | { readonly what: 'plural'; readonly recordType: string; readonly name: string }
  /** The other end of a lookup; without a name it is the plural again. */
  | { readonly what: 'children'; readonly recordType: string; readonly key: string; readonly name: string }
  | {
      readonly what: 'option';
      readonly recordType: string;
      readonly field: string;
      readonly key: string;
      readonly name: string;
    }
  | { readonly what: 'table'; readonly key: string; readonly name: string }
  | { readonly what: 'column'; readonly table: string; readonly key: string; readonly name: string };

/** A text of a part, by JSON Pointer (RFC 6901). */
export interface TextAt {
  readonly part: PartRef;
  readonly path: string;
  readonly text: string;
}

export type Renamed =
  | {
      readonly rulebook: Rulebook;
      /** Texts that were rewritten, as they are now. */
      readonly rewritten: readonly (TextAt & { readonly from: string })[];
      /** Texts that look like it and were left, because it cannot be known that they mean it. */
      readonly left: readonly TextAt[];
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
  const search =
    renaming.what === 'option'
      ? new OptionSearch(rulebook, renaming, named.former)
      : new NameSearch(rulebook, named.names, named.former, name);
  search.run();
  const result = search.applyTo(named.rulebook);
  const broken = newlyBroken(rulebook, result);
  if (broken) return { problem: `${broken} would no longer mean the same: choose another name.` };
  return { rulebook: result, rewritten: search.rewritten, left: search.left };
}

interface Place {
  readonly from: number;
  readonly to: number;
  readonly by: string;
}

/** A part with its formulas, each at a place in one of its texts. */
interface Holder {
  readonly part: PartRef;
  readonly body: unknown;
  readonly formulas: CompiledRule['placed']['formulas'];
}

/** Goes through all texts of a rulebook and gathers what has to be written in their place. */
abstract class Search {
  readonly rewritten: (TextAt & { from: string })[] = [];
  readonly left: TextAt[] = [];
  protected readonly rulebook: Rulebook;
  protected readonly program: Program;
  protected readonly former: string;

  constructor(rulebook: Rulebook, former: string) {
    this.rulebook = rulebook;
    this.program = compileProgram(rulebook);
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

  protected put(part: PartRef, body: unknown, path: string, places: readonly Place[]): void {
    const from = textAt(body, path);
    if (from === undefined || places.length === 0) return;
    const sorted = [...new Map(places.map((p) => [p.from, p])).values()].sort((a, b) => b.from - a.from);
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

/** Fields, child lists, tables and columns: what a name in a formula names. */
class NameSearch extends Search {
  private readonly isIt: (named: Named) => boolean | 'perhaps';
  private readonly by: string;

  constructor(rulebook: Rulebook, isIt: (named: Named) => boolean | 'perhaps', former: string, by: string) {
    super(rulebook, former);
    this.isIt = isIt;
    this.by = by;
  }

  run(): void {
    for (const { part, body, formulas } of this.holders()) {
      const places = new Map<string, Place[]>();
      for (const { path, at, formula } of formulas) {
        const { expression, checked } = formula;
        const whole = textAt(body, path) ?? '';
        // The key of a lookup may stand where a formula does.
        if (whole.slice(at, at + formula.text.length) !== formula.text) continue;
        if (!expression || !checked) {
          if (mentions(formula.text, this.former)) this.leave(part, path, whole);
          continue;
        }
        walk(expression, (e) => {
          const named = checked.named.get(e);
          const found = named ? this.isIt(named) : false;
          if (found === 'perhaps') this.leave(part, path, whole);
          const range = e.kind === 'path' ? e.nameRange : e.range;
          if (found !== true) return;
          const own = places.get(path) ?? [];
          places.set(path, [...own, { from: at + range.from, to: at + range.to, by: this.by }]);
        });
      }
      for (const [path, found] of places) this.put(part, body, path, found);
    }
  }
}

type OptionRenaming = Extract<Renaming, { what: 'option' }>;

/** Texts that stand for an option: in formulas by what they meet, elsewhere by where they stand. */
class OptionSearch extends Search {
  private readonly name: string;
  /** The option's lists: the field's own, those that share it, those whose values become its values or come from them. */
  readonly lists = new Set<OptionNames>();
  private readonly fieldOf = new Map<OptionNames, { readonly type: RecordType; readonly field: Field }>();
  private readonly flows = new Map<string, OptionFlow>();
  private readonly columns = new Map<string, Set<OptionNames>>();

  constructor(rulebook: Rulebook, { recordType, field, name }: OptionRenaming, former: string) {
    super(rulebook, former);
    this.name = name;
    const asked = this.program.rulebook.recordTypes.find((t) => t.key === recordType)!;
    const owner = optionOwner(
      asked.fields,
      asked.fields.find((f) => f.key === field)!,
    ).key;
    for (const type of this.program.rulebook.recordTypes)
      for (const f of type.fields) if (f.options) this.fieldOf.set(optionNames(f), { type, field: f });
    for (const [list, at] of this.fieldOf)
      if (at.type.key === recordType && optionOwner(at.type.fields, at.field).key === owner) this.lists.add(list);
  }

  run(): void {
    for (const { rule, placed } of this.rules())
      placed.formulas.forEach(({ formula: { expression, checked }, gives }, i) => {
        if (expression && checked)
          this.flows.set(`${rule.key}:${i}`, optionTexts(expression, checked, gives ? [gives] : []));
      });
    this.linkLists();
    for (const r of this.rules()) this.inRule(r);
    for (const claim of this.claims())
      this.inFormulas(
        claim,
        claim.formulas.map(({ formula: { expression, checked } }) =>
          expression && checked ? optionTexts(expression, checked, []) : undefined,
        ),
        true,
      );
    for (const table of this.rulebook.tables ?? []) this.inTable(table);
    for (const test of this.rulebook.tests ?? []) this.inTest(test);
  }

  /** A list whose values are given to one of these, or get theirs, has the option under the same name: it follows. */
  private linkLists(): void {
    for (let known = -1; known !== this.lists.size;) {
      known = this.lists.size;
      for (const { rule, placed } of this.rules())
        placed.formulas.forEach(({ gives }, i) => {
          const sources = [...(this.flows.get(`${rule.key}:${i}`)?.gives ?? [])];
          const all = gives ? [gives, ...sources] : [];
          if (all.length < 2 || !all.some((o) => this.lists.has(o))) return;
          for (const o of all) if (o.names.includes(this.former)) this.lists.add(o);
        });
    }
  }

  private isIt(options: Iterable<OptionNames>): boolean | 'perhaps' {
    const met = [...options];
    const own = met.filter((o) => this.lists.has(o)).length;
    return own === 0 ? (met.length === 0 ? 'perhaps' : false) : own === met.length ? true : 'perhaps';
  }

  private note(columns: ReadonlyMap<string, ReadonlySet<OptionNames>>): void {
    for (const [column, options] of columns)
      this.columns.set(column, new Set([...(this.columns.get(column) ?? []), ...options]));
  }

  /** `uses`: what may mean the option is told. */
  private inFormulas(
    { part, body, formulas }: Holder,
    flows: readonly (OptionFlow | undefined)[],
    uses: boolean,
  ): void {
    const places = new Map<string, Place[]>();
    formulas.forEach(({ path, at, formula }, i) => {
      const flow = flows[i];
      const whole = textAt(body, path) ?? '';
      if (!flow) {
        if (formula.text.includes(this.former)) this.leave(part, path, whole);
        return;
      }
      this.note(flow.columns);
      for (const { text, range, isKey, options, columns } of flow.texts) {
        if (text !== this.former) continue;
        const ofColumns = [...columns].flatMap((c) => [...(this.boundTo(c) ?? [])]);
        const found = this.isIt([...options, ...ofColumns]);
        if (found === 'perhaps' && uses) this.leave(part, path, whole);
        if (found !== true) continue;
        const written = whole.slice(at + range.from, at + range.to);
        const by = isKey && !written.startsWith('"') && isFieldName(this.name) ? this.name : quoteText(this.name);
        places.set(path, [...(places.get(path) ?? []), { from: at + range.from, to: at + range.to, by }]);
      }
    });
    for (const [path, found] of places) this.put(part, body, path, found);
  }

  private inRule(r: CompiledRule): void {
    const { rule, placed } = r;
    const part = { kind: 'rule', key: rule.key } as const;
    const uses = this.isUsedBy(r);
    this.inFormulas(
      { part, body: rule, formulas: placed.formulas },
      placed.formulas.map((_, i) => this.flows.get(`${rule.key}:${i}`)),
      uses,
    );
    for (const { table, column, options } of placed.columns)
      this.note(new Map([[`${table}.${column}`, new Set([options])]]));
    this.inOutcome(r, uses);
  }

  /** Options by name in the outcome itself: pairs, groups, bands, grids. */
  private inOutcome({ rule, placed }: CompiledRule, uses: boolean): void {
    const part = { kind: 'rule', key: rule.key } as const;
    const formulas = new Set(placed.formulas.map((f) => f.path));
    for (const [path, text] of textsIn(rule.outcome, '/outcome')) {
      if (text !== this.former || formulas.has(path)) continue;
      const options = placed.options
        .filter((o) => o.path === path || path.startsWith(`${o.path}/`))
        .map((o) => o.options);
      const found = this.isIt(options);
      if (found === true) this.put(part, rule, path, [{ from: 0, to: text.length, by: this.name }]);
      else if (found === 'perhaps' && uses && !isPlainPart(path)) this.leave(part, path, text);
    }
  }

  private isUsedBy({ rule, reads, writes, related, placed }: CompiledRule): boolean {
    const type = this.program.types.get(rule.recordType);
    const slots = [...reads.present, ...reads.previous, ...writes];
    return (
      slots.some((slot) => this.isFieldOfLists(rule.recordType, type?.slots[slot]?.field.key)) ||
      related.some((x) => this.isFieldOfLists(x.recordType, x.field)) ||
      placed.options.some((o) => this.lists.has(o.options)) ||
      placed.formulas.some((_, i) =>
        [...(this.flows.get(`${rule.key}:${i}`)?.gives ?? [])].some((o) => this.lists.has(o)),
      )
    );
  }

  private isFieldOfLists(recordType: string, key: string | undefined): boolean {
    return [...this.lists].some((o) => {
      const at = this.fieldOf.get(o);
      return at?.type.key === recordType && at.field.key === key;
    });
  }

  /** The options of the field that a column is bound to; undefined where it holds plain values. */
  private boundTo(column: string): readonly OptionNames[] | undefined {
    const [table, key] = column.split('.');
    const found = this.rulebook.tables?.find((t) => t.key === table);
    const own = found && [...found.keys, ...found.outputs].find((c) => c.key === key);
    const field = own && columnField(own, this.program.rulebook);
    return field && (field.options ? [optionNames(field)] : []);
  }

  private inTable(table: MappingTable): void {
    const part = { kind: 'table', key: table.key } as const;
    for (const column of [...table.keys, ...table.outputs]) {
      const id = `${table.key}.${column.key}`;
      const bound = this.boundTo(id);
      const met = [...(bound ?? this.columns.get(id) ?? [])];
      const found = this.isIt(met);
      if (found === false || (met.length === 0 && found === 'perhaps')) continue;
      table.rows.forEach((row, i) => {
        for (const [path, text] of cellTexts(row[column.key], `/rows/${i}/${column.key}`)) {
          if (path.endsWith('/tests')) this.inTests(part, table, path, text, met);
          else if (text !== this.former) continue;
          else if (found === true) this.put(part, table, path, [{ from: 0, to: text.length, by: this.name }]);
          else this.leave(part, path, text);
        }
      });
      column.order?.forEach((v, i) => {
        const side = table.keys.includes(column) ? 'keys' : 'outputs';
        const at = table[side].indexOf(column);
        if (v === this.former && found === true)
          this.put(part, table, `/${side}/${at}/order/${i}`, [{ from: 0, to: v.length, by: this.name }]);
      });
    }
  }

  private inTests(part: PartRef, table: MappingTable, path: string, text: string, met: readonly OptionNames[]): void {
    const { tests } = testScope.parser.parseTests(text);
    const { texts } = optionTextsOfTests(tests, checkTests(tests, testScope), met);
    const places: Place[] = [];
    for (const t of texts) {
      if (t.text !== this.former) continue;
      const found = this.isIt(t.options);
      if (found === true) places.push({ ...t.range, by: quoteText(this.name) });
      else if (found === 'perhaps') this.leave(part, path, text);
    }
    if (tests.length === 0 && text.includes(this.former)) this.leave(part, path, text);
    this.put(part, table, path, places);
  }

  /** What a test sends and expects may be said by name. */
  private inTest(test: RuleTest): void {
    const part = { kind: 'test', key: test.key } as const;
    const values: [string, string, unknown][] = [
      ...Object.entries(test.sent).map(([f, v]): [string, string, unknown] => [f, `/sent/${f}`, v]),
      ...Object.entries(test.expect.fields ?? {}).map(([f, v]): [string, string, unknown] => [
        f,
        `/expect/fields/${f}`,
        v,
      ]),
      ...this.caseValues(test),
    ];
    for (const [field, at, value] of values)
      if (this.isFieldOfLists(test.recordType, field))
        for (const [path, text] of textsIn(value, at))
          if (text === this.former) this.put(part, test, path, [{ from: 0, to: text.length, by: this.name }]);
  }

  private caseValues({ family }: RuleTest): [string, string, unknown][] {
    if (!family?.cases) return [];
    const { sent, expected, rows } = family.cases;
    return rows.flatMap((row, i) =>
      [...sent, ...expected].map((field, c): [string, string, unknown] => [
        field,
        `/family/cases/rows/${i}/${c}`,
        row[c] ?? null,
      ]),
    );
  }

  override applyTo(rulebook: Rulebook): Rulebook {
    const recordTypes = rulebook.recordTypes.map((type): RecordType => {
      const fields = type.fields.map((field): Field => {
        const own = this.rulebook.recordTypes.find((t) => t.key === type.key)?.fields.find((f) => f.key === field.key);
        if (!own?.options || !this.lists.has(optionNames(own))) return field;
        return {
          ...field,
          options: field.options!.map((o) => (o.name === this.former ? { ...o, name: this.name } : o)),
        };
      });
      return fields.some((f, i) => f !== type.fields[i]) ? { ...type, fields } : type;
    });
    return super.applyTo({ ...rulebook, recordTypes });
  }
}

const testScope = createOpenScope([]);

/** Messages and names of fields are no options. */
const isPlainPart = (path: string): boolean => /\/(message|target|field|scratch|do|way|by|mode|otherwise)$/.test(path);

/** The texts in a piece of JSON, by JSON Pointer. */
function* textsIn(value: unknown, path: string): Iterable<readonly [string, string]> {
  if (typeof value === 'string') yield [path, value];
  else if (Array.isArray(value)) for (const [i, v] of value.entries()) yield* textsIn(v, `${path}/${i}`);
  else if (typeof value === 'object' && value !== null)
    for (const [key, v] of Object.entries(value)) yield* textsIn(v, path + pointer(key));
}

const cellTexts = (cell: Cell | undefined, path: string): Iterable<readonly [string, string]> => textsIn(cell, path);

function textAt(body: unknown, path: string): string | undefined {
  const found = valueAt(body, path);
  return typeof found === 'string' ? found : undefined;
}

/** Whether a text that cannot be read has the words of a name in it. */
const mentions = (text: string, name: string): boolean => text.replace(/\s+/g, ' ').includes(name);

interface Given {
  /** The rulebook with the new name; the parts that carry the name change, nothing else. */
  readonly rulebook: Rulebook;
  readonly former: string;
  readonly names: (named: Named) => boolean | 'perhaps';
}

function withName(rulebook: Rulebook, r: Renaming): Given | { problem: string } {
  switch (r.what) {
    case 'field':
    case 'option':
      return r.what === 'field' ? withField(rulebook, r) : withOption(rulebook, r);
    case 'plural':
    case 'children':
      return withChildren(rulebook, r);
    default:
      return withTable(rulebook, r);
  }
}

/** A member of a value of unknown type that has the former name may be it. */
const perhaps =
  (former: string, isIt: (named: Named) => boolean | 'perhaps') =>
  (named: Named): boolean | 'perhaps' =>
    named.kind === 'member' ? (named.name === former ? 'perhaps' : false) : isIt(named);

function withField(rulebook: Rulebook, r: Extract<Renaming, { what: 'field' }>): Given | { problem: string } {
  const type = rulebook.recordTypes.find((t) => t.key === r.recordType);
  const field = type?.fields.find((f) => f.key === r.key);
  if (!type || !field) return { problem: 'There is no such field.' };
  if (type.fields.some((f) => f !== field && f.name === r.name)) return { problem: `${r.name} is taken.` };
  const former = field.name;
  // What a conversion starts from may be of any type: where others have a field of that name, it may be theirs.
  const alone = !rulebook.recordTypes.some((t) => t !== type && t.fields.some((f) => f.name === former));
  return {
    former,
    rulebook: remember(
      withFields(rulebook, type, (f) => (f === field ? { ...f, name: r.name } : f)),
      [[`${type.key}.${former}`, r.name]],
    ),
    names: perhaps(former, (named) => {
      if (named.kind === 'origin') return named.name === former && (alone ? true : 'perhaps');
      return named.kind === 'field' && named.recordType === type.key && named.key === field.key;
    }),
  };
}

function withOption(rulebook: Rulebook, r: OptionRenaming): Given | { problem: string } {
  const type = rulebook.recordTypes.find((t) => t.key === r.recordType);
  const named = type?.fields.find((f) => f.key === r.field);
  if (!type || !named) return { problem: 'There is no such field.' };
  const field = optionOwner(type.fields, named);
  const option = field.options?.find((o) => o.key === r.key);
  if (!option) return { problem: 'There is no such option.' };
  if (field.options!.some((o) => o !== option && o.name === r.name)) return { problem: `${r.name} is taken.` };
  return { former: option.name, rulebook, names: () => false };
}

function withChildren(
  rulebook: Rulebook,
  r: Extract<Renaming, { what: 'plural' | 'children' }>,
): Given | { problem: string } {
  const type = rulebook.recordTypes.find((t) => t.key === r.recordType);
  const lookup = r.what === 'children' ? type?.fields.find((f) => f.key === r.key) : undefined;
  if (!type) return { problem: 'There is no such record type.' };
  if (r.what === 'children' && !(lookup && fieldTypeOf(lookup).links)) return { problem: 'There is no such lookup.' };
  const former = lookup?.children ?? type.plural;
  const ends = type.fields.filter((f) => fieldTypeOf(f).links && (lookup ? f === lookup : f.children === undefined));
  const owners = new Set(ends.map((f) => f.recordType ?? ''));
  for (const owner of rulebook.recordTypes) {
    if (!owners.has(owner.key)) continue;
    const others = rulebook.recordTypes.flatMap((t) =>
      t.fields
        .filter((f) => linkedType(f) === owner.key && !(t === type && ends.includes(f)))
        .map((f) => f.children ?? t.plural),
    );
    if ([...owner.fields.map((f) => f.name), ...others].includes(r.name)) return { problem: `${r.name} is taken.` };
  }
  const now = lookup
    ? withFields(rulebook, type, (f) => (f === lookup ? { ...f, children: r.name } : f))
    : {
        ...rulebook,
        recordTypes: rulebook.recordTypes.map((t) => (t === type ? { ...t, plural: r.name } : t)),
      };
  const keys = new Set(ends.map((f) => f.key));
  return {
    former,
    rulebook: remember(
      now,
      [...owners].map((owner) => [`${owner}.${former}`, r.name]),
    ),
    names: perhaps(
      former,
      (named) => named.kind === 'children' && named.recordType === type.key && keys.has(named.field),
    ),
  };
}

function withTable(
  rulebook: Rulebook,
  r: Extract<Renaming, { what: 'table' | 'column' }>,
): Given | { problem: string } {
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
  const former = column?.name ?? table.name;
  return {
    former,
    rulebook: { ...rulebook, tables: rulebook.tables!.map((t) => (t === table ? now : t)) },
    names:
      r.what === 'table'
        ? (named) => named.kind === 'table' && named.key === key
        : perhaps(former, (named) => named.kind === 'column' && named.table === key && named.key === r.key),
  };
}

const withFields = (rulebook: Rulebook, type: RecordType, change: (field: Field) => Field): Rulebook => ({
  ...rulebook,
  recordTypes: rulebook.recordTypes.map((t) => (t === type ? { ...t, fields: t.fields.map(change) } : t)),
});

const remember = (rulebook: Rulebook, names: readonly (readonly [string, string])[]): Rulebook => ({
  ...rulebook,
  formerNames: { ...rulebook.formerNames, ...Object.fromEntries(names) },
});

/** A rule that compiled before and does not under the new names, or reads something else. */
function newlyBroken(before: Rulebook, after: Rulebook): string | undefined {
  const describe = (book: Rulebook): Map<string, string> =>
    new Map(
      [...compileProgram(book).types.values()].flatMap((t) =>
        t.rules.map(
          (r) =>
            [
              r.rule.key,
              JSON.stringify([r.compiles, r.reads, r.wakes, r.related.map((x) => [x.recordType, x.field])]),
            ] as const,
        ),
      ),
    );
  const [a, b] = [describe(before), describe(after)];
  const different = [...a].find(([key, text]) => b.get(key) !== text && text.startsWith('[true'));
  return different && (before.rules.find((r) => r.key === different[0])?.name ?? different[0]);
}
