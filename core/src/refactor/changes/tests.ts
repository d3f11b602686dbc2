/** What became of a kept test: what it sends, what has to come out, and all that stands around it, line by line. */
import type { RecordData, RecordType, Rulebook, RuleTest, SampleRecord, Stored } from '../../document/document.ts';
import { nameIn, nameOfField } from '../../document/names.ts';
import { entryPointsOf } from '../../compile/entry-points.ts';
import { becomes, isolated } from '../../language/wording/isolated.ts';
import { enumerate } from '../../language/wording/prose.ts';
import { writtenGiven, writtenOrBlank } from '../../language/wording/written.ts';
import type { Writing } from '../../language/types/writing.ts';
import { fieldTypeOf, isFieldType } from '../../language/field-types/index.ts';
import type { Value } from '../../values/value.ts';
import { memberText } from './members.ts';
import { numbering } from './numbering.ts';

/** `sent`, `Amount`, `1`: what something is about, its name, and what the test says of it. */
type Line = readonly [about: string, name: string, text: string];

interface Told {
  readonly rulebook: Rulebook;
  readonly writing: Writing;
}

const typeOf = ({ rulebook }: Told, key: string): RecordType | undefined =>
  rulebook.recordTypes.find((t) => t.key === key);

function valueText(type: RecordType | undefined, key: string, value: unknown, { writing }: Told): string {
  const field = type?.fields.find((f) => f.key === key);
  if (value === null || value === undefined || value === '') return 'blank';
  // What is sent may be anything.
  const isStored = typeof value !== 'object' || (Array.isArray(value) && value.every((v) => typeof v === 'string'));
  if (!field || !isFieldType(field.type) || !isStored) return memberText(value, writing);
  return fieldTypeOf(field).numeric
    ? writtenGiven(field, value as Value, writing)
    : writtenOrBlank(field, value as Stored, writing);
}

const fieldName = (type: RecordType | undefined, key: string): string => nameOfField(type?.fields ?? [], key);

const dataLines = (about: string, data: RecordData, type: RecordType | undefined, told: Told): Line[] =>
  Object.entries(data).map(([key, v]) => [about, fieldName(type, key), valueText(type, key, v, told)]);

const quoted = (texts: readonly string[], none: string): string => texts.map((t) => `“${t}”`).join(', ') || none;

function expectedLines({ expect, recordType }: RuleTest, told: Told): Line[] {
  const about = 'expected';
  const type = typeOf(told, recordType);
  const rules = (keys: readonly string[]): string =>
    enumerate(keys.map((k) => nameIn(told.rulebook.rules, k))) || 'none';
  return [
    ...dataLines(about, expect.fields ?? {}, type, told),
    ...Object.entries(expect.states ?? {}).flatMap(([key, states]) =>
      Object.entries(states).map(([state, v]): Line => [
        about,
        `${fieldName(type, key)} ${state}`,
        memberText(v, told.writing),
      ]),
    ),
    ...(expect.messages ? [[about, 'message', quoted(expect.messages, 'none')] as const] : []),
    ...(expect.notified ? [[about, 'notice to', expect.notified.join(', ') || 'nobody'] as const] : []),
    ...(expect.related ?? []).map((r): Line => {
      const other = typeOf(told, r.recordType);
      return [
        about,
        `${fieldName(other, r.field)} of ${other?.name.toLowerCase() ?? r.recordType} ${r.key}`,
        valueText(other, r.field, r.value, told),
      ];
    }),
    ...(expect.related?.length === 0 ? [[about, 'changes of other records', 'none'] as const] : []),
    ...(expect.ran ? [[about, 'to run', rules(expect.ran)] as const] : []),
    ...(expect.didNotRun ? [[about, 'not to run', rules(expect.didNotRun)] as const] : []),
    ...(expect.verdict === undefined ? [] : [[about, 'verdict', expect.verdict] as const]),
  ];
}

