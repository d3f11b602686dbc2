/** Fields that go along with another, each with the rule that fills it, made in one act. */
import { entryPointsOf, freeListName } from '@rigid-rule/core/compile';
import { creating, type Field, type RecordType, type Rule, type Rulebook } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import type { PartEdit } from '../draft/parts.ts';

export interface Companion {
  readonly key: string;
  /** As the button says it. */
  readonly name: string;
  readonly help: string;
  readonly suits: (field: Field) => boolean;
  /** What the new field is called beside the one that it goes along with. */
  readonly fieldName: (field: Field) => string;
  readonly field: (field: Field, other: RecordType | undefined) => Omit<Field, 'key' | 'name'>;
  readonly rule: (
    field: Field,
    own: Pick<Field, 'key' | 'name'>,
    other: RecordType | undefined,
  ) => Partial<Rule> & Pick<Rule, 'name' | 'purpose' | 'kind' | 'outcome'>;
  /** It links to a record of another type, which has to be chosen. */
  readonly links?: true;
}

const becomes = (target: string, formula: string, blank: 'clear' | 'leave' = 'clear'): unknown => ({
  steps: [{ target, scratch: '', formula, blank }],
});
/** What a value of the same type needs: options are one list with the field's own. Limits of what may be typed do not matter for what a rule keeps. */
function sameType({
  key,
  type,
  options,
  optionsOf,
  ordered,
  scale,
  rounding,
  recordType,
  length,
  group,
}: Field): Omit<Field, 'key' | 'name'> {
  return {
    type,
    ...(options ? { optionsOf: optionsOf ?? key } : {}),
    ...(ordered ? { ordered } : {}),
    ...(scale === undefined ? {} : { scale }),
    ...(rounding ? { rounding } : {}),
    ...(recordType ? { recordType } : {}),
    ...(length === undefined ? {} : { length }),
    ...(group ? { group } : {}),
  };
}

export const companions: readonly Companion[] = [
  {
    key: 'previous',
    name: 'its previous value',
    help: 'what it was before it last changed',
    suits: () => true,
    fieldName: (f) => `Previous ${lower(f.name)}`,
    field: sameType,
    rule: (f, own) => ({
      name: `${own.name}, kept when ${f.name} changes`,
      purpose: `What ${f.name} was before it last changed.`,
      kind: 'derive',
      condition: `has changed(${f.name})`,
      winner: 'locked',
      outcome: becomes(own.key, `previous.${f.name}`),
    }),
  },
  {
    key: 'furthest',
    name: 'its furthest value',
    help: 'the highest option it ever had',
    suits: (f) => f.ordered === true,
    fieldName: (f) => `Furthest ${lower(f.name)}`,
    field: sameType,
    rule: (f, own) => ({
      name: `${own.name}, ever reached`,
      purpose: `The furthest ${f.name} that there ever was.`,
      kind: 'derive',
      winner: 'locked',
      outcome: becomes(own.key, `furthest(previous.${own.name}, ${f.name})`, 'leave'),
    }),
  },
  {
    key: 'changed at',
    name: 'the moment of its last change',
    help: 'when it last changed, not when the record did',
    suits: () => true,
    fieldName: (f) => `${f.name} changed at`,
    field: ({ group }) => ({ type: 'date-time', ...(group ? { group } : {}) }),
    rule: (f, own) => ({
      name: `${own.name}, the moment of it`,
      purpose: `When ${f.name} last changed.`,
      kind: 'derive',
      condition: `has changed(${f.name})`,
      winner: 'locked',
      outcome: becomes(own.key, 'now()'),
    }),
  },
  {
    key: 'match',
    name: 'the record that it names',
    help: 'a lookup that is found by this text',
    links: true,
    suits: (f) => fieldTypeOf(f).identifies === true,
    fieldName: (f) => `${f.name} found`,
    field: ({ group }, other) => ({ type: 'lookup', recordType: other?.key ?? '', ...(group ? { group } : {}) }),
    rule: (f, own, other) => ({
      name: `${own.name}, found by ${lower(f.name)}`,
      purpose: `The ${lower(other?.name ?? 'record')} that ${f.name} names.`,
      kind: 'map',
      winner: 'person',
      outcome: {
        source: {
          by: 'match',
          recordType: other?.key ?? '',
          ways: [{ field: other?.title[0] ?? '', formula: f.name, mode: 'folded' }],
        },
        onto: '',
        outputs: [{ value: '', target: own.key, way: 'replace' }],
        blank: { do: 'clear' },
        none: { do: 'leave' },
        several: { do: 'leave' },
      },
    }),
  },
];

const lower = (name: string): string => name.charAt(0).toLowerCase() + name.slice(1);

interface NewKeys {
  readonly field: string;
  readonly rule: string;
  readonly fieldPosition: number;
}

/** The edits that make the field and its rule. */
export function companionEdits(
  companion: Companion,
  field: Field,
  type: RecordType,
  rulebook: Rulebook,
  keys: NewKeys,
  other?: RecordType,
): PartEdit[] {
  const name = companion.fieldName(field);
  const bare: Field = { key: keys.field, name, ...companion.field(field, other) };
  const children = freeListName(bare, type, rulebook);
  const own: Field = children === undefined ? bare : { ...bare, children };
  const position = Math.max(0, ...rulebook.rules.map((r) => r.position)) + 1;
  const rule: Rule = {
    key: keys.rule,
    recordType: type.key,
    on: true,
    position,
    moments: ['editing', 'creating', 'updating'],
    entryPoints: entryPointsOf(type).map((e) => e.key),
    repeat: 'wakes',
    winner: 'rule',
    notify: [],
    ...companion.rule(field, own, other),
  };
  return [
    {
      ref: { kind: 'field', key: `${type.key}.${own.key}` },
      operations: [creating(own)],
      position: keys.fieldPosition,
    },
    { ref: { kind: 'rule', key: rule.key }, operations: [creating(rule)], position },
  ];
}
