/** Findings about what is written: two rules on one field, winners, ways round a rule, targets that grow. */
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { walk, type Expression } from '../language/expression/ast.ts';
import type { FieldConstraints } from '../compile/rule-kinds/rule-kind.ts';
import { createFormula } from '../language/expression/formula.ts';
import { entryPointsOf } from '../compile/entry-points.ts';
import { sentFields } from '../compile/field-rules.ts';
import { canHoldTogether, type Condition } from './reasoning.ts';
import { activeRules, rulePart, setting, type FindingKind } from './finding.ts';
import type { SlotIndex } from '../document/slots.ts';

export function conditionOf(r: CompiledRule): Condition | undefined {
  const formula = r.conditionFormula;
  return formula?.expression ? { text: formula.text, expression: formula.expression } : undefined;
}

/** A rule that writes a field, from its own record or from another one. */
export interface Writer {
  readonly r: CompiledRule;
  /** The type of the rule; where it is not the field's, the rule writes a record that it is linked with. */
  readonly from: TypeProgram;
}

/** By record type and slot: the rules that write it, in running order, those of other types behind its own. */
export function writersOf(program: Program): ReadonlyMap<TypeProgram, ReadonlyMap<number, readonly Writer[]>> {
  const found = new Map([...program.types.values()].map((t) => [t, new Map<number, Writer[]>()] as const));
  const put = (type: TypeProgram | undefined, slot: SlotIndex | undefined, writer: Writer): void => {
    const own = type && found.get(type);
    if (own && slot !== undefined) own.set(slot, [...(own.get(slot) ?? []), writer]);
  };
  const active = [...activeRules(program)];
  for (const [r, type] of active) for (const slot of r.writes) put(type, slot, { r, from: type });
  for (const [r, type] of active)
    for (const { recordType, field } of sentFields(r, type)) {
      const other = program.types.get(recordType);
      put(other, other?.slotOf.get(field), { r, from: type });
    }
  return found;
}

/** Pairs of rules that write one field, the one that runs later last. */
function* pairsOnOneField(program: Program): Iterable<readonly [Writer, Writer, number, TypeProgram]> {
  for (const [type, slots] of writersOf(program))
    for (const [slot, writers] of slots)
      for (const [i, second] of writers.entries()) {
        const from = writers.length > mostInPairs ? Math.max(0, i - 1) : 0;
        for (const first of writers.slice(from, i)) if (first.r !== second.r) yield [first, second, slot, type];
      }
}

/** Where more rules write a field, each is held only against the one before it: nobody reads a list of all pairs. */
const mostInPairs = 25;

/** As a sentence names it: with its record type where that is another one. */
const writerName = ({ r, from }: Writer, type: TypeProgram): string =>
  from === type ? r.rule.name : `${r.rule.name} of ${from.recordType.name}`;

const together = { yes: 'both can hold at once', never: 'never at once', unknown: 'perhaps at once' } as const;

