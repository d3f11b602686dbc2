/** Findings about fields, options, tables and tests: contradictions, look-alikes, what nothing uses. */
import { distance } from '../diagnostics/nearest.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { type Expression, walk } from '../language/expression/ast.ts';
import { givenTexts } from '../language/expression/given-texts.ts';
import { optionNames } from '../language/field-types/options.ts';
import { valueAt } from '../document/patch.ts';
import type { Field } from '../document/document.ts';
import type { FieldConstraints } from '../compile/rule-kinds/rule-kind.ts';
import { matchModeNames } from '../values/match-keys.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { type FindingKind, activeRules, fieldPart, rulePart } from './finding.ts';
import { canHoldTogether } from './reasoning.ts';
import { conditionOf, type Writer, writersOf } from './target-findings.ts';
import { type SlotIndex, slotAt } from '../document/slots.ts';

function* demandsOn(
  type: TypeProgram,
  what: 'hidden' | 'locked' | 'required',
): Iterable<readonly [CompiledRule, SlotIndex]> {
  for (const r of type.demanding) for (const slot of (r.fieldConstraints as FieldConstraints)[what]) yield [r, slot];
}

export const requiredAndShut: FindingKind = {
  key: 'required-and-shut',
  name: 'Required, and nobody can fill it',
  severity: 'error',
  *find(program) {
    for (const type of program.types.values()) {
      const filled = new Set(type.rules.filter((r) => r.compiles && r.rule.on).flatMap((r) => r.writes));
      const required: (readonly [CompiledRule | undefined, SlotIndex])[] = [
        ...type.required.map((slot) => [undefined, slot] as const),
        ...demandsOn(type, 'required'),
      ];
      for (const what of ['hidden', 'locked'] as const)
        for (const [shut, slot] of demandsOn(type, what))
          for (const [by, other] of required) {
            if (slot !== other || (what === 'locked' && filled.has(slot))) continue;
            const { fields } = type.recordType;
            const conditions = [conditionOf(shut), by && conditionOf(by)] as const;
            if (canHoldTogether(...conditions, type.scope, fields) === 'never') continue;
            const { name } = type.slots[slot]!.field;
            yield {
              part: rulePart(shut.rule),
              path: '/outcome',
              also: `${name}:${what}:${by?.rule.key ?? ''}`,
              sentence: `${name} is required${by ? ` by ${by.rule.name}` : ''} and ${what} by ${shut.rule.name}: where both hold, nobody can save.`,
            };
          }
    }
  },
};

export const matchNotUnique: FindingKind = {
  key: 'match-not-unique',
  name: 'Matched by a field that is not unique',
  severity: 'info',
  *find(program) {
    for (const [r] of activeRules(program)) {
      const { match } = r.structure;
      if (!match) continue;
      const type = program.types.get(match.recordType)?.recordType;
      for (const [i, way] of match.ways.entries()) {
        const field = type?.fields.find((f) => f.key === way.field);
        if (!type || !field || field.unique || way.mode === 'longest prefix') continue;
        yield {
          part: rulePart(r.rule),
          path: `/outcome${match.path}/${i}`,
          sentence: `${r.rule.name} finds a ${type.name} by ${field.name} ${matchModeNames[way.mode]}; several may share it, since ${field.name} is not unique.`,
          repair: {
            text: `make ${field.name} unique`,
            edits: [{ part: fieldPart(type, field.key), operations: [{ op: 'add', path: '/unique', value: true }] }],
          },
        };
      }
    }
  },
};

/** One letter apart, in names long enough to be read over; numbers tell names apart on purpose. */
const isNear = (a: string, b: string): boolean => a.length > 5 && !/\d/.test(a + b) && distance(a, b, 1) <= 1;

export const lookAlike: FindingKind = {
  key: 'look-alike-fields',
  name: 'Fields that look alike',
  severity: 'info',
  *find(program) {
    for (const { recordType } of program.types.values()) {
      const seen: string[] = [];
      for (const field of recordType.fields) {
        const folded = foldedKey(field.name).replace(/ /g, '');
        const near = seen.find((s) => s === folded || isNear(s, folded));
        seen.push(folded);
        if (near === undefined) continue;
        const other = recordType.fields[seen.indexOf(near)]!;
        yield {
          part: fieldPart(recordType, field.key),
          path: '/name',
          sentence: `${other.name} and ${field.name} of ${recordType.name} are easily taken for each other.`,
        };
      }
    }
  },
};

