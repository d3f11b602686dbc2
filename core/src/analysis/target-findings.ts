/** Findings about what is written: two rules on one field, winners, ways round a rule, targets that grow. */
import type { CompiledRule, Program, TypeProgram } from '../engine/program.ts';
import { walk, type Expression } from '../expression/ast.ts';
import { createFormula } from '../expression/formula.ts';
import { entryPointsOf } from '../engine/entry-points.ts';
import { canHoldTogether, type Condition } from './reasoning.ts';
import { activeRules, rulePart, setting, type FindingKind } from './finding.ts';

export function conditionOf(r: CompiledRule): Condition | undefined {
  const formula = r.conditionFormula;
  return formula?.expression ? { text: formula.text, expression: formula.expression } : undefined;
}

/** Pairs of rules that write one field, in running order. */
function* pairsOnOneField(program: Program): Iterable<readonly [CompiledRule, CompiledRule, number, TypeProgram]> {
  for (const type of program.types.values()) {
    const writers = new Map<number, CompiledRule[]>();
    for (const r of type.rules) {
      if (!r.sound || !r.rule.on) continue;
      for (const slot of r.writes) {
        const others = writers.get(slot) ?? [];
        for (const other of others) yield [other, r, slot, type];
        writers.set(slot, [...others, r]);
      }
    }
  }
}

const together = { yes: 'both can hold at once', never: 'never at once', unknown: 'perhaps at once' } as const;

export const twoRules: FindingKind = {
  key: 'two-rules-one-field',
  name: 'Two rules write one field',
  severity: 'warning',
  *find(program) {
    for (const [first, second, slot, type] of pairsOnOneField(program)) {
      if (first.anatomy.fillsOnly || second.anatomy.fillsOnly) continue;
      const possible = canHoldTogether(conditionOf(first), conditionOf(second), type.scope, type.recordType.fields);
      if (possible === 'never') continue;
      const { name } = type.slots[slot]!.field;
      yield {
        part: rulePart(second.rule),
        also: `${first.rule.key}:${name}`,
        sentence: `${first.rule.name} and ${second.rule.name} both write ${name}; ${together[possible]}, and then ${second.rule.name} has the last word.`,
        repair: { text: `switch off ${first.rule.name}`, edits: [setting(first.rule, '/on', false)] },
      };
    }
  },
};

export const differentWinners: FindingKind = {
  key: 'different-winners',
  name: 'One field, different winners',
  severity: 'warning',
  *find(program) {
    for (const [first, second, slot, type] of pairsOnOneField(program)) {
      if (first.rule.winner === second.rule.winner) continue;
      const { name } = type.slots[slot]!.field;
      yield {
        part: rulePart(second.rule),
        path: '/winner',
        also: `${first.rule.key}:${name}`,
        sentence: `${first.rule.name} and ${second.rule.name} both write ${name} and do not agree on who wins over a person.`,
        repair: {
          text: `take that of ${first.rule.name}`,
          edits: [setting(second.rule, '/winner', first.rule.winner)],
        },
      };
    }
  },
};

export const noWinner: FindingKind = {
  key: 'no-winner',
  name: 'Nobody said who wins',
  severity: 'warning',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      if (r.writes.length === 0 || (r.rule.winner as string | undefined)) continue;
      const name = type.slots[r.writes[0]!]!.field.name;
      yield {
        part: rulePart(r.rule),
        path: '/winner',
        sentence: `${r.rule.name} writes ${name}, which is not locked, and does not say what becomes of a value set by hand.`,
        repair: { text: 'lock the field', edits: [setting(r.rule, '/winner', 'locked', false)] },
      };
    }
  },
};

export const entryPointHole: FindingKind = {
  key: 'entry-point-hole',
  name: 'A way round a rule',
  severity: 'warning',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      if (r.writes.length === 0 || r.anatomy.fillsOnly || r.rule.moments.every((m) => m === 'on request')) continue;
      const missing = entryPointsOf(type.recordType).filter(
        (e) =>
          !e.followsUp &&
          e.key !== 'conversion' &&
          e.moments.some((m) => r.rule.moments.includes(m)) &&
          !type.rules.some(
            (o) =>
              o.sound && o.rule.on && o.rule.entryPoints.includes(e.key) && r.writes.every((s) => o.writes.includes(s)),
          ),
      );
      if (missing.length === 0) continue;
      const fields = r.writes.map((s) => type.slots[s]!.field.name).join(', ');
      yield {
        part: rulePart(r.rule),
        path: '/entryPoints',
        sentence: `${fields} ${r.writes.length > 1 ? 'are' : 'is'} worked out by ${r.rule.name}, but not through ${missing.map((e) => e.name).join(', ')}: there any value gets in.`,
        repair: {
          text: 'let the rule act there too',
          edits: [setting(r.rule, '/entryPoints', [...r.rule.entryPoints, ...missing.map((e) => e.key)])],
        },
      };
    }
  },
};

function names(e: Expression, name: string): boolean {
  let found = false;
  walk(e, (x) => {
    found ||= x.kind === 'name' && x.name === name;
  });
  return found;
}

/** `Amount + 1` for Amount, or a template that repeats its own field: each write makes it longer. */
function grows(e: Expression, name: string): boolean {
  let found = false;
  walk(e, (x) => {
    if (x.kind !== 'arithmetic' || found) return;
    found = names(x, name);
  });
  return found;
}

export const growsEachWrite: FindingKind = {
  key: 'reads-its-own-target',
  name: 'Grows with each write',
  severity: 'warning',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      for (const text of r.kind?.texts(r.rule.outcome) ?? []) {
        for (const slot of r.writes) {
          const { name } = type.slots[slot]!.field;
          const own = text.template
            ? text.text.includes(`{${name}}`)
            : (() => {
                const { expression } = createFormula(text.text, type.scope);
                return (
                  expression !== undefined && (r.anatomy.replaces ? names(expression, name) : grows(expression, name))
                );
              })();
          if (!own) continue;
          yield {
            part: rulePart(r.rule),
            path: `/outcome${text.path}`,
            also: name,
            sentence: `${r.rule.name} works ${name} out from itself, so it moves on each time the rule acts.`,
          };
        }
      }
    }
  },
};

export const fixedRecord: FindingKind = {
  key: 'fixed-record',
  name: 'A link to one fixed record',
  severity: 'warning',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      const lookups = r.writes.filter((s) => type.slots[s]!.field.type === 'lookup');
      if (lookups.length === 0 || !holdsConstant(r.rule.outcome)) continue;
      yield {
        part: rulePart(r.rule),
        path: '/outcome',
        sentence: `${r.rule.name} links to a record by its id, which is another one in another installation; match it by one of its fields.`,
      };
    }
  },
};

/** A pair, band or group whose result is written out: for a lookup that is the id of a record. */
function holdsConstant(outcome: unknown): boolean {
  const lists = ['bands', 'groups', 'pairs'];
  const search = (v: unknown): boolean => {
    if (typeof v !== 'object' || v === null) return false;
    return Object.entries(v).some(
      ([key, inner]) => (lists.includes(key) && Array.isArray(inner) && inner.length > 0) || search(inner),
    );
  };
  return search(outcome);
}
