/**
 * A rulebook taken apart and put together: each part (settings, record type, field, rule) is kept and versioned on its
 * own, so that two people clash only where they change the same thing.
 */
import { withSharedOptions, withoutSharedOptions } from './shared-options.ts';
import type { Claim, Field, MappingTable, RecordType, Rule, RuleTest, Rulebook, SampleRecord } from './document.ts';

export const partKinds = ['settings', 'record type', 'field', 'rule', 'table', 'test', 'sample', 'claim'] as const;
export type PartKind = (typeof partKinds)[number];

export interface PartRef {
  readonly kind: PartKind;
  /** `customer` for a record type, `customer.size_class` for a field, the rule's key for a rule. */
  readonly key: string;
}

export interface Part extends PartRef {
  readonly position: number;
  readonly body: unknown;
}

export const settingsKey = 'rulebook';

export const partId = (p: PartRef): string => `${p.kind}:${p.key}`;

export function toParts(rulebook: Rulebook): Part[] {
  const { recordTypes, rules, tables = [], tests = [], samples = [], claims = [], ...settings } = rulebook;
  const listed = (kind: PartKind, list: readonly { readonly key: string }[]): Part[] =>
    list.map((body, position) => ({ kind, key: body.key, position, body }));
  return [
    { kind: 'settings', key: settingsKey, position: 0, body: settings },
    ...recordTypes.flatMap(({ fields, ...type }, position): Part[] => [
      { kind: 'record type', key: type.key, position, body: type },
      ...fields.map((f, i): Part => ({
        kind: 'field',
        key: `${type.key}.${f.key}`,
        position: i,
        body: withoutSharedOptions(f),
      })),
    ]),
    ...listed('rule', rules),
    ...listed('table', tables),
    ...listed('test', tests),
    ...listed('sample', samples),
    ...listed('claim', claims),
  ];
}

/** The rulebook of these parts. `previous` gives back its own objects where nothing changed, so that caches hold. */
export function fromParts(parts: readonly Part[], previous?: Rulebook): Rulebook {
  const byKind = group(parts, (p) => p.kind);
  const of = (kind: PartKind): Part[] => (byKind.get(kind) ?? []).sort((a, b) => a.position - b.position);
  const settings = of('settings')[0]?.body as Omit<
    Rulebook,
    'recordTypes' | 'rules' | 'tables' | 'tests' | 'samples' | 'claims'
  >;
  const fields = group(of('field'), (f) => f.key.slice(0, f.key.indexOf('.')));
  const recordTypes = of('record type').map(({ key, body }): RecordType => {
    const own = withSharedOptions((fields.get(key) ?? []).map((f) => f.body as Field));
    const before = previous?.recordTypes.find((t) => t.key === key)?.fields;
    const same = before?.length === own.length && before.every((f, i) => f === own[i]);
    return { ...(body as Omit<RecordType, 'fields'>), fields: same ? before : own };
  });
  const kept = keptTypes(recordTypes, previous?.recordTypes ?? []);
  const tables = of('table').map((p) => p.body as MappingTable);
  const tests = of('test').map((p) => p.body as RuleTest);
  const samples = of('sample').map((p) => p.body as SampleRecord);
  const claims = of('claim').map((p) => p.body as Claim);
  return {
    ...settings,
    recordTypes: kept,
    rules: of('rule').map((p) => p.body as Rule),
    ...(tables.length > 0 ? { tables } : {}),
    ...(samples.length > 0 ? { samples } : {}),
    ...(tests.length > 0 ? { tests } : {}),
    ...(claims.length > 0 ? { claims } : {}),
  };
}

function group<T, K>(list: readonly T[], keyOf: (item: T) => K): ReadonlyMap<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const item of list) {
    const key = keyOf(item);
    const own = groups.get(key);
    if (own) own.push(item);
    else groups.set(key, [item]);
  }
  return groups;
}

/** What did not change keeps its identity, so that nothing that hangs on it is made anew. */
function keptTypes(now: readonly RecordType[], before: readonly RecordType[]): readonly RecordType[] {
  const types = now.map((type) => {
    const old = before.find((t) => t.key === type.key);
    const members = Object.keys(type) as (keyof RecordType)[];
    return old && Object.keys(old).length === members.length && members.every((m) => old[m] === type[m]) ? old : type;
  });
  return types.length === before.length && types.every((t, i) => t === before[i]) ? before : types;
}
