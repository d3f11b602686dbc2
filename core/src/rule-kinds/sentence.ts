/** A whole rule in one sentence: what it does, and when. */
import type { RecordType, Rule } from '../rulebook/document.ts';
import { findRuleKind } from './index.ts';
import type { SentenceNames } from './rule-kind.ts';

/** `Cost becomes 750 when moved back(Stage) and Stage = "Surveyed".` */
export function ruleSentence(rule: Rule, type: RecordType, names?: SentenceNames): string {
  const outcome = findRuleKind(rule.kind)?.sentence(rule.outcome, type, names) ?? '';
  const condition = rule.condition?.trim().replace(/\s+/g, ' ');
  if (!condition) return outcome;
  return outcome.endsWith('.') ? `${outcome.slice(0, -1)} when ${condition}.` : `${outcome}, when ${condition}`;
}