function caseLines({ family, recordType }: RuleTest, told: Told): Line[] {
  if (!family?.cases) return [];
  const { sent, expected, rows } = family.cases;
  const type = typeOf(told, recordType);
  const text = (key: string, v: Stored | undefined): string => valueText(type, key, v, told);
  const nthOf = numbering();
  return rows.flatMap((row) => {
    const given = sent.map((key, i) => `${fieldName(type, key)} ${isolated(text(key, row[i]))}`).join(', ');
    const nth = nthOf(given);
    // What is sent twice may be expected to come to two things.
    const about = `with ${given || 'nothing sent'}${nth === 1 ? '' : `, time ${nth}`}, expected`;
    return expected.map((key, i): Line => [about, fieldName(type, key), text(key, row[sent.length + i])]);
  });
}

function besideLines(record: SampleRecord, told: Told): Line[] {
  const type = typeOf(told, record.recordType);
  return dataLines(`${type?.name.toLowerCase() ?? record.recordType} ${record.key} with`, record.data, type, told);
}

/** Everything that a test says but for its name. */
function linesOf(test: RuleTest, told: Told): readonly Line[] {
  const type = typeOf(told, test.recordType);
  const entries = entryPointsOf(type ?? { forms: [] });
  const { rules } = told.rulebook;
  const fields = (keys: readonly string[] = []): string => keys.map((k) => fieldName(type, k)).join(', ');
  const lines: readonly Line[] = [
    ...dataLines('sent', test.sent as RecordData, type, told),
    ...expectedLines(test, told),
    ...caseLines(test, told),
    ['', 'record type', type?.name ?? test.recordType],
    ['', 'moment', test.moment],
    ['', 'through', enumerate((test.family?.entryPoints ?? [test.entryPoint]).map((e) => nameIn(entries, e)))],
    ['', 'record before', test.before === null ? 'none' : 'there'],
    ['', 'clock', told.writing.instant(test.now)],
    ['', 'order of typing', fields(test.typed)],
    ['', 'rules asked for', (test.woken ?? []).map((k) => nameIn(rules, k)).join(', ')],
    ...(test.before === null ? [] : dataLines('before', test.before.data, type, told)),
    ['before', 'held', fields(test.before?.held)],
    ...(test.related ?? []).flatMap((r) => besideLines(r, told)),
    ...(test.origin ? besideLines({ ...test.origin, key: 'that it is made from' }, told) : []),
    ['written by', 'name', test.user?.name ?? ''],
    ['written by', 'email', test.user?.email ?? ''],
    ['written by', 'role', test.user?.role ?? ''],
    ['written by', 'contact', test.user?.contact ?? ''],
    ...(test.accepted ?? []).map((s): Line => [
      'accepted',
      nameIn(rules, s.rule),
      [s.verdict, s.text].filter(Boolean).join(', '),
    ]),
  ];
  return lines.filter(([, , text]) => text !== '');
}

/** What a test that comes or goes says: a line for all that is about the same. */
export function testLines(test: RuleTest, rulebook: Rulebook, writing: Writing): string[] {
  const about = new Map<string, string[]>();
  for (const [of, name, text] of linesOf(test, { rulebook, writing }))
    about.set(of, [...(about.get(of) ?? []), `${name} ${isolated(text)}`]);
  return [...about].map(([of, said]) => [of, said.join(', ')].filter(Boolean).join(' '));
}

export function testPhrases(before: RuleTest, after: RuleTest, rulebook: Rulebook, writing: Writing): string[] {
  const labelled = (test: RuleTest): Map<string, string> => {
    const texts = new Map<string, string>();
    for (const [of, name, text] of linesOf(test, { rulebook, writing })) {
      const label = [of, name].filter(Boolean).join(' ');
      texts.set(label, texts.has(label) ? `${texts.get(label)!}, ${text}` : text);
    }
    return texts;
  };
  const [was, is] = [labelled(before), labelled(after)];
  /** What is in one of the two only has come or gone; nothing stood in its place. */
  const told = (label: string): string => {
    const [from, to] = [was.get(label), is.get(label)];
    if (from === undefined) return `now ${label} ${isolated(to!)}`;
    return to === undefined ? `no longer ${label} ${isolated(from)}` : `${label} ${becomes(from, to)}`;
  };
  return [
    ...(before.name === after.name ? [] : [`name ${becomes(before.name, after.name)}`]),
    ...[...new Set([...is.keys(), ...was.keys()])].filter((label) => was.get(label) !== is.get(label)).map(told),
  ];
}
