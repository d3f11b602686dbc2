/** A whole rule read aloud: on what condition, what it does, and what is unusual about it. What is usual is left out. */
import { enumerate, sentences } from '../../language/wording/prose.ts';
import { sentenceWords, type SentenceWords } from '../../language/wording/words.ts';
import { entryPointsOf } from '../entry-points.ts';
import { moments, type Moment, type Notice, type RecordType, type Rule, type Winner } from '../../document/document.ts';
import { nameOfField } from '../../document/names.ts';
import { findRuleKind } from './index.ts';
import { usualMomentsOf } from './rule-kind.ts';

/** `When Stage moves back from Proposal to Surveyed, Cost becomes 750. Locked.` */
export function ruleSentence(rule: Rule, type: RecordType, words: SentenceWords = sentenceWords(type)): string {
  const kind = findRuleKind(rule.kind);
  const acts = kind?.clauses(rule.outcome, type, words) ?? [];
  const [main = 'it does nothing yet', ...more] = [
    ...acts.filter((c) => c !== ''),
    ...(rule.notify ?? []).map(noticeClause),
  ];
  const when = whenClause(rule, type, words);
  const first = when && main ? `when ${when}, ${main}` : main;
  const writes = kind !== undefined && kind.targets(rule.outcome).length > 0;
  return sentences([
    first,
    ...more,
    ...(writes && kind.replaces !== false ? [winnerClauses[rule.winner] ?? ''] : []),
    ...limits(rule, type),
  ]);
}

function whenClause(rule: Rule, type: RecordType, words: SentenceWords): string {
  const condition = rule.condition?.trim() ? words.condition(rule.condition) : '';
  const named = (rule.wakesOn ?? []).map((key) => nameOfField(type.fields, key));
  // A condition that says itself that one of them changes says all.
  if (named.length === 0 || named.some((n) => condition.includes(n) && /\b(?:changes|moves)\b/.test(condition)))
    return condition;
  const changes = `${enumerate(named, 'or')} changes`;
  return condition ? `${changes} and ${condition}` : changes;
}

const winnerClauses: Readonly<Partial<Record<Winner, string>>> = {
  rule: 'a value that someone entered is replaced',
  person: 'a value that someone entered stays',
  later: 'what came last stays, the value entered or the rule’s',
  locked: 'locked',
};

/** What keeps the rule from acting at every moment, everywhere and whenever it wakes. */
function limits(rule: Rule, type: RecordType): string[] {
  return [
    ...(rule.on ? [] : ['switched off']),
    momentsClause(rule.moments, rule.kind),
    entriesClause(rule.entryPoints, type),
    rule.repeat === 'starts'
      ? 'only when that begins to be so'
      : rule.repeat === 'every'
        ? 'looked at in every write'
        : '',
  ];
}

const isUsual = (of: readonly Moment[], kind: string): boolean => {
  const usual = usualMomentsOf(findRuleKind(kind));
  return usual.length === of.length && usual.every((m) => of.includes(m));
};

/** At which moments a rule acts: *at every moment* where it is usual for its kind. */
export const momentsText = (of: readonly Moment[], kind: string): string =>
  isUsual(of, kind)
    ? 'at every moment'
    : enumerate(moments.filter((m) => of.includes(m.key)).map((m) => m.name)) || 'never';

function momentsClause(of: readonly Moment[], kind: string): string {
  if (isUsual(of, kind)) return '';
  if (of.length === 0) return 'at no moment';
  const usual = usualMomentsOf(findRuleKind(kind));
  const says = (list: readonly Moment[]): string =>
    list.length === 2 && list.includes('creating') && list.includes('updating')
      ? 'when a record is saved'
      : enumerate(moments.filter((m) => list.includes(m.key)).map((m) => m.help));
  return usual.every((m) => of.includes(m)) ? `also ${says(of.filter((m) => !usual.includes(m)))}` : `only ${says(of)}`;
}

/** Through which entry points a rule acts: *everywhere*, *everywhere but …*, or the list. */
export function entriesText(of: readonly string[], type: RecordType): string {
  const all = entryPointsOf(type);
  const [acting, missing] = [all.filter((e) => of.includes(e.key)), all.filter((e) => !of.includes(e.key))];
  const names = (list: typeof all, word?: string): string =>
    enumerate(
      list.map((e) => e.name),
      word,
    );
  if (missing.length === 0) return 'everywhere';
  if (acting.length === 0) return 'nowhere';
  return missing.length < acting.length ? `everywhere but ${names(missing, 'or')}` : names(acting);
}

function entriesClause(of: readonly string[], type: RecordType): string {
  const text = entriesText(of, type);
  if (text === 'everywhere') return '';
  if (text === 'nowhere') return 'through no entry point';
  return text.startsWith('everywhere but ')
    ? `not through ${text.slice('everywhere but '.length)}`
    : `only through ${text}`;
}

const channels: Readonly<Record<Notice['channel'], string>> = {
  email: 'an email goes',
  task: 'a task goes',
  webhook: 'a message goes by webhook',
};

/** `an email goes to Contact.Email: “Credit stop”`. */
export function noticeClause({ channel, to, subject, dueInDays }: Notice): string {
  const due = dueInDays === undefined ? '' : `, due in ${dueInDays} ${dueInDays === 1 ? 'day' : 'days'}`;
  return `${channels[channel]} to ${to}: “${subject}”${due}`;
}
