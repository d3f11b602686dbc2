/** What one rulebook changes against another, in the product's words. */
import { findRuleKind } from '../compile/rule-kinds/index.ts';
import { rulebookWords, type SentenceWords } from '../language/wording/words.ts';
import { becomes } from '../language/wording/isolated.ts';
import { sentences } from '../language/wording/prose.ts';
import { entriesText, momentsText, noticeClause, ruleSentence } from '../compile/rule-kinds/sentence.ts';
import { fieldTypeOf, isFieldType } from '../language/field-types/index.ts';
import { writtenLoose } from '../language/wording/written.ts';
import { plainWriting, type Writing } from '../language/types/writing.ts';
import { nameOfField } from '../document/names.ts';
import { sameJson } from '../document/canonical.ts';
import {
  repeats,
  winners,
  type Cell,
  type Field,
  type MappingTable,
  type RecordType,
  type Rule,
  type Rulebook,
  type RuleTest,
} from '../document/document.ts';
import { cellText } from '../compile/mapping/cells.ts';
import { partsById } from './change-count.ts';
import { partId, toParts, type Part, type PartKind, type PartRef } from '../document/parts.ts';
import { memberTitle } from '../document/well-formed.ts';
import { inOneGo } from '../values/steps.ts';

export interface PartChange {
  readonly part: PartRef;
  readonly what: 'added' | 'removed' | 'changed';
  /** Name of the part for people. */
  readonly name: string;
  /** Key of the rule kind, for a rule. */
  readonly ruleKind?: string;
  /** Each change in one phrase; empty for an added or removed part that needs no more words. */
  readonly phrases: readonly string[];
  readonly before?: unknown;
  readonly after?: unknown;
}

/** What one rulebook adds, changes and removes against another, in words. */
export const diffRulebooks = (before: Rulebook, after: Rulebook, writing?: Writing): PartChange[] =>
  inOneGo(diffInSteps(before, after, writing));

/** The same in short steps, for whoever has others waiting. */
export function* diffInSteps(
  before: Rulebook,
  after: Rulebook,
  writing: Writing = plainWriting,
): Generator<void, PartChange[]> {
  const old = new Map(yield* partsById(toParts(before)));
  const found: PartChange[] = [];
  yield;
  const [formerly, now] = [describer(before, writing), describer(after, writing)];
  yield;
  for (const part of toParts(after)) {
    yield;
    const was = old.get(partId(part));
    old.delete(partId(part));
    if (!was) found.push(now(part, 'added', undefined, part.body));
    else if (!sameJson(was.body, part.body)) found.push(now(part, 'changed', was.body, part.body));
  }
  for (const part of old.values()) {
    yield;
    found.push(formerly(part, 'removed', part.body, undefined));
  }
  return found;
}

/** What changes of parts are told with. */
interface Describing {
  readonly rulebook: Rulebook;
  readonly words: (type: RecordType) => SentenceWords;
  readonly writing: Writing;
}

type Describe = (part: Part, what: PartChange['what'], before: unknown, after: unknown) => PartChange;

/** What its record types are called and how formulas read is looked up once for all changes. */
function describer(rulebook: Rulebook, writing: Writing): Describe {
  const words = rulebookWords(rulebook, writing);
  return (part, what, before, after) => describe(part, what, before, after, { rulebook, words, writing });
}

