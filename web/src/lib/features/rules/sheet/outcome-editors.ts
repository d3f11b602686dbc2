/** The outcome editor of each rule kind: a new kind is one line here. Each is loaded when a rule of its kind is shown. */
import type { CompiledRule, Operation, Rule, TypeProgram } from '@rigid-rule/core';
import type { Draft } from '$lib/features/draft/draft.svelte.ts';
import type { Component } from 'svelte';
import type { SampleValues } from '../sample-values.ts';

export interface OutcomeEditorProps {
  rule: Rule;
  compiled: CompiledRule;
  program: TypeProgram;
  draft: Draft;
  sample: SampleValues;
  marked: number | null;
  readonly: boolean;
  edit: (operations: readonly Operation[], label: string, group?: string) => void;
}

type Loader = () => Promise<{ default: Component<OutcomeEditorProps> }>;

export const outcomeEditors: Readonly<Record<string, Loader>> = {
  default: () => import('./DefaultEditor.svelte'),
  derive: () => import('./DeriveEditor.svelte'),
  categorize: () => import('./CategorizeEditor.svelte'),
  validate: () => import('./ValidateEditor.svelte'),
  map: () => import('./MapEditor.svelte'),
};