export const noPurpose: FindingKind = {
  key: 'no-purpose',
  name: 'No purpose given',
  severity: 'info',
  *find(program) {
    for (const { rules } of program.types.values())
      for (const { rule } of rules)
        if (rule.purpose.trim() === '')
          yield { part: rulePart(rule), path: '/purpose', sentence: `${rule.name} does not say what it is for.` };
  },
};

export const notTested: FindingKind = {
  key: 'not-tested',
  name: 'No test reaches the rule',
  severity: 'info',
  *find(program, { reached }) {
    if (!reached) return;
    for (const [{ rule }] of activeRules(program))
      if (!reached.has(rule.key)) yield { part: rulePart(rule), sentence: `No test makes ${rule.name} act.` };
  },
};

/** What formulas name, wherever they stand: fields as `type.field`, columns as `table.column`, tables by key. */
interface NamedParts {
  readonly fields: ReadonlySet<string>;
  readonly columns: ReadonlySet<string>;
  /** Tables that a formula takes whole, so that any column of them may be looked at. */
  readonly whole: ReadonlySet<string>;
  /** Names of members of values whose type is not known: they may be any of that name. */
  readonly loose: ReadonlySet<string>;
}

function namedParts(types: Iterable<TypeProgram>): NamedParts {
  const [fields, columns, whole, loose] = [new Set<string>(), new Set<string>(), new Set<string>(), new Set<string>()];
  for (const type of types)
    for (const { placed } of type.rules)
      for (const { expression, checked } of placed.formulas.map((p) => p.formula)) {
        if (!expression || !checked) continue;
        const reached = new Set<string>();
        const asked = new Set<string>();
        walk(expression, (e) => {
          const named = checked.named.get(e);
          if (named?.kind === 'field') fields.add(`${named.recordType}.${named.key}`);
          if (named?.kind === 'children') fields.add(`${named.recordType}.${named.field}`);
          if (named?.kind === 'origin' || named?.kind === 'member') loose.add(named.name);
          if (named?.kind === 'table') asked.add(named.key);
          if (named?.kind === 'column') {
            columns.add(`${named.table}.${named.key}`);
            // A filter looks at rows; what becomes of them is said by a path.
            if (e.kind === 'path') reached.add(named.table);
          }
        });
        for (const table of asked) if (!reached.has(table) && !countsOnly(expression)) whole.add(table);
      }
  return { fields, columns, whole, loose };
}

const countsOnly = (e: Expression): boolean => e.kind === 'call' && e.name === 'count';

export const unusedTable: FindingKind = {
  key: 'unused-table',
  name: 'A table that nothing asks',
  severity: 'info',
  *find({ types, tables }) {
    const rules = [...types.values()].flatMap((t) => t.rules);
    const used = new Set(rules.flatMap((r) => [...r.tables]));
    for (const { table } of tables.values()) {
      if (used.has(table.key)) continue;
      yield {
        part: { kind: 'table', key: table.key },
        sentence: `No rule asks the mapping table ${table.name}.`,
      };
    }
  },
};

/** Output columns that no rule reads, by table; a table that nothing asks or that is taken whole has none. */
export function unreadColumns({ types, tables }: Program): ReadonlyMap<string, ReadonlySet<string>> {
  const { columns, whole, loose } = namedParts(types.values());
  const rules = [...types.values()].flatMap((t) => t.rules);
  const found = new Map<string, ReadonlySet<string>>();
  for (const { table } of tables.values()) {
    const asking = rules.filter((r) => r.tables.has(table.key));
    if (asking.length === 0 || whole.has(table.key)) continue;
    const mapped = new Set(
      asking.flatMap(({ structure }) => (structure.table?.key === table.key ? structure.table.columns : [])),
    );
    const unread = table.outputs.filter(
      ({ key, name }) => !mapped.has(key) && !columns.has(`${table.key}.${key}`) && !loose.has(name),
    );
    found.set(table.key, new Set(unread.map((c) => c.key)));
  }
  return found;
}

export const unusedColumn: FindingKind = {
  key: 'unused-column',
  name: 'A column that nothing reads',
  severity: 'info',
  *find(program) {
    const unread = unreadColumns(program);
    for (const { table } of program.tables.values())
      for (const [i, column] of table.outputs.entries())
        if (unread.get(table.key)?.has(column.key))
          yield {
            part: { kind: 'table', key: table.key },
            path: `/outputs/${i}`,
            sentence: `No rule reads the column ${column.name} of ${table.name}.`,
          };
  },
};

