/** A test read aloud: what is there, what is done, what must come of it. */
import { counted } from '$lib/counted.ts';
import { entryPointsOf } from '@rigid-rule/core/compile';
import { nameOfField, type RecordType, type Rulebook, type RuleTest, type User } from '@rigid-rule/core/document';
import {
  recordTitleIn,
  relatedText,
  settledText,
  stateText,
  testValueText,
  type Shown,
} from '@rigid-rule/core/rule-tests';

export interface TestSentences {
  /** `A customer with Employee count 48, through the short form: Employee count becomes 50.` */
  readonly act: string;
  /** `Size class is Medium`, one for each thing looked at. */
  readonly then: readonly string[];
  /** Values of the record that `act` counts without saying them. */
  readonly unsaid: number;
}

/** Values that are said though they have nothing to do with it: leaving out one or two shortens nothing. */
const fewest = 3;

/** `about`: keys of the fields that matter; of a record with many others these are counted. Without it all are said. */
export function testSentences(
  test: RuleTest,
  rulebook: Rulebook,
  shown: Shown,
  about?: ReadonlySet<string>,
): TestSentences {
  const type = rulebook.recordTypes.find((t) => t.key === test.recordType);
  if (!type) return { act: `There is no record type ${test.recordType}.`, then: [], unsaid: 0 };
  const value = (key: string, v: unknown): string => testValueText(type.key, key, v, test, rulebook, shown);
  const others = Object.keys(test.before?.data ?? {}).filter((k) => about?.has(k) === false);
  const unsaid = new Set(others.length < fewest ? [] : others);
  return {
    act: actOf(test, type, rulebook, value, unsaid),
    then: expectations(test, type, rulebook, value, shown),
    unsaid: unsaid.size,
  };
}

type ValueText = (key: string, v: unknown) => string;

function actOf(
  test: RuleTest,
  type: RecordType,
  rulebook: Rulebook,
  value: ValueText,
  unsaid: ReadonlySet<string>,
): string {
  const asked = test.woken && test.woken.length > 0 ? ' when asked to' : '';
  const by = test.user ? `, by ${userText(test, test.user, rulebook)}` : '';
  const during = test.moment === 'editing' ? ', while it is being filled in' : '';
  return `${recordOf(test, type, value, unsaid)}, ${wayOf(test, type)}${by}${during}${asked}: ${doneIn(test, type, value)}.`;
}

function recordOf(
  { before, origin }: RuleTest,
  type: RecordType,
  value: ValueText,
  unsaid: ReadonlySet<string>,
): string {
  const noun = type.name.toLowerCase();
  if (!before) return origin ? `A new ${noun}, made from another record` : `A new ${noun}`;
  const name = (key: string): string => nameOfField(type.fields, key);
  const byHand = new Set(before.held);
  const said = Object.entries(before.data).filter(([k]) => !unsaid.has(k));
  const stored = said.map(([k, v]) => `${name(k)} ${value(k, v)}${byHand.has(k) ? ' set by hand' : ''}`);
  for (const k of byHand) if (!Object.hasOwn(before.data, k)) stored.push(`${name(k)} left blank by hand`);
  if (unsaid.size > 0) stored.push(counted(unsaid.size, 'other value'));
  return `${article(noun)} ${noun}${stored.length > 0 ? ` with ${joined(stored)}` : ', blank so far'}`;
}

function wayOf({ entryPoint, family }: RuleTest, type: RecordType): string {
  const ways = entryPointsOf(type);
  const named = (key: string): string => ways.find((w) => w.key === key)?.name ?? key;
  const cases = family?.entryPoints;
  return cases ? `through each of ${cases.map(named).join(', ')}` : `through ${withThe(named(entryPoint))}`;
}

/** `Ada Lund (record keeper), who is Lund`. */
function userText(test: RuleTest, { name, role, contact }: User, rulebook: Rulebook): string {
  const type = rulebook.userRecordType;
  const record = contact && type ? recordTitleIn(test, type, contact, rulebook) : undefined;
  return `${name} (${role})${record === undefined ? '' : `, who is ${record}`}`;
}

function doneIn(test: RuleTest, type: RecordType, value: ValueText): string {
  const { sent, typed = [], family, before, moment } = test;
  const name = (key: string): string => nameOfField(type.fields, key);
  const order = [...typed, ...Object.keys(sent).filter((k) => !typed.includes(k))].filter((k) => k in sent);
  const done = order.map((k) => `${name(k)} ${before ? 'becomes' : 'is'} ${value(k, sent[k])}`);
  if (family?.cases) done.push(`${family.cases.sent.map(name).join(' and ')} as listed`);
  return done.length > 0 ? joined(done) : moment === 'opening' ? 'it is opened' : 'nothing is sent';
}

function expectations(test: RuleTest, type: RecordType, rulebook: Rulebook, value: ValueText, shown: Shown): string[] {
  const { expect, family } = test;
  const name = (key: string): string => nameOfField(type.fields, key);
  const ruleName = (key: string): string => `“${rulebook.rules.find((r) => r.key === key)?.name ?? key}”`;
  const list = (of: readonly string[] | undefined, none: string, some: (text: string) => string): string[] =>
    of ? (of.length === 0 ? [none] : of.map(some)) : [];
  return [
    ...(family?.cases ? [`${family.cases.expected.map(name).join(' and ')} as listed`] : []),
    ...Object.entries(expect.fields ?? {}).map(([k, v]) => `${name(k)} is ${value(k, v)}`),
    ...Object.entries(expect.states ?? {}).flatMap(([k, states]) =>
      Object.entries(states).map(([what, v]) => {
        const field = type.fields.find((f) => f.key === k);
        return `${name(k)} ${stateText(what, v, field)}`;
      }),
    ),
    ...list(expect.messages, 'nothing is said', (m) => `it says “${m}”`),
    ...(expect.notified ? [toldText(expect.notified)] : []),
    ...list(
      expect.related?.map((w) => relatedText(w, test, rulebook, shown)),
      'no other record is written',
      (text) => text,
    ),
    ...(expect.ran ?? []).map((k) => `${ruleName(k)} acts`),
    ...(expect.didNotRun ?? []).map((k) => `${ruleName(k)} stays out`),
    ...(expect.verdict === undefined ? [] : [`it ${settledText(expect.verdict)}`]),
  ];
}

const toldText = (to: readonly string[]): string =>
  to.length === 0 ? 'nobody is told' : `${joined(to)} ${to.length === 1 ? 'is' : 'are'} told`;
const joined = (list: readonly string[]): string =>
  list.length < 2 ? (list[0] ?? '') : `${list.slice(0, -1).join(', ')} and ${list.at(-1)!}`;
const article = (noun: string): string => (/^[aeiou]/.test(noun) ? 'An' : 'A');
const withThe = (way: string): string => (/^another|^a /.test(way) ? way : `the ${way}`);
