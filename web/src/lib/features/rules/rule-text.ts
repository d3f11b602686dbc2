/** A rule as text, for the clipboard. */
import type { Rule } from '@rigid-rule/core/document';

/** Tells such a text from any other. */
export const clipboardFormat = 'rigid-rule/rule/1';

export const ruleToText = (rule: Rule): string => JSON.stringify({ format: clipboardFormat, rule }, null, 2);