export const unusedField: FindingKind = {
  key: 'unused-field',
  name: 'A field that no form shows and no rule uses',
  severity: 'info',
  *find(program) {
    const { fields: named, loose } = namedParts(program.types.values());
    const written = writersOf(program);
    const bound = new Set(
      [...program.tables.values()].flatMap((t) => [...t.table.keys, ...t.table.outputs].map((c) => c.field)),
    );
    const matched = new Set(
      [...activeRules(program)].flatMap(
        ([
          {
            structure: { match },
          },
        ]) => (match?.ways ?? []).map((way) => `${match!.recordType}.${way.field}`),
      ),
    );
    for (const type of program.types.values()) {
      const used = new Set(
        type.rules.flatMap((r) => [
          ...r.reads.present,
          ...r.reads.previous,
          ...r.told.present,
          ...r.wakes,
          ...r.writes,
        ]),
      );
      const demanded = new Set(type.rules.flatMap((r) => r.kind?.targets(r.rule.outcome) ?? []));
      const { fields, forms, key, title } = type.recordType;
      if (forms.some((f) => !f.fields)) continue;
      for (const [i, field] of fields.entries()) {
        const slot = slotAt(i);
        const id = `${key}.${field.key}`;
        const shown = forms.some((f) => f.fields?.includes(field.key)) || title.includes(field.key);
        if (shown || used.has(slot) || demanded.has(field.key) || written.get(type)?.has(slot)) continue;
        if (named.has(id) || bound.has(id) || matched.has(id) || loose.has(field.name)) continue;
        yield {
          part: fieldPart(type.recordType, field.key),
          sentence: `${field.name} stands on no form of ${type.recordType.name}, and no rule reads or writes it.`,
        };
      }
    }
  },
};

/** The options that a rule may give to a field, by name or key; undefined where that is known only when it runs. */
function optionsGiven({ r }: Writer, field: Field, program: Program): readonly string[] | undefined {
  const own = optionNames(field);
  const found: string[] = [];
  for (const { path, options } of r.placed.options) if (options === own) found.push(...textsAt(r.rule, path));
  for (const { formula, gives } of r.placed.formulas) {
    if (gives !== own) continue;
    if (!formula.expression || !isLiteral(formula.expression)) return undefined;
    found.push(...givenTexts(formula.expression).map((t) => t.text));
  }
  for (const { table, column, options } of r.placed.columns) {
    if (options !== own) continue;
    const compiled = program.tables.get(table);
    const at = compiled?.outputColumns.findIndex((c) => c.column.key === column) ?? -1;
    // A key column is asked with the option, which gives none.
    if (at < 0) continue;
    for (let i = 0; i < compiled!.rowCount; i++) found.push(...[compiled!.values(i)[at] ?? []].flat().map(String));
  }
  return found.length > 0 ? found : undefined;
}

/** Nothing but constants and choices between them. */
function isLiteral(e: Expression): boolean {
  switch (e.kind) {
    case 'literal':
      return true;
    case 'if':
      return isLiteral(e.then) && isLiteral(e.otherwise);
    case 'list':
      return e.items.every(isLiteral);
    case 'call':
      return e.name === 'first filled' && e.arguments.every(isLiteral);
    default:
      return false;
  }
}

function textsAt(body: unknown, path: string): string[] {
  const at = valueAt(body, path);
  return [at].flat().filter((v) => typeof v === 'string');
}

export const unusedOption: FindingKind = {
  key: 'unused-option',
  name: 'An option that no rule ever gives',
  severity: 'info',
  *find(program) {
    const written = writersOf(program);
    for (const type of program.types.values())
      for (const slot of type.locked.keys()) {
        const { field } = type.slots[slot]!;
        const writers = written.get(type)?.get(slot) ?? [];
        if (!field.options || writers.length === 0) continue;
        const offered = writers.map((w) => optionsGiven(w, field, program));
        if (!offered.every((g) => g !== undefined)) continue;
        const all = new Set(offered.flat());
        const names = writers.map((w) => w.r.rule.name);
        const who = names.length === 1 ? `${names[0]!} alone writes` : `Only ${names.join(', ')} write`;
        for (const option of field.options) {
          if (all.has(option.key) || all.has(option.name)) continue;
          yield {
            part: fieldPart(type.recordType, field.key),
            path: '/options',
            also: option.key,
            sentence: `${who} ${field.name} and never give${names.length === 1 ? 's' : ''} ${option.name}.`,
          };
        }
      }
  },
};
