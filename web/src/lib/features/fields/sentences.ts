import type { Rulebook, RecordType } from '@rigid-rule/core/document';
import { sentenceWords, spokenValue, type SentenceWords } from '@rigid-rule/core/language';
import { ownSentences } from '$lib/organisation.svelte.ts';
import { inOwnForm } from './shown.ts';

/** Sentences with values as the organisation writes them. */
export const wordsFor = (type: RecordType, rulebook: Rulebook): SentenceWords =>
  sentenceWords(type, rulebook, (field, stored) => inOwnForm(field, spokenValue(field, stored)), ownSentences);