function describe(
  part: Part,
  what: PartChange['what'],
  before: unknown,
  after: unknown,
  { rulebook, words, writing }: Describing,
): PartChange {
  const body = (after ?? before) as { name?: string };
  const base = {
    part: { kind: part.kind, key: part.key },
    what,
    name: body.name ?? part.key,
    ...(before === undefined ? {} : { before }),
    ...(after === undefined ? {} : { after }),
  };
  if (part.kind === 'table' && what === 'changed')
    return { ...base, phrases: tablePhrases(before as MappingTable, after as MappingTable, writing) };
  if (part.kind === 'field' && what === 'changed')
    return { ...base, phrases: fieldPhrases(before as Field, after as Field, part.key, rulebook, writing) };
  if (part.kind === 'field') return { ...base, phrases: [fieldSummary(body as Field, part.key, rulebook)] };
  if (part.kind === 'test' && what === 'changed')
    return { ...base, phrases: testPhrases(before as RuleTest, after as RuleTest) };
  if (part.kind !== 'rule') {
    const spoken = (body: unknown): unknown => inNames(body as object, part, rulebook);
    return { ...base, phrases: what === 'changed' ? memberPhrases(part.kind, spoken(before), spoken(after)) : [] };
  }
  const rule = body as Rule;
  const type = rulebook.recordTypes.find((t) => t.key === rule.recordType);
  const phrases =
    what === 'changed'
      ? [
          ...typePhrase(before as Rule, after as Rule, rulebook),
          ...(type ? rulePhrases(before as Rule, after as Rule, type, words(type)) : []),
        ]
      : type
        ? [ruleSentence(rule, type, words(type))]
        : [];
  return { ...base, ruleKind: rule.kind, phrases };
}

/** `Picklist of Customers: Low, High`: what a field that comes or goes holds, and of which records. */
function fieldSummary(field: Field, key: string, { recordTypes }: Rulebook): string {
  const type = recordTypes.find((t) => key.startsWith(`${t.key}.`));
  const linked = recordTypes.find((t) => t.key === field.recordType)?.name;
  const options = field.options?.map((o) => o.name) ?? [];
  return [
    `${isFieldType(field.type) ? fieldTypeOf(field).name : field.type}${type ? ` of ${type.plural}` : ''}`,
    ...(linked === undefined ? [] : [`a ${linked.toLowerCase()}`]),
    ...(options.length > 0 ? [options.join(', ')] : []),
  ].join(': ');
}

const nameIn = (list: readonly { readonly key: string; readonly name: string }[], key: string): string =>
  list.find((x) => x.key === key)?.name ?? key;

/** A record type or the settings with names in the place of keys. */
function inNames(body: object, { kind, key }: PartRef, { recordTypes }: Rulebook): object {
  if (kind === 'settings') {
    const { userRecordType: type } = body as Partial<Rulebook>;
    return type === undefined ? body : { ...body, userRecordType: nameIn(recordTypes, type) };
  }
  if (kind !== 'record type') return body;
  const fields = recordTypes.find((t) => t.key === key)?.fields ?? [];
  return { ...body, title: (body as RecordType).title.map((k) => nameIn(fields, k)) };
}

