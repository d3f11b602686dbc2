/** What one rulebook changes against another, in the product's words. */
import { findRuleKind } from '../rule-kinds/index.ts';
import { sentenceWords, type SentenceWords } from '../assistance/words.ts';
import { ruleSentence } from '../rule-kinds/sentence.ts';
import { canonicalJson } from './canonical.ts';
import {
  moments,
  repeats,
  winners,
  type Cell,
  type Field,
  type MappingTable,
  type Notice,
  type RecordType,
  type Rule,
  type Rulebook,
} from './document.ts';
import { cellText } from '../mapping/cells.ts';
import { partId, toParts, type Part, type PartRef } from './parts.ts';
import { entryPointsOf } from '../engine/entry-points.ts';

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

export function diffRulebooks(before: Rulebook, after: Rulebook): PartChange[] {
  const old = new Map(toParts(before).map((p) => [partId(p), p]));
  const found: PartChange[] = [];
  for (const part of toParts(after)) {
    const was = old.get(partId(part));
    old.delete(partId(part));
    if (!was) found.push(describe(part, 'added', undefined, part.body, after));
    else if (canonicalJson(was.body) !== canonicalJson(part.body))
      found.push(describe(part, 'changed', was.body, part.body, after));
  }
  for (const part of old.values()) found.push(describe(part, 'removed', part.body, undefined, before));
  return found;
}

function describe(
  part: Part,
  what: PartChange['what'],
  before: unknown,
  after: unknown,
  rulebook: Rulebook,
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
    return { ...base, phrases: tablePhrases(before as MappingTable, after as MappingTable) };
  if (part.kind === 'field' && what === 'changed')
    return { ...base, phrases: fieldPhrases(before as Field, after as Field, rulebook) };
  if (part.kind !== 'rule') return { ...base, phrases: what === 'changed' ? memberPhrases(before, after) : [] };
  const rule = body as Rule;
  const type = rulebook.recordTypes.find((t) => t.key === rule.recordType);
  const phrases =
    what === 'changed' && type
      ? rulePhrases(before as Rule, after as Rule, type, sentenceWords(type, rulebook))
      : sentenceOf(rule, type, rulebook);
  return { ...base, ruleKind: rule.kind, phrases };
}

/** What it does and when, and who wins; that it acts only in some places. */
function sentenceOf(rule: Rule, type: RecordType | undefined, rulebook: Rulebook): string[] {
  if (!type) return [];
  const winner = winners.find((w) => w.key === rule.winner)?.name;
  const missing = entryPointsOf(type).filter((e) => !rule.entryPoints.includes(e.key));
  return [
    ruleSentence(rule, type, sentenceWords(type, rulebook)),
    ...(rule.on ? [] : ['switched off']),
    ...(winner && findRuleKind(rule.kind)?.targets(rule.outcome).length ? [`over a person’s value: ${winner}`] : []),
    ...(missing.length > 0 ? [`not through ${missing.map((e) => e.name).join(', ')}`] : []),
    ...(rule.notify ?? []).map(noticeText),
  ];
}

const noticeText = ({ channel, to, subject }: Notice): string => `${channel} to ${to}: “${subject}”`;

/** Members of a field as people call them. */
const memberNames: Readonly<Record<string, string>> = {
  scale: 'decimals',
  optionsOf: 'options shared with',
  ordered: 'ordered by its options',
  recordType: 'links to',
  children: 'other end',
  min: 'at least',
  max: 'at most',
  length: 'most characters',
};

