/** What became of a kept test: what it sends, what has to come out, and all that stands around it, line by line. */
import type { Rulebook, RuleTest, SampleRecord, Stored, RecordData, RecordType } from '../../document/document.ts';
import { nameIn, nameOfField } from '../../document/names.ts';
import { entryPointsOf } from '../../compile/entry-points.ts';
import { becomes, isolated } from '../../language/wording/isolated.ts';
import { enumerate } from '../../language/wording/prose.ts';
import { writtenGiven } from '../../language/wording/written.ts';
import type { Writing } from '../../language/types/writing.ts';
import { isFieldType } from '../../language/field-types/index.ts';
import type { Value } from '../../values/value.ts';
import { memberText } from './members.ts';

/** A label, and what the test says under it. Labels are met once each. */
type Line = readonly [label: string, text: string];

interface Told {
  readonly rulebook: Rulebook;
  readonly writing: Writing;
}

const typeOf = ({ rulebook }: Told, key: string): RecordType | undefined =>
  rulebook.recordTypes.find((t) => t.key === key);

function valueText(type: RecordType | undefined, key: string, value: unknown, { writing }: Told): string {
  const field = type?.fields.find((f) => f.key === key);
  if (value === null || value === undefined || value === '') return 'blank';
  return field && isFieldType(field.type) ? writtenGiven(field, value as Value, writing) : memberText(value, writing);
}

const fieldName = (type: RecordType | undefined, key: string): string => nameOfField(type?.fields ?? [], key);

const dataLines = (data: RecordData, type: RecordType | undefined, where: string, told: Told): Line[] =>
  Object.entries(data).map(([key, v]) => [`${fieldName(type, key)} ${where}`, valueText(type, key, v, told)]);

const quoted = (texts: readonly string[], none: string): string => texts.map((t) => `“${t}”`).join(', ') || none;

function expectedLines({ expect, recordType }: RuleTest, told: Told): Line[] {
  const type = typeOf(told, recordType);
  const rules = (keys: readonly string[]): string => enumerate(keys.map((k) => nameIn(told.rulebook.rules, k)));
  return [
    ...dataLines(expect.fields ?? {}, type, 'expected', told),
    ...Object.entries(expect.states ?? {}).flatMap(([key, states]) =>
      Object.entries(states).map(([state, v]): Line => [
        `${fieldName(type, key)} ${state} expected`,
        memberText(v, told.writing),
      ]),
    ),
    ...(expect.messages ? [['message expected', quoted(expect.messages, 'nothing')] as const] : []),
    ...(expect.notified ? [['notice expected to', expect.notified.join(', ') || 'nobody'] as const] : []),
    ...(expect.related ?? []).map((r): Line => {
      const other = typeOf(told, r.recordType);
      return [
        `${fieldName(other, r.field)} of ${other?.name.toLowerCase() ?? r.recordType} ${r.key} expected`,
        valueText(other, r.field, r.value, told),
      ];
    }),
    ...(expect.related?.length === 0 ? [['other records expected to change', 'none'] as const] : []),
    ...(expect.ran ? [['rules expected to run', rules(expect.ran) || 'none'] as const] : []),
    ...(expect.didNotRun ? [['rules expected not to run', rules(expect.didNotRun) || 'none'] as const] : []),
    ...(expect.verdict === undefined ? [] : [['verdict expected', expect.verdict] as const]),
  ];
}

function caseLines({ family, recordType }: RuleTest, told: Told): Line[] {
  if (!family?.cases) return [];
  const { sent, expected, rows } = family.cases;
  const type = typeOf(told, recordType);
  const text = (key: string, v: Stored | undefined): string => valueText(type, key, v, told);
  return rows.flatMap((row) => {
    const given = sent.map((key, i) => `${fieldName(type, key)} ${isolated(text(key, row[i]))}`).join(', ');
    return expected.map((key, i): Line => [
      `with ${given || 'nothing sent'}, ${fieldName(type, key)} expected`,
      text(key, row[sent.length + i]),
    ]);
  });
}

const besideLines = (record: SampleRecord, told: Told): Line[] => {
  const type = typeOf(told, record.recordType);
  return dataLines(record.data, type, `of ${type?.name.toLowerCase() ?? record.recordType} ${record.key}`, told);
};

/** Everything that a test says but for its name. */
function linesOf(test: RuleTest, told: Told): readonly Line[] {
  const type = typeOf(told, test.recordType);
  const entries = entryPointsOf(type ?? { forms: [] });
  const { rules } = told.rulebook;
  const lines: readonly Line[] = [
    ...dataLines(test.sent as RecordData, type, 'sent', told),
    ...expectedLines(test, told),
    ...caseLines(test, told),
    ['through', enumerate((test.family?.entryPoints ?? [test.entryPoint]).map((e) => nameIn(entries, e)))],
    ['moment', test.moment],
    ...(test.before === null ? [] : dataLines(test.before.data, type, 'before', told)),
    ['record before', test.before === null ? 'none' : 'there'],
    ['values held before', (test.before?.held ?? []).map((k) => fieldName(type, k)).join(', ')],
    ...(test.related ?? []).flatMap((r) => besideLines(r, told)),
    ...(test.origin ? besideLines({ ...test.origin, key: 'that it is made from' }, told) : []),
    ['order of typing', (test.typed ?? []).map((k) => fieldName(type, k)).join(', ')],
    ['rules asked for', (test.woken ?? []).map((k) => nameIn(rules, k)).join(', ')],
    ['who writes', test.user ? [test.user.name, test.user.email, test.user.role].join(', ') : ''],
    ['contact of who writes', test.user?.contact ?? ''],
    ['clock', test.now],
    ['record type', type?.name ?? test.recordType],
    ...(test.accepted ?? []).map((s): Line => [`what ${nameIn(rules, s.rule)} did`, s.text ?? s.verdict]),
  ];
  return numbered(lines.filter(([, text]) => text !== ''));
}

/** Of several lines with the same label, each later one says which. */
function numbered(lines: readonly Line[]): readonly Line[] {
  const met = new Map<string, number>();
  return lines.map(([label, text]) => {
    const nth = (met.get(label) ?? 0) + 1;
    met.set(label, nth);
    return [nth === 1 ? label : `${label}, number ${nth},`, text];
  });
}

/** What a test that comes says; of one that goes as well. */
export const testLines = (test: RuleTest, rulebook: Rulebook, writing: Writing): string[] =>
  linesOf(test, { rulebook, writing }).map(([label, text]) => `${label} ${isolated(text)}`);

export function testPhrases(before: RuleTest, after: RuleTest, rulebook: Rulebook, writing: Writing): string[] {
  const [was, is] = [before, after].map((t) => new Map(linesOf(t, { rulebook, writing })));
  const labels = new Set([...is!.keys(), ...was!.keys()]);
  return [
    ...(before.name === after.name ? [] : [`name ${becomes(before.name, after.name)}`]),
    ...[...labels]
      .filter((label) => was!.get(label) !== is!.get(label))
      .map((label) => `${label} ${becomes(was!.get(label) ?? 'none', is!.get(label) ?? 'none')}`),
  ];
}