function fieldPhrases(before: Field, after: Field, key: string, { recordTypes }: Rulebook, writing: Writing): string[] {
  const { options: old = [], ...a } = before;
  const { options: now = [], ...b } = after;
  const names = (list: readonly { readonly name: string }[]): string => list.map((o) => o.name).join(', ');
  const added = now.filter((o) => !old.some((x) => x.key === o.key));
  const removed = old.filter((o) => !now.some((x) => x.key === o.key));
  const renamed = now.flatMap((o) => {
    const was = old.find((x) => x.key === o.key);
    return was && was.name !== o.name ? [`option ${becomes(was.name, o.name)}`] : [];
  });
  const kept = (list: typeof old, other: typeof old): string =>
    list.flatMap((o) => (other.some((x) => x.key === o.key) ? [o.key] : [])).join();
  const more = now.some((o) => {
    const was = old.find((x) => x.key === o.key);
    return was && !sameJson({ ...was, name: '' }, { ...o, name: '' });
  });
  const siblings = recordTypes.find((t) => key.startsWith(`${t.key}.`))?.fields ?? [];
  const called: Readonly<Record<string, (value: string) => string>> = {
    recordType: (v) => nameIn(recordTypes, v),
    optionsOf: (v) => nameIn(siblings, v),
    type: (v) => (isFieldType(v) ? fieldTypeOf({ type: v }).name : v),
  };
  const read = (member: string, v: unknown): string => {
    if (v === undefined) return 'none';
    if (typeof v === 'number') return writtenLoose(v, writing);
    return v === true ? 'yes' : (called[member]?.(String(v)) ?? String(v));
  };
  const members = [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((k) => {
    const [from, to] = [(a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]];
    return sameJson(from, to)
      ? []
      : [
          `${memberTitle('field', k)} ${becomes(
            from === undefined && to === true ? 'no' : read(k, from),
            to === undefined && from === true ? 'no' : read(k, to),
          )}`,
        ];
  });
  return [
    ...members,
    ...(added.length > 0 ? [`options added: ${names(added)}`] : []),
    ...(removed.length > 0 ? [`options removed: ${names(removed)}`] : []),
    ...renamed,
    ...(kept(old, now) === kept(now, old) ? [] : ['order of the options']),
    ...(more ? ['what options mean, or their marks'] : []),
  ];
}

function typePhrase(a: Rule, b: Rule, { recordTypes }: Rulebook): string[] {
  return a.recordType === b.recordType
    ? []
    : [`record type ${becomes(nameIn(recordTypes, a.recordType), nameIn(recordTypes, b.recordType))}`];
}

function rulePhrases(a: Rule, b: Rule, type: RecordType, words: SentenceWords): string[] {
  const phrases: string[] = [];
  const say = (what: string, from: string, to: string): void => {
    if (from !== to) phrases.push(`${what} ${becomes(from || 'none', to || 'none')}`);
  };
  const named = (list: readonly { key: string; name: string }[], keys: readonly string[]): string =>
    list
      .filter((x) => keys.includes(x.key))
      .map((x) => x.name)
      .join(', ');
  say('name', a.name, b.name);
  if (a.purpose !== b.purpose) phrases.push('purpose reworded; no record changes');
  if (a.on !== b.on) phrases.push(b.on ? 'switched on' : 'switched off');
  say('acts', momentsText(a.moments, a.kind), momentsText(b.moments, b.kind));
  say('acts', entriesText(a.entryPoints, type), entriesText(b.entryPoints, type));
  say('only if', words.condition(a.condition ?? ''), words.condition(b.condition ?? ''));
  say('repeat', named(repeats, [a.repeat]), named(repeats, [b.repeat]));
  say('if someone entered a value:', named(winners, [a.winner]), named(winners, [b.winner]));
  const fields = (keys: readonly string[] | undefined): string =>
    keys?.map((k) => nameOfField(type.fields, k)).join(', ') ?? 'what it reads';
  say('wakes on', fields(a.wakesOn), fields(b.wakesOn));
  say('kind', findRuleKind(a.kind)?.name ?? a.kind, findRuleKind(b.kind)?.name ?? b.kind);
  const [told, tells] = [(a.notify ?? []).map(noticeClause), (b.notify ?? []).map(noticeClause)];
  phrases.push(...tells.filter((n) => !told.includes(n)).map((n) => `now ${n}`));
  phrases.push(...told.filter((n) => !tells.includes(n)).map((n) => `no longer ${n}`));
  if (sameJson(told, tells) && !sameJson(a.notify ?? [], b.notify ?? []))
    phrases.push('text or due date of a notification');
  const kind = findRuleKind(b.kind);
  if (a.kind === b.kind) phrases.push(...(kind?.differences(a.outcome, b.outcome, type, words) ?? []));
  else {
    const done = (r: Rule): string => sentences(findRuleKind(r.kind)?.clauses(r.outcome, type, words) ?? []);
    say('what it does', done(a), done(b));
  }
  if (phrases.length > 0 || a.recordType !== b.recordType) return phrases;
  return [sameJson({ ...a, position: 0 }, { ...b, position: 0 }) ? 'order' : 'what it does'];
}

/** Rows by their key cells; everything else of the table as members. */
function tablePhrases(a: MappingTable, b: MappingTable, writing: Writing): string[] {
  const { rows: oldRows, ...oldFrame } = a;
  const { rows: newRows, ...newFrame } = b;
  const [before, after] = [rowsByKey(oldRows, b.keys, writing), rowsByKey(newRows, b.keys, writing)];
  const phrases = memberPhrases('table', oldFrame, newFrame);
  const list = (what: string, keys: readonly string[]): void => {
    if (keys.length > 0)
      phrases.push(
        `${what} ${keys.slice(0, mostRowsNamed).join('; ')}${keys.length > mostRowsNamed ? ` and ${keys.length - mostRowsNamed} more` : ''}`,
      );
  };
  list(
    'rows added:',
    [...after.keys()].filter((k) => !before.has(k)),
  );
  list(
    'rows removed:',
    [...before.keys()].filter((k) => !after.has(k)),
  );
  for (const [key, row] of after) {
    const was = before.get(key);
    if (!was || sameJson(was, row)) continue;
    for (const c of b.outputs)
      if (!sameJson(was[c.key] ?? null, row[c.key] ?? null))
        phrases.push(
          `${c.name} of ${key} ${becomes(outputText(was[c.key], writing), outputText(row[c.key], writing))}`,
        );
  }
  const kept = (list: ReadonlyMap<string, Row>, other: ReadonlyMap<string, Row>): string =>
    [...list.keys()].filter((key) => other.has(key)).join('\0');
  if (phrases.length === 0 || kept(before, after) !== kept(after, before)) phrases.push('order of the rows');
  return phrases;
}

/** Rows by what their key cells say; of several that say the same, the second is `Spain (2nd)`. */
function rowsByKey(rows: MappingTable['rows'], keys: MappingTable['keys'], writing: Writing): ReadonlyMap<string, Row> {
  const [found, count] = [new Map<string, Row>(), new Map<string, number>()];
  for (const row of rows) {
    const said = keys.map((c) => cellText(row[c.key], writing)).join(', ');
    const nth = (count.get(said) ?? 0) + 1;
    count.set(said, nth);
    found.set(nth === 1 ? said : `${said} (${ordinal(nth)})`, row);
  }
  return found;
}

type Row = MappingTable['rows'][number];
const ordinal = (n: number): string => {
  const ending = n % 100 >= 11 && n % 100 <= 13 ? undefined : ['st', 'nd', 'rd'][(n % 10) - 1];
  return `${n}${ending ?? 'th'}`;
};

const mostRowsNamed = 10;
const outputText = (cell: Cell | undefined, writing: Writing): string =>
  cell === null || cell === undefined ? 'blank' : cellText(cell, writing);

/** A member in words; undefined where it holds more than values and named things. */
function memberText(v: unknown): string | undefined {
  if (v === undefined || v === null) return 'none';
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (typeof v !== 'object') return String(v);
  if (!Array.isArray(v)) return undefined;
  const items = v.map((i: unknown) =>
    typeof i === 'object' && i !== null ? (i as { name?: unknown }).name : memberText(i),
  );
  return items.every((i) => typeof i === 'string') ? items.join(', ') || 'none' : undefined;
}

function memberPhrases(kind: PartKind, before: unknown, after: unknown): string[] {
  const [a, b] = [before as Record<string, unknown>, after as Record<string, unknown>];
  const keys = [...new Set([...Object.keys(a), ...Object.keys(b)])];
  return keys
    .filter((k) => !sameJson(a[k], b[k]))
    .map((k) => {
      const [from, to] = [memberText(a[k]), memberText(b[k])];
      const called = memberTitle(kind, k);
      return from === undefined || to === undefined || from === to ? called : `${called} ${becomes(from, to)}`;
    });
}

/** In the order in which they are told; the cases are told by their number. */
const testMembers = [
  'name',
  'before',
  'related',
  'origin',
  'sent',
  'typed',
  'moment',
  'entryPoint',
  'now',
  'user',
  'woken',
  'expect',
] as const satisfies readonly (keyof RuleTest)[];

function testPhrases(before: RuleTest, after: RuleTest): string[] {
  const count = ({ family }: RuleTest): number =>
    (family?.cases?.rows.length ?? 1) * (family?.entryPoints?.length ?? 1);
  const members = testMembers.filter((m) => !sameJson(before[m] ?? null, after[m] ?? null));
  const [a, b] = [count(before), count(after)];
  const cases = sameJson(before.family ?? null, after.family ?? null)
    ? []
    : [a === b ? (a === 1 ? 'the case' : `the ${a} cases`) : `cases ${becomes(`${a}`, `${b}`)}`];
  return [...cases, ...members.map((m) => memberTitle('test', m))];
}