function fieldPhrases(before: Field, after: Field, { recordTypes }: Rulebook): string[] {
  const { options: old = [], ...a } = before;
  const { options: now = [], ...b } = after;
  const names = (list: readonly { readonly name: string }[]): string => list.map((o) => o.name).join(', ');
  const added = now.filter((o) => !old.some((x) => x.key === o.key));
  const removed = old.filter((o) => !now.some((x) => x.key === o.key));
  const renamed = now.flatMap((o) => {
    const was = old.find((x) => x.key === o.key);
    return was && was.name !== o.name ? [`option ${was.name} → ${o.name}`] : [];
  });
  const kept = (list: typeof old, other: typeof old): string =>
    list.flatMap((o) => (other.some((x) => x.key === o.key) ? [o.key] : [])).join();
  const more = now.some((o) => {
    const was = old.find((x) => x.key === o.key);
    return was && canonicalJson({ ...was, name: '' }) !== canonicalJson({ ...o, name: '' });
  });
  const called = (key: string): string => recordTypes.find((t) => t.key === key)?.name ?? key;
  const read = (member: string, v: unknown): string =>
    v === undefined ? 'none' : v === true ? 'yes' : member === 'recordType' ? called(String(v)) : String(v as string);
  const members = [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((k) => {
    const [from, to] = [(a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]];
    return canonicalJson(from) === canonicalJson(to)
      ? []
      : [
          `${memberNames[k] ?? k} ${from === undefined && to === true ? 'no' : read(k, from)} → ${to === undefined && from === true ? 'no' : read(k, to)}`,
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

function rulePhrases(a: Rule, b: Rule, type: RecordType, words: SentenceWords): string[] {
  const phrases: string[] = [];
  const say = (what: string, from: string, to: string): void => {
    if (from !== to) phrases.push(`${what} ${from || 'none'} → ${to || 'none'}`);
  };
  const named = (list: readonly { key: string; name: string }[], keys: readonly string[]): string =>
    list
      .filter((x) => keys.includes(x.key))
      .map((x) => x.name)
      .join(', ');
  say('name', a.name, b.name);
  if (a.purpose !== b.purpose) phrases.push('purpose reworded; no record changes');
  if (a.on !== b.on) phrases.push(b.on ? 'switched on' : 'switched off');
  say('moments', named(moments, a.moments), named(moments, b.moments));
  const entries = entryPointsOf(type);
  say('comes in through', named(entries, a.entryPoints), named(entries, b.entryPoints));
  say('only if', words.condition(a.condition ?? ''), words.condition(b.condition ?? ''));
  say('repeat', named(repeats, [a.repeat]), named(repeats, [b.repeat]));
  say('over a person’s value', named(winners, [a.winner]), named(winners, [b.winner]));
  const fields = (keys: readonly string[] | undefined): string =>
    keys?.map((k) => type.fields.find((f) => f.key === k)?.name ?? k).join(', ') ?? 'what it reads';
  say('wakes on', fields(a.wakesOn), fields(b.wakesOn));
  say('kind', findRuleKind(a.kind)?.name ?? a.kind, findRuleKind(b.kind)?.name ?? b.kind);
  const [told, tells] = [(a.notify ?? []).map(noticeText), (b.notify ?? []).map(noticeText)];
  phrases.push(...tells.filter((n) => !told.includes(n)).map((n) => `notifies: ${n}`));
  phrases.push(...told.filter((n) => !tells.includes(n)).map((n) => `no longer notifies: ${n}`));
  if (canonicalJson(told) === canonicalJson(tells) && canonicalJson(a.notify ?? []) !== canonicalJson(b.notify ?? []))
    phrases.push('text or due date of a notification');
  phrases.push(...(findRuleKind(b.kind)?.differences(a.outcome, b.outcome, type, words) ?? []));
  if (phrases.length === 0) phrases.push('order');
  return phrases;
}

/** Rows by their key cells; everything else of the table as members. */
function tablePhrases(a: MappingTable, b: MappingTable): string[] {
  const { rows: oldRows, ...oldFrame } = a;
  const { rows: newRows, ...newFrame } = b;
  const keyOf = (row: MappingTable['rows'][number]): string => b.keys.map((c) => cellText(row[c.key])).join(', ');
  const before = new Map(oldRows.map((row) => [keyOf(row), row]));
  const after = new Map(newRows.map((row) => [keyOf(row), row]));
  const phrases = memberPhrases(oldFrame, newFrame);
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
    if (!was || canonicalJson(was) === canonicalJson(row)) continue;
    for (const c of b.outputs)
      if (canonicalJson(was[c.key] ?? null) !== canonicalJson(row[c.key] ?? null))
        phrases.push(`${c.name} of ${key} ${outputText(was[c.key])} → ${outputText(row[c.key])}`);
  }
  return phrases.length > 0 ? phrases : ['order of the rows'];
}

const mostRowsNamed = 10;
const outputText = (cell: Cell | undefined): string => (cell === null || cell === undefined ? 'blank' : cellText(cell));

function memberPhrases(before: unknown, after: unknown): string[] {
  const [a, b] = [before as Record<string, unknown>, after as Record<string, unknown>];
  const keys = [...new Set([...Object.keys(a), ...Object.keys(b)])];
  const text = (v: unknown): string =>
    v === undefined ? 'none' : typeof v === 'object' ? canonicalJson(v) : String(v);
  return keys
    .filter((k) => canonicalJson(a[k]) !== canonicalJson(b[k]))
    .map((k) => `${k} ${text(a[k])} → ${text(b[k])}`);
}
