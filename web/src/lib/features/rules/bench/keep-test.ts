/** A try on the bench, kept as a test: record, change, moment, entry point, clock, and what came out. */
import {
  sameJson,
  type Expectation,
  type RecordData,
  type Rule,
  type RuleTest,
  type Stored,
} from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { acceptedSteps, expectationOf, testedId } from '@rigid-rule/core/rule-tests';
import { editedValue, type Titles } from '$lib/features/fields';
import type { RelatedRecord, Bench } from './bench.svelte.ts';

export function testOf(bench: Bench, rule: Rule | undefined, key: string, titles: Titles): RuleTest {
  const { write } = bench;
  const { settlement, read } = bench.readAlong();
  const type = bench.program.types.get(bench.typeKey)!;
  const compiled = type.rules.find((r) => r.rule.key === rule?.key);
  const own = compiled ? expectationOf(compiled, type, settlement) : undefined;
  const byRules = settlement.changes.filter((c) => c.author.by === 'rule');
  const said = settlement.messages.map((m) => m.text);
  const notified = settlement.notifications.map((n) => n.to);
  const related = settlement.writes.map(({ id, recordType, field, value }) => ({
    recordType,
    key: id,
    field,
    value: byTestedId(bench, recordType, { [field]: value })[field]!,
  }));
  const written = { ...Object.fromEntries(byRules.map((c) => [c.field, c.to])), ...own?.fields };
  const fields = byTestedId(bench, bench.typeKey, written);
  // What all rules did is looked at; that others say, tell or write nothing is none of this test's business.
  const expect: Expectation = {
    ...own,
    ...(Object.keys(fields).length > 0 ? { fields } : {}),
    ...(said.length > 0 ? { messages: said } : {}),
    ...(notified.length > 0 ? { notified } : {}),
    ...(related.length > 0 ? { related } : {}),
    verdict: settlement.verdict,
  };
  return {
    key,
    name: nameOf(bench, rule, own?.ran !== undefined, titles),
    recordType: bench.typeKey,
    before: write.before && {
      data: write.before.data,
      ...(write.before.held.length > 0 ? { held: write.before.held } : {}),
    },
    ...besideOf(bench, read),
    sent: write.sent,
    typed: write.typed,
    moment: write.moment,
    entryPoint: write.entryPoint,
    now: write.now,
    ...(write.user ? { user: write.user } : {}),
    ...(write.woken ? { woken: write.woken } : {}),
    ...(write.origin ? { origin: { recordType: write.origin.recordType, data: write.origin.data } } : {}),
    expect,
    accepted: acceptedSteps(settlement, type),
  };
}

/** The records that were read are copied. */
function besideOf(bench: Bench, read: readonly RelatedRecord[]): Pick<RuleTest, 'related'> {
  const copies = read.flatMap(({ recordType, id, data }) =>
    recordType === bench.typeKey && id === bench.write.id
      ? []
      : [{ key: id, recordType, data: byTestedId(bench, recordType, data) }],
  );
  return copies.length > 0 ? { related: copies } : {};
}

/** What links to the record on the bench links to the one under test. */
function byTestedId(bench: Bench, recordType: string, data: RecordData): RecordData {
  const own = bench.write.id;
  const { fields = [] } = bench.program.rulebook.recordTypes.find((t) => t.key === recordType) ?? {};
  const links = (key: string): boolean => fields.some((f) => f.key === key && f.recordType === bench.typeKey);
  return Object.fromEntries(Object.entries(data).map(([k, v]) => [k, v === own && links(k) ? testedId : v]));
}

/** What keeps a try from being kept, in words; undefined where nothing does. */
export function keepProblem(bench: Bench, test: RuleTest, kept: readonly RuleTest[]): string | undefined {
  const wrong = bench.tried.find((t) => {
    const field = bench.recordType.fields.find((f) => f.key === t.key);
    return field && 'problem' in fieldTypeOf(field).coerce(t.value, field);
  });
  if (wrong) {
    const name = bench.recordType.fields.find((f) => f.key === wrong.key)!.name;
    return `Not kept: what ${name} holds is no value of it yet.`;
  }
  const same = kept.find((t) => sameJson(essence(t), essence(test)));
  return same && `Not kept: the test “${same.name}” is the same.`;
}

/** A test without what tells two of the same apart: its key, its name, and the clock of the try. */
const essence = ({ key: _, name: __, now: ___, accepted: ____, ...rest }: RuleTest): Partial<RuleTest> => rest;

/** What is tried and what comes out: `Employee count 48: Size class Medium`. */
function nameOf(bench: Bench, rule: Rule | undefined, ran: boolean, titles: Titles): string {
  const said = (key: string, value: Stored): string => {
    const field = bench.recordType.fields.find((f) => f.key === key);
    return field ? `${field.name} ${editedValue(field, value, titles) || 'blank'}` : key;
  };
  const tried = bench.tried.map(({ key, value }) => {
    const field = bench.recordType.fields.find((f) => f.key === key);
    const coerced = field && fieldTypeOf(field).coerce(value, field);
    return said(key, coerced && 'value' in coerced ? coerced.value : null);
  });
  const { settlement } = bench;
  const gave = settlement.changes
    .filter((c) => c.author.by === 'rule' && (!rule || c.author.rule === rule.key))
    .map((c) => said(c.field, c.to));
  const what =
    tried.length > 0
      ? tried.slice(0, most).join(', ')
      : `${bench.isNew ? 'a new' : 'an existing'} ${bench.recordType.name.toLowerCase()} as it is`;
  const outcome =
    settlement.verdict !== 'saved'
      ? `not saved${settlement.messages[0] ? `, ${settlement.messages[0].text}` : ''}`
      : gave.length > 0
        ? gave.slice(0, most).join(', ')
        : rule
          ? `${rule.name} ${ran ? 'changes nothing' : 'does not act'}`
          : 'nothing changes';
  return `${what}: ${outcome}`;
}

/** Fields that a name speaks of, of each side. */
const most = 3;
