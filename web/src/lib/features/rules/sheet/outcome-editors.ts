/** The outcome editor of each rule kind: a new kind is one line here. */
import type { Operation, RecordType, Rule } from '@rigid-rule/core';
import type { Component } from 'svelte';
import CategorizeEditor from './CategorizeEditor.svelte';

export interface OutcomeEditorProps {
  rule: Rule;
  recordType: RecordType;
  sample: { values: readonly number[]; blanks: number };
  marked: number | null;
  readonly: boolean;
  edit: (operations: readonly Operation[], label: string, group?: string) => void;
}

export const outcomeEditors: Readonly<Record<string, Component<OutcomeEditorProps>>> = {
  categorize: CategorizeEditor,
};
