/** Findings about fields, options, tables and tests: contradictions, look-alikes, what nothing uses. */
import { distance } from '../diagnostics/nearest.ts';
import type { CompiledRule, TypeProgram } from '../engine/program.ts';
import type { Demands } from '../rule-kinds/rule-kind.ts';
import { matchModeNames } from '../values/match-keys.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { type FindingKind, activeRules, fieldPart, rulePart } from './finding.ts';
import { canHoldTogether } from './reasoning.ts';
import { conditionOf } from './target-findings.ts';

function* demandsOn(
  type: TypeProgram,
  what: 'hidden' | 'locked' | 'required',
): Iterable<readonly [CompiledRule, number]> {
  for (const r of type.demanding) for (const slot of (r.demands as Demands)[what]) yield [r, slot];
}

export const requiredAndShut: FindingKind = {
  key: 'required-and-shut',
  name: 'Required, and nobody can fill it',
  severity: 'error',
  *find(program) {
    for (const type of program.types.values()) {
      const filled = new Set(type.rules.filter((r) => r.sound && r.rule.on).flatMap((r) => r.writes));
      const required: (readonly [CompiledRule | undefined, number])[] = [
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
      const { match } = r.anatomy;
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

/** Every text of the rulebook in which a name may stand. */
function textsOf(rulebook: { readonly rules: readonly CompiledRule['rule'][] }): string {
  return rulebook.rules.map((r) => JSON.stringify([r.condition, r.outcome, r.notify])).join('\n');
}

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

export const unusedColumn: FindingKind = {
  key: 'unused-column',
  name: 'A column that nothing reads',
  severity: 'info',
  *find({ rulebook, types, tables }) {
    const texts = textsOf(rulebook);
    const rules = [...types.values()].flatMap((t) => t.rules);
    for (const { table } of tables.values()) {
      const asking = rules.filter((r) => r.tables.has(table.key));
      if (asking.length === 0) continue;
      const mapped = new Set(
        asking.flatMap(({ anatomy }) => (anatomy.table?.key === table.key ? anatomy.table.columns : [])),
      );
      for (const column of table.outputs)
        if (!mapped.has(column.key) && !texts.includes(column.name))
          yield {
            part: { kind: 'table', key: table.key },
            path: `/outputs/${table.outputs.indexOf(column)}`,
            sentence: `No rule reads the column ${column.name} of ${table.name}.`,
          };
    }
  },
};

export const unusedField: FindingKind = {
  key: 'unused-field',
  name: 'A field that no form shows and no rule uses',
  severity: 'info',
  *find(program) {
    const related = new Set(
      [...program.types.values()].flatMap((t) =>
        t.rules.flatMap((r) => r.related.map((x) => `${x.recordType}.${x.field}`)),
      ),
    );
    for (const type of program.types.values()) {
      const used = new Set(
        type.rules.flatMap((r) => [...r.reads.present, ...r.reads.previous, ...r.wakes, ...r.writes]),
      );
      const demanded = new Set(type.rules.flatMap((r) => r.kind?.targets(r.rule.outcome) ?? []));
      const { fields, forms, key, title } = type.recordType;
      if (forms.some((f) => !f.fields)) continue;
      for (const [slot, field] of fields.entries()) {
        const shown = forms.some((f) => f.fields?.includes(field.key)) || title.includes(field.key);
        if (shown || used.has(slot) || demanded.has(field.key) || related.has(`${key}.${field.key}`)) continue;
        yield {
          part: fieldPart(type.recordType, field.key),
          sentence: `${field.name} stands on no form of ${type.recordType.name}, and no rule reads or writes it.`,
        };
      }
    }
  },
};

export const unusedOption: FindingKind = {
  key: 'unused-option',
  name: 'An option that its rule never gives',
  severity: 'info',
  *find(program) {
    for (const type of program.types.values())
      for (const [slot, r] of type.locked) {
        const { field } = type.slots[slot]!;
        const writers = type.rules.filter((x) => x.sound && x.rule.on && x.writes.includes(slot));
        if (!field.options || writers.length !== 1 || !(r.anatomy.division ?? r.anatomy.pairs)) continue;
        const text = JSON.stringify(r.rule.outcome);
        for (const option of field.options) {
          if (text.includes(JSON.stringify(option.key)) || text.includes(JSON.stringify(option.name))) continue;
          yield {
            part: fieldPart(type.recordType, field.key),
            path: '/options',
            also: option.key,
            sentence: `${r.rule.name} alone writes ${field.name} and never gives ${option.name}.`,
          };
        }
      }
  },
};
