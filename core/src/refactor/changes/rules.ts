/** What became of a rule. */
import { repeats, winners, type Notice, type RecordType, type Rule, type Rulebook } from '../../document/document.ts';
import { nameIn, nameOfField } from '../../document/names.ts';
import { findRuleKind } from '../../compile/rule-kinds/index.ts';
import { entriesText, momentsText, noticeClause } from '../../compile/rule-kinds/sentence.ts';
import { becomes, isolated } from '../../language/wording/isolated.ts';
import { sentences } from '../../language/wording/prose.ts';
import type { SentenceWords } from '../../language/wording/words.ts';
import type { Writing } from '../../language/types/writing.ts';
import { memberPhrases } from './members.ts';

export function typePhrase(a: Rule, b: Rule, { recordTypes }: Rulebook): string[] {
  return a.recordType === b.recordType
    ? []
    : [`record type ${becomes(nameIn(recordTypes, a.recordType), nameIn(recordTypes, b.recordType))}`];
}

export function rulePhrases(a: Rule, b: Rule, type: RecordType, words: SentenceWords, writing: Writing): string[] {
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
  if (a.purpose !== b.purpose) phrases.push(`purpose reworded, no record changes: ${isolated(b.purpose || 'none')}`);
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
  phrases.push(...textPhrases(a.notify ?? [], b.notify ?? []));
  const kind = findRuleKind(b.kind);
  if (a.kind === b.kind) phrases.push(...(kind?.differences(a.outcome, b.outcome, type, words) ?? []));
  else {
    const done = (r: Rule): string => sentences(findRuleKind(r.kind)?.clauses(r.outcome, type, words) ?? []);
    say('what it does', done(a), done(b));
  }
  if (phrases.length > 0 || a.recordType !== b.recordType) return phrases;
  return memberPhrases('rule', { ...a, position: 0 }, { ...b, position: 0 }, writing);
}

/** Where a rule stands among those of its record type, if that is another place than before. */
export function placePhrase(a: Rule, b: Rule, { rules }: Rulebook): string[] {
  if (a.position === b.position) return [];
  const before = rules
    .filter((r) => r.recordType === b.recordType && r.position < b.position)
    .reduce<Rule | undefined>((last, r) => (last && last.position >= r.position ? last : r), undefined);
  return [before ? `order: placed after ${before.name}` : 'order: placed first'];
}

/** What is sent, where to whom and under which subject stays. */
const textPhrases = (before: readonly Notice[], after: readonly Notice[]): string[] =>
  after.flatMap((notice) => {
    const was = before.find((n) => noticeClause(n) === noticeClause(notice));
    return was && was.body !== notice.body
      ? [`text of “${notice.subject}” ${becomes(was.body || 'none', notice.body || 'none')}`]
      : [];
  });
