import type { Rulebook, RecordType } from '@rigid-rule/core/document';
import { sentenceWords, type SentenceWords } from '@rigid-rule/core/language';
import { ownSentences } from '$lib/organisation.svelte.ts';

/** Sentences with values as the organisation writes them. */
export const wordsFor = (type: RecordType, rulebook: Rulebook): SentenceWords =>
  sentenceWords(type, rulebook, ownSentences);
