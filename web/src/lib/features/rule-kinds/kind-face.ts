/** What a rule kind shows of itself: its mark, the editor of its outcome, the picture of a change. */
import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
import type { Operation, RecordType, Rule } from '@rigid-rule/core/document';
import type { Draft } from '$lib/features/draft/draft.svelte.ts';
import type { Component } from 'svelte';
import type { SampleValues } from './parts/sample-values.ts';

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

export interface ChangePictureProps {
  before: Rule;
  after: Rule;
  recordType: RecordType;
  /** What the state before and the one after are called. */
  names: readonly [string, string];
}

type Load<P extends Record<string, unknown>> = () => Promise<{ default: Component<P> }>;

export interface KindFace {
  /** The drawn mark: an SVG path in a box of 15 by 12. */
  readonly mark: string;
  /** Loaded when a rule of the kind is shown. */
  readonly editor: Load<OutcomeEditorProps & Record<string, unknown>>;
  /** How a rule looks before and after, where a picture says more than words. */
  readonly picture?: {
    readonly load: Load<ChangePictureProps & Record<string, unknown>>;
    /** Whether there is something to see. */
    readonly shows: (before: Rule, after: Rule) => boolean;
  };
}
