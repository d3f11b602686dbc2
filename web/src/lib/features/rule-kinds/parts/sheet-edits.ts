/** Small pieces that the outcome editors share: places in the rule, operations on them, what is said there. */
import { uniqueId } from '$lib/unique-id.ts';
import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
import type { Diagnostic } from '@rigid-rule/core/diagnostics';
import { nameOfField, pointer, type Operation } from '@rigid-rule/core/document';

/** The path of a member of the outcome. */
export const at = (...tokens: (string | number)[]): string => pointer('outcome', ...tokens);

/** Sets a member, whether it is there or not. */
export const set = (path: string, value: unknown): Operation => ({ op: 'add', path, value });
/** Replaces an item of a list; `set` would put one more before it. */
export const put = (path: string, value: unknown): Operation => ({ op: 'replace', path, value });
export const append = (list: string, value: unknown): Operation => ({ op: 'add', path: `${list}/-`, value });
export const drop = (path: string): Operation => ({ op: 'remove', path });

/** What is said of one place of a rule. */
export const saidAt = ({ diagnostics }: CompiledRule, path: string): readonly Diagnostic[] =>
  diagnostics.filter((d) => d.path === path);

export const fieldName = ({ recordType }: TypeProgram, key: string): string => nameOfField(recordType.fields, key);

/** A visit to one input: what is typed within it is one step of undo. */
export class Visit {
  group: string = uniqueId();
  readonly begin = (): void => {
    this.group = uniqueId();
  };
}
