/** A renaming as one act on the draft: all parts that it rewrites, and what it rewrites, for the preview. */
import type { Program } from '@rigid-rule/core/compile';
import { difference, partId, toParts, type PartRef, type Rulebook } from '@rigid-rule/core/document';
import { rename, type Renaming, type TextAt } from '@rigid-rule/core/refactor';
import type { PartEdit } from './parts.ts';

export interface RenamePlan {
  readonly edits: readonly PartEdit[];
  /** Each text that is rewritten: where, what it was and what it becomes. */
  readonly texts: readonly { readonly where: string; readonly from: string; readonly to: string }[];
  /** What looks like it and stays, since it cannot be known to mean it. */
  readonly left: readonly { readonly where: string; readonly text: string }[];
}

/** The edits that lead from one rulebook to another with the same parts. */
export function editsBetween(before: Rulebook, after: Rulebook): PartEdit[] {
  const old = new Map(toParts(before).map((p) => [partId(p), p.body]));
  return toParts(after).flatMap(({ kind, key, body }) => {
    const operations = difference(old.get(partId({ kind, key })), body);
    return operations.length > 0 ? [{ ref: { kind, key }, operations }] : [];
  });
}

/** @param program The rulebook, compiled, where it is at hand. */
export function planRenaming(
  rulebook: Rulebook,
  renaming: Renaming,
  program?: Program,
): RenamePlan | { readonly problem: string } {
  const renamed = rename(rulebook, renaming, program);
  if ('problem' in renamed) return renamed;
  const edits = editsBetween(rulebook, renamed.rulebook);
  const where = ({ part }: TextAt): string => nameOf(rulebook, part);
  const texts = renamed.rewritten.map((r) => ({ where: where(r), from: r.from, to: r.text }));
  const left = renamed.left.map((l) => ({ where: where(l), text: l.text }));
  return { edits, texts, left };
}

/** What a part is called where a list names it. */
function nameOf(rulebook: Rulebook, { kind, key }: PartRef): string {
  const lists = { rule: rulebook.rules, table: rulebook.tables, test: rulebook.tests } as const;
  const found = kind in lists ? lists[kind as keyof typeof lists]?.find((p) => p.key === key) : undefined;
  return found?.name ?? key;
}
