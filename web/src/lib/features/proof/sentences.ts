/** A test read aloud: what is there, what is done, what must come of it. */
import type { Field, RuleTest, Stored } from '@rigid-rule/core/document';
import type { Rulebook, RecordType } from '@rigid-rule/core/document';
import { entryPointsOf } from '@rigid-rule/core/compile';
import { fieldTypeOf, recordTitle } from '@rigid-rule/core/language';
import { stateText, testedId } from '@rigid-rule/core/rule-tests';

export interface TestSentences {
  /** `A customer with Employee count 48, through the short form: Employee count becomes 50.` */
  readonly act: string;
  /** `Size class is Medium`, one for each thing looked at. */
  readonly then: readonly string[];
}

/** `shown`: how a value is written. */
export function testSentences(
  test: RuleTest,
  rulebook: Rulebook,
  shown: (field: Field, value: Stored) => string,
): TestSentences {
  const type = rulebook.recordTypes.find((t) => t.key === test.recordType);
  if (!type) return { act: `There is no record type ${test.recordType}.`, then: [] };
  const field = (key: string): Field | undefined => type.fields.find((f) => f.key === key);
  const name = (key: string): string => field(key)?.name ?? key;
  const value = (key: string, v: unknown): string => {
    const own = field(key);
    if (v === null || v === undefined || v === '') return 'blank';
    if (own?.recordType !== undefined) return titleOf(own.recordType, v, test, rulebook);
    const coerced = own && fieldTypeOf(own).coerce(v, own);
    return own && coerced && 'value' in coerced ? shown(own, coerced.value) || 'blank' : JSON.stringify(v);
  };
  return { act: actOf(test, type, name, value), then: expectations(test, rulebook, field, name, value) };
}

/** A linked record by its title, where it stands beside the test. */
function titleOf(of: string, key: unknown, test: RuleTest, rulebook: Rulebook): string {
  if (key === testedId) return 'the record under test';
  const record = test.related?.find((r) => r.recordType === of && r.key === key);
  const type = rulebook.recordTypes.find((t) => t.key === of);
  return (record && type && recordTitle(type, record.data)) || String(key);
}

function actOf(
  test: RuleTest,
  type: RecordType,
  name: (key: string) => string,
  value: (key: string, v: unknown) => string,
): string {
  const noun = type.name.toLowerCase();
  const stored = Object.entries(test.before?.data ?? {}).map(([k, v]) => `${name(k)} ${value(k, v)}`);
  const who = test.before
    ? `${article(noun)} ${noun}${stored.length > 0 ? ` with ${joined(stored)}` : ', blank so far'}`
    : `A new ${noun}`;
  const ways = entryPointsOf(type);
  const cases = test.family?.entryPoints;
  const way = cases
    ? `through each of ${cases.map((k) => ways.find((w) => w.key === k)?.name ?? k).join(', ')}`
    : `through ${withThe(ways.find((w) => w.key === test.entryPoint)?.name ?? test.entryPoint)}`;
  const typed = test.typed ?? [];
  const order = [...typed, ...Object.keys(test.sent).filter((k) => !typed.includes(k))].filter((k) => k in test.sent);
  const sent = order.map((k) => `${name(k)} ${test.before ? 'becomes' : 'is'} ${value(k, test.sent[k])}`);
  const listed = test.family?.cases;
  const each = listed ? [`${listed.sent.map(name).join(' and ')} as listed`] : [];
  const done = [...sent, ...each];
  const asked = test.woken && test.woken.length > 0 ? ' when asked to' : '';
  const what = done.length > 0 ? joined(done) : test.moment === 'opening' ? 'it is opened' : 'nothing is sent';
  return `${who}, ${way}${asked}: ${what}.`;
}

function expectations(
  { expect, family }: RuleTest,
  rulebook: Rulebook,
  field: (key: string) => Field | undefined,
  name: (key: string) => string,
  value: (key: string, v: unknown) => string,
): string[] {
  const ruleName = (key: string): string => `“${rulebook.rules.find((r) => r.key === key)?.name ?? key}”`;
  return [
    ...(family?.cases ? [`${family.cases.expected.map(name).join(' and ')} as listed`] : []),
    ...Object.entries(expect.fields ?? {}).map(([k, v]) => `${name(k)} is ${value(k, v)}`),
    ...Object.entries(expect.states ?? {}).flatMap(([k, states]) =>
      Object.entries(states).map(([what, v]) => `${name(k)} ${stateText(what, v, field(k))}`),
    ),
    ...(expect.messages
      ? expect.messages.length === 0
        ? ['nothing is said']
        : expect.messages.map((m) => `it says “${m}”`)
      : []),
    ...(expect.notified ? [expect.notified.length === 0 ? 'nobody is told' : `${joined(expect.notified)} told`] : []),
    ...(expect.related
      ? expect.related.length === 0
        ? ['no other record is written']
        : expect.related.map((w) => `${w.recordType} ${w.key}: ${w.field} becomes ${JSON.stringify(w.value)}`)
      : []),
    ...(expect.ran ?? []).map((k) => `${ruleName(k)} acts`),
    ...(expect.didNotRun ?? []).map((k) => `${ruleName(k)} stays out`),
    ...(expect.verdict === undefined ? [] : [expect.verdict === 'saved' ? 'it is saved' : `it is ${expect.verdict}`]),
  ];
}

const joined = (list: readonly string[]): string =>
  list.length < 2 ? (list[0] ?? '') : `${list.slice(0, -1).join(', ')} and ${list.at(-1)!}`;
const article = (noun: string): string => (/^[aeiou]/.test(noun) ? 'An' : 'A');
const withThe = (way: string): string => (/^another|^a /.test(way) ? way : `the ${way}`);
