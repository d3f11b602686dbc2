/** Findings about when rules act: circles, rules that never wake, conditions that decide nothing. */
import { bandText } from '../compile/rule-kinds/bands.ts';
import { createFormula } from '../language/expression/formula.ts';
import { conditionOf } from './target-findings.ts';
import { canFail, canHold, canReach, type Condition } from './reasoning.ts';
import { everySpan, onlyBlank, type Span } from './regions.ts';
import { activeRules, rulePart, setting, type FindingKind } from './finding.ts';
import type { Band } from '../compile/rule-kinds/bands.ts';
import type { CompiledRule, TypeProgram } from '../compile/compiled.ts';

export const circle: FindingKind = {
  key: 'circle',
  name: 'Rules in a circle',
  severity: 'warning',
  *find(program) {
    for (const type of program.types.values()) {
      const rings = new Map<number, CompiledRule[]>();
      for (const r of type.rules)
        if (r.circle >= 0 && r.compiles && r.rule.on) rings.set(r.circle, [...(rings.get(r.circle) ?? []), r]);
      for (const ring of rings.values()) {
        if (ring.length < 2) continue;
        const names = ring.map((r) => r.rule.name);
        yield {
          part: rulePart(ring[0]!.rule),
          also: names.join('|'),
          sentence: `${names.slice(0, -1).join(', ')} and ${names.at(-1)!} wait for each other: they repeat until nothing changes, or the write is refused.`,
        };
      }
    }
  },
};

export const neverWakes: FindingKind = {
  key: 'never-wakes',
  name: 'Can never wake',
  severity: 'warning',
  *find(program) {
    for (const [r] of activeRules(program)) {
      const { rule } = r;
      if (rule.repeat === 'every' || r.fieldConstraints || r.wakes.length > 0 || r.related.length > 0) continue;
      const onNew = rule.moments.some((m) => m === 'creating' || m === 'opening');
      if (rule.wakesOn === undefined && onNew) continue;
      if (rule.moments.includes('on request')) continue;
      yield {
        part: rulePart(rule),
        path: '/wakesOn',
        sentence: `Nothing wakes ${rule.name}: it reads no field of the record, and no write makes it look.`,
        repair: { text: 'look at every write', edits: [setting(rule, '/repeat', 'every')] },
      };
    }
  },
};

export const conditionDecides: FindingKind = {
  key: 'condition-decides-nothing',
  name: 'A condition that is always or never true',
  severity: 'warning',
  *find(program) {
    for (const [r, { scope, recordType }] of activeRules(program)) {
      const condition = conditionOf(r);
      if (!condition) continue;
      if (canHold(condition, scope, recordType.fields) === 'never')
        yield {
          part: rulePart(r.rule),
          path: '/condition',
          sentence: `The condition of ${r.rule.name} can never be true, so the rule never acts.`,
        };
      else if (canFail(condition, scope, recordType.fields) === 'never')
        yield {
          part: rulePart(r.rule),
          path: '/condition',
          sentence: `The condition of ${r.rule.name} is always true.`,
          repair: { text: 'drop the condition', edits: [setting(r.rule, '/condition', '')] },
        };
    }
  },
};

/** The one formula that decides a rule, as a condition is held against it. */
function sourceOf(r: CompiledRule, type: TypeProgram): Condition | undefined {
  const text = r.kind?.source?.(r.rule.outcome);
  const expression = text === undefined ? undefined : createFormula(text, type.scope).expression;
  return expression && { text: text!, expression };
}

const spanOf = ({ from, fromOpen, to, toClosed }: Band): Span => ({
  low: from ?? everySpan.low,
  lowOpen: from === undefined || fromOpen === true,
  high: to ?? everySpan.high,
  highOpen: to === undefined || toClosed !== true,
});

export const bandNeverReached: FindingKind = {
  key: 'band-never-reached',
  name: 'A band that is never reached',
  severity: 'warning',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      const source = sourceOf(r, type);
      if (!source || !r.structure.division) continue;
      const { bands, dates } = r.structure.division;
      for (const [i, band] of bands.entries()) {
        const region = { blank: false, spans: [spanOf(band)] };
        if (canReach(conditionOf(r), source, region, type.scope, type.recordType.fields) !== 'never') continue;
        yield {
          part: rulePart(r.rule),
          path: `/outcome/bands/${i}`,
          sentence: `The band ${bandText(band, dates, program.writing)} of ${r.rule.name} is never reached: the field or the condition keeps such values away.`,
          repair: {
            text: 'take the band out',
            edits: [{ part: rulePart(r.rule), operations: [{ op: 'remove', path: `/outcome/bands/${i}` }] }],
          },
        };
      }
    }
  },
};

export const blankKeptAway: FindingKind = {
  key: 'blank-kept-away',
  name: 'Blank never arrives',
  severity: 'warning',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      const condition = conditionOf(r);
      if (!condition || r.writes.length === 0 || r.structure.fillsOnly) continue;
      for (const source of r.structure.blanks?.() ?? []) {
        const { expression } = createFormula(source, type.scope);
        if (!expression) continue;
        const text = { text: source, expression };
        if (canReach(condition, text, onlyBlank, type.scope, type.recordType.fields) !== 'never') continue;
        yield {
          part: rulePart(r.rule),
          path: '/condition',
          also: source,
          sentence: `${r.rule.name} says what happens when ${source.trim()} is blank, but its condition keeps blank away: a value once set stays when ${source.trim()} is cleared.`,
        };
      }
    }
  },
};

export const standInValue: FindingKind = {
  key: 'stand-in-value',
  name: 'A stand-in value counts as real',
  severity: 'info',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      const source = sourceOf(r, type);
      const field = type.recordType.fields.find((f) => f.name === source?.text.trim());
      if (!field?.required || (field.min ?? 0) > 0) continue;
      const bands = r.structure.division?.bands ?? [];
      const at = bands.findIndex((b) => {
        const s = spanOf(b);
        return (s.low < 0 || (s.low === 0 && !s.lowOpen)) && (s.high > 0 || (s.high === 0 && !s.highOpen));
      });
      if (at < 0) continue;
      yield {
        part: rulePart(r.rule),
        path: `/outcome/bands/${at}`,
        sentence: `${field.name} has to be filled in, so people may type 0 to get past; 0 falls into the band ${bandText(bands[at]!, false, program.writing)} of ${r.rule.name}.`,
      };
    }
  },
};

export const previousOfNew: FindingKind = {
  key: 'previous-of-new',
  name: 'A previous value where there is none',
  severity: 'warning',
  *find(program) {
    for (const [r, type] of activeRules(program)) {
      if (r.reads.previous.length === 0) continue;
      if (r.rule.moments.some((m) => m !== 'opening' && m !== 'creating')) continue;
      const { name } = type.slots[r.reads.previous[0]!]!.field;
      yield {
        part: rulePart(r.rule),
        path: '/moments',
        sentence: `${r.rule.name} reads previous.${name}, but acts on new records only, which have no value before.`,
        repair: {
          text: 'let it act on updating too',
          edits: [setting(r.rule, '/moments', [...r.rule.moments, 'updating'])],
        },
      };
    }
  },
};