export const twoRules: FindingKind = {
  key: 'two-rules-one-field',
  name: 'Two rules write one field',
  severity: 'warning',
  *find(program) {
    for (const [one, other, slot, type] of pairsOnOneField(program)) {
      const [first, second] = [one.r, other.r];
      if (first.structure.fillsOnly || second.structure.fillsOnly) continue;
      const own = one.from === other.from;
      const possible = own
        ? canHoldTogether(conditionOf(first), conditionOf(second), one.from.scope, one.from.recordType.fields)
        : 'unknown';
      if (possible === 'never') continue;
      const { name } = type.slots[slot]!.field;
      const last = own ? `, and then ${second.rule.name} has the last word` : '';
      yield {
        part: rulePart(second.rule),
        also: `${first.rule.key}:${name}`,
        sentence: `${writerName(one, type)} and ${writerName(other, type)} both write ${name}; ${together[possible]}${last}.`,
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
    for (const [one, other, slot, type] of pairsOnOneField(program)) {
      const [first, second] = [one.r, other.r];
      if (first.rule.winner === second.rule.winner) continue;
      const { name } = type.slots[slot]!.field;
      yield {
        part: rulePart(second.rule),
        path: '/winner',
        also: `${first.rule.key}:${name}`,
        sentence: `${writerName(one, type)} and ${writerName(other, type)} both write ${name} and do not agree on who wins over a person.`,
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
      if (r.structure.fillsOnly || r.rule.moments.every((m) => m === 'on request')) continue;
      const doneBy = r.fieldConstraints ? asksTheSame(r) : r.writes.length > 0 ? writesTheSame(r) : undefined;
      if (!doneBy) continue;
      const missing = entryPointsOf(type.recordType).filter(
        (e) =>
          !e.followsUp &&
          e.key !== 'conversion' &&
          e.moments.some((m) => r.rule.moments.includes(m)) &&
          !type.rules.some((o) => o.compiles && o.rule.on && o.rule.entryPoints.includes(e.key) && doneBy(o)),
      );
      if (missing.length === 0) continue;
      const places = missing.map((e) => e.name).join(', ');
      const slots = r.fieldConstraints ? demandedSlots(r.fieldConstraints) : r.writes;
      const fields = [...new Set(slots)].map((s) => type.slots[s]!.field.name).join(', ');
      const sentence = r.fieldConstraints
        ? `${r.rule.name} ${fields ? `checks ${fields}` : `checks each ${type.recordType.name.toLowerCase()}`}, but not through ${places}: there what it forbids gets in.`
        : `${fields} ${r.writes.length > 1 ? 'are' : 'is'} worked out by ${r.rule.name}, but not through ${places}: there any value gets in.`;
      yield {
        part: rulePart(r.rule),
        path: '/entryPoints',
        sentence,
        repair: {
          text: 'let the rule act there too',
          edits: [setting(r.rule, '/entryPoints', [...r.rule.entryPoints, ...missing.map((e) => e.key)])],
        },
      };
    }
  },
};

const writesTheSame =
  (r: CompiledRule) =>
  (o: CompiledRule): boolean =>
    r.writes.every((s) => o.writes.includes(s));

/** What a rule asks for, but for the ways that only forms know: a field that is hidden may still be sent. */
function asksTheSame(r: CompiledRule): ((o: CompiledRule) => boolean) | undefined {
  const own = demandsText(r.fieldConstraints!);
  if (own.length === 0) return undefined;
  return (o) => {
    const others = o.fieldConstraints ? demandsText(o.fieldConstraints) : [];
    return own.every((d) => others.includes(d));
  };
}

function demandsText({ constraints, required, locked, limits }: FieldConstraints): string[] {
  return [
    ...constraints.filter((c) => c.severity === 'stop').map((c) => `check ${c.field ?? ''} ${c.message}`),
    ...required.map((s) => `required ${s}`),
    ...locked.map((s) => `locked ${s}`),
    ...limits.map((l) => `limit ${l.field} ${l.message}`),
  ];
}

/** The fields that a rule constrains by name. */
export const demandedSlots = ({ constraints, required, locked, limits }: FieldConstraints): number[] => [
  ...constraints.flatMap((c) => (c.severity === 'stop' && c.field !== undefined ? [c.field] : [])),
  ...required,
  ...locked,
  ...limits.map((l) => l.field),
];

function names(e: Expression, name: string): boolean {
  let found = false;
  walk(e, (x) => {
    found ||= x.kind === 'name' && x.name === name;
    // Where a table's column has the same name.
    found ||= x.kind === 'path' && x.name === name && x.object.kind === 'name' && x.object.name === 'record';
  });
  return found;
}

/**
 * Gives another value for what it gave: `Amount + 1` for Amount, its opposite, or what a table has for it. What only
 * trims, rounds or fills in comes to rest.
 */
const movesOn = (x: Expression): boolean =>
  x.kind === 'arithmetic' || x.kind === 'negation' || x.kind === 'filter' || (x.kind === 'call' && x.name === 'not');

function grows(e: Expression, name: string): boolean {
  let found = false;
  walk(e, (x) => {
    found ||= movesOn(x) && names(x, name);
  });
  return found;
}

/** Whether a formula works a field out from what it holds. */
function followsFromItself(text: string, type: TypeProgram, slot: number, replaces: boolean): boolean {
  const { expression, reads } = createFormula(text, type.scope);
  const { name } = type.slots[slot]!.field;
  // The name may be that of a table's column.
  if (!expression || !reads.some((r) => r.field.slot === slot && !r.previous)) return false;
  return replaces ? names(expression, name) : grows(expression, name);
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
            : followsFromItself(text.text, type, slot, r.structure.replaces === true);
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
      const sent = sentFields(r, type).some(({ recordType, field }) => {
        const other = program.types.get(recordType);
        return other?.slots[other.slotOf.get(field) ?? -1]?.type.links === true;
      });
      const own = r.writes.some((s) => type.slots[s]!.type.links);
      if ((!sent && !own) || !holdsConstant(r.rule.outcome)) continue;
      yield {
        part: rulePart(r.rule),
        path: '/outcome',
        sentence: `${r.rule.name} links to a record by its id, which is another one in another installation; match it by one of its fields.`,
      };
    }
  },
};

/** A pair, band, group or way out whose result is written out: for a lookup that is the id of a record. */
function holdsConstant(outcome: unknown): boolean {
  const lists = ['bands', 'groups', 'pairs'];
  const search = (v: unknown): boolean => {
    if (typeof v !== 'object' || v === null) return false;
    if ((v as { do?: unknown }).do === 'set') return true;
    return Object.entries(v).some(
      ([key, inner]) => (lists.includes(key) && Array.isArray(inner) && inner.length > 0) || search(inner),
    );
  };
  return search(outcome);
}
