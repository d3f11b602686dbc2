/** What the rules as a whole say is wrong or doubtful. One descriptor a kind of finding. */
import type { Severity, TextRange } from '../diagnostics/catalog.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { RecordType, Rule } from '../document/document.ts';
import type { Operation } from '../document/patch.ts';
import type { PartRef } from '../document/parts.ts';

/** An edit of one part of the draft, as a JSON Patch of its body. */
export interface Edit {
  readonly part: PartRef;
  readonly operations: readonly Operation[];
}

export interface Repair {
  /** What it does, for the button. */
  readonly text: string;
  readonly edits: readonly Edit[];
}

export interface Finding {
  /** Kind and place: the same finding has the same key after other edits. */
  readonly key: string;
  readonly kind: string;
  readonly severity: Severity;
  readonly part: PartRef;
  /** JSON pointer within the part. */
  readonly path?: string;
  /** Within the text at the path. */
  readonly range?: TextRange;
  readonly sentence: string;
  readonly repair?: Repair;
  /** The reason with which it was accepted. */
  readonly accepted?: string;
}

/** What a descriptor gives; the rest follows from it. */
export interface Found {
  readonly part: PartRef;
  readonly path?: string;
  readonly range?: TextRange;
  readonly sentence: string;
  readonly repair?: Repair;
  /** Tells apart several of one kind at one place. */
  readonly also?: string;
  readonly severity?: Severity;
}

export interface FindingKind {
  readonly key: string;
  /** As a heading. */
  readonly name: string;
  readonly severity: Severity;
  find(program: Program, context: FindingContext): Iterable<Found>;
}

export interface FindingContext {
  /** Keys of rules that some test makes act; undefined: tests were not run. */
  readonly reached?: ReadonlySet<string>;
}

export const rulePart = (rule: Rule): PartRef => ({ kind: 'rule', key: rule.key });
export const fieldPart = (type: RecordType, field: string): PartRef => ({ kind: 'field', key: `${type.key}.${field}` });

/** Rules that take part, with their type. */
export function* activeRules(program: Program): Iterable<readonly [CompiledRule, TypeProgram]> {
  for (const type of program.types.values())
    for (const rule of type.rules) if (rule.compiles && rule.rule.on) yield [rule, type];
}

export const setting = (rule: Rule, path: string, value: unknown, exists = true): Edit => ({
  part: rulePart(rule),
  operations: [{ op: exists ? 'replace' : 'add', path, value }],
});
