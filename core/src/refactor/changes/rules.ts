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
import { numbering } from './numbering.ts';

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
  phrases.push(...noticePhrases(a.notify ?? [], b.notify ?? []));
  const kind = findRuleKind(b.kind);
  if (a.kind === b.kind) {
    const told = kind?.differences(a.outcome, b.outcome, type, words) ?? [];
    // What its kind does not tell apart is told by its members.
    phrases.push(
      ...(told.length > 0 ? told : memberPhrases('rule', { outcome: a.outcome }, { outcome: b.outcome }, writing)),
    );
  } else {
    const done = (r: Rule): string => sentences(findRuleKind(r.kind)?.clauses(r.outcome, type, words) ?? []);
    say('what it does', done(a), done(b));
  }
  return phrases;
}

/** What a rule that comes or goes says beside what it does. */
export const ruleLines = ({ purpose, notify = [] }: Rule): string[] => [
  ...(purpose ? [`purpose: ${isolated(purpose)}`] : []),
  ...notify.flatMap(({ subject, body }) => (body ? [`text of “${subject}”: ${isolated(body)}`] : [])),
];

/** Where a rule stands among those of its record type, if that is another place than before. */
export function placePhrase(a: Rule, b: Rule, { rules }: Rulebook): string[] {
  if (a.position === b.position) return [];
  const before = rules
    .filter((r) => r.recordType === b.recordType && r.position < b.position)
    .reduce<Rule | undefined>((last, r) => (last && last.position >= r.position ? last : r), undefined);
  return [before ? `order: placed after ${before.name}` : 'order: placed first'];
}

/** Notices by what they say of themselves; of several that say the same, each later one with its number. */
function noticesByClause(notices: readonly Notice[]): ReadonlyMap<string, Notice> {
  const nthOf = numbering();
  return new Map(
    notices.map((notice) => {
      const clause = noticeClause(notice);
      const nth = nthOf(clause);
      return [nth === 1 ? clause : `${clause}, number ${nth}`, notice];
    }),
  );
}

function noticePhrases(before: readonly Notice[], after: readonly Notice[]): string[] {
  const [was, is] = [noticesByClause(before), noticesByClause(after)];
  return [
    ...[...is.keys()].filter((clause) => !was.has(clause)).map((clause) => `now ${clause}`),
    ...[...was.keys()].filter((clause) => !is.has(clause)).map((clause) => `no longer ${clause}`),
    ...[...is].flatMap(([clause, { subject, body }]) => {
      const former = was.get(clause)?.body;
      return former === undefined || former === body
        ? []
        : [`text of “${subject}” ${becomes(former || 'none', body || 'none')}`];
    }),
  ];
}
