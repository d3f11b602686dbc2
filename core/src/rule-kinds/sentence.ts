/** A whole rule in one sentence: what it does, and when. */
import { sentenceWords, type SentenceWords } from '../assistance/words.ts';
import type { RecordType, Rule } from '../rulebook/document.ts';
import { findRuleKind } from './index.ts';

/** `Cost becomes 750 when Stage moves back from Proposal to Surveyed.` */
export function ruleSentence(rule: Rule, type: RecordType, words: SentenceWords = sentenceWords(type)): string {
  const outcome = findRuleKind(rule.kind)?.sentence(rule.outcome, type, words) ?? '';
  if (!rule.condition?.trim()) return outcome;
  const condition = words.condition(rule.condition);
  return outcome.endsWith('.') ? `${outcome.slice(0, -1)} when ${condition}.` : `${outcome}, when ${condition}`;
}
