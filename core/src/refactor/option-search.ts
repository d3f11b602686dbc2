/** Texts that stand for an option: in formulas by what they meet, elsewhere by where they stand. */
import type { CompiledRule, Program } from '../compile/compiled.ts';
import type { Cell, Field, MappingTable, RecordType, RuleTest, Rulebook } from '../document/document.ts';
import { isFieldName } from '../document/names.ts';
import { pointer } from '../document/patch.ts';
import type { PartRef } from '../document/parts.ts';
import { optionOwner } from '../document/shared-options.ts';
import { childrenOf, type Expression } from '../language/expression/ast.ts';
import { checkTests } from '../language/expression/check.ts';
import { type OptionFlow, optionTexts, optionTextsOfTests } from '../language/expression/option-texts.ts';
import { createOpenScope, originName } from '../language/expression/scope.ts';
import { columnField } from '../language/expression/shapes.ts';
import { quoteText } from '../language/types/text-literal.ts';
import type { OptionNames } from '../language/types/types.ts';
import { optionNames } from '../language/field-types/options.ts';
import type { OptionRenaming } from './renaming.ts';
import { textAt, TextSearch, type Holder, type Replacement } from './text-search.ts';

export class OptionSearch extends TextSearch {
  private readonly name: string;
  /** The option's lists: the field's own, those that share it, those whose values become its values or come from them. */
  readonly lists = new Set<OptionNames>();
  private readonly fieldOf = new Map<OptionNames, { readonly type: RecordType; readonly field: Field }>();
  private readonly flows = new Map<string, OptionFlow>();
  private readonly columns = new Map<string, Set<OptionNames>>();

  constructor(rulebook: Rulebook, program: Program, { recordType, field, name }: OptionRenaming, former: string) {
    super(rulebook, program, former);
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
    for (const { rule, placed } of this.rules()) {
      placed.formulas.forEach(({ formula: { expression, checked }, gives }, i) => {
        if (!expression || !checked) return;
        const flow = optionTexts(expression, checked, gives ? [gives] : []);
        this.flows.set(`${rule.key}:${i}`, flow);
        this.note(flow.columns);
      });
      for (const { table, column, options } of placed.columns)
        this.note(new Map([[`${table}.${column}`, new Set([options])]]));
    }
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

  /**
   * A list whose values are given to one of these, or get theirs, are held against them, or are looked up in or taken from
   * one column of a table with them, has the option under the same name: it follows.
   */
  private linkLists(): void {
    const together = [...this.listsOfFormulas(), ...this.listsOfColumns()];
    for (let known = -1; known !== this.lists.size;) {
      known = this.lists.size;
      for (const all of together)
        if (all.some((o) => this.lists.has(o)))
          for (const o of all) if (o.names.includes(this.former)) this.lists.add(o);
    }
  }

  private *listsOfFormulas(): Iterable<readonly OptionNames[]> {
    for (const { rule, placed } of this.rules())
      for (const [i, { gives, formula }] of placed.formulas.entries()) {
        const flow = this.flows.get(`${rule.key}:${i}`);
        if (!flow) continue;
        yield* flow.held;
        if (gives) yield [gives, ...flow.gives, ...this.listsOfOrigin(formula.expression!)];
      }
  }

  private *listsOfColumns(): Iterable<readonly OptionNames[]> {
    for (const table of this.rulebook.tables ?? [])
      for (const column of [...table.keys, ...table.outputs]) {
        const id = `${table.key}.${column.key}`;
        yield [...(this.boundTo(id) ?? []), ...(this.columns.get(id) ?? [])];
      }
  }

  /** What a record is made from may be of any type: the lists of all fields of the names asked of it. */
  private listsOfOrigin(e: Expression): readonly OptionNames[] {
    if (e.kind !== 'path' || e.object.kind !== 'name' || e.object.name !== originName)
      return childrenOf(e).flatMap((child) => this.listsOfOrigin(child));
    return [...this.fieldOf].flatMap(([list, { field }]) => (field.name === e.name ? [list] : []));
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
    const replacements = new Map<string, Replacement[]>();
    formulas.forEach(({ path, at, formula }, i) => {
      const flow = flows[i];
      const whole = textAt(body, path) ?? '';
      if (!flow) {
        if (formula.text.includes(this.former)) this.leave(part, path, whole);
        return;
      }
      for (const { text, range, isKey, options, columns } of flow.texts) {
        if (text !== this.former) continue;
        const ofColumns = [...columns].flatMap((c) => [...(this.boundTo(c) ?? [])]);
        const found = this.isIt([...options, ...ofColumns]);
        if (found === 'perhaps' && uses) this.leave(part, path, whole);
        if (found !== true) continue;
        const written = whole.slice(at + range.from, at + range.to);
        const by = isKey && !written.startsWith('"') && isFieldName(this.name) ? this.name : quoteText(this.name);
        replacements.set(path, [...(replacements.get(path) ?? []), { from: at + range.from, to: at + range.to, by }]);
      }
    });
    for (const [path, found] of replacements) this.replace(part, body, path, found);
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
      if (found === true) this.replace(part, rule, path, [{ from: 0, to: text.length, by: this.name }]);
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
          else if (found === true) this.replace(part, table, path, [{ from: 0, to: text.length, by: this.name }]);
          else this.leave(part, path, text);
        }
      });
      column.order?.forEach((v, i) => {
        const side = table.keys.includes(column) ? 'keys' : 'outputs';
        const at = table[side].indexOf(column);
        if (v === this.former && found === true)
          this.replace(part, table, `/${side}/${at}/order/${i}`, [{ from: 0, to: v.length, by: this.name }]);
      });
    }
  }

  private inTests(part: PartRef, table: MappingTable, path: string, text: string, met: readonly OptionNames[]): void {
    const { tests } = testScope.parser.parseTests(text);
    const { texts } = optionTextsOfTests(tests, checkTests(tests, testScope), met);
    const replacements: Replacement[] = [];
    for (const t of texts) {
      if (t.text !== this.former) continue;
      const found = this.isIt(t.options);
      if (found === true) replacements.push({ ...t.range, by: quoteText(this.name) });
      else if (found === 'perhaps') this.leave(part, path, text);
    }
    if (tests.length === 0 && text.includes(this.former)) this.leave(part, path, text);
    this.replace(part, table, path, replacements);
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
          if (text === this.former) this.replace(part, test, path, [{ from: 0, to: text.length, by: this.name }]);
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
