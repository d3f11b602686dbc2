/** A renaming as one act on the draft: all parts that it rewrites, and what it rewrites, for the preview. */
import { difference, partId, rename, toParts, type Renaming, type Rulebook } from '@rigid-rule/core';
import type { PartEdit } from './parts.ts';

export interface RenamePlan {
  readonly edits: readonly PartEdit[];
  /** Each text that is rewritten: where, what it was and what it becomes. */
  readonly texts: readonly { readonly where: string; readonly from: string; readonly to: string }[];
}

/** The edits that lead from one rulebook to another with the same parts. */
export function editsBetween(before: Rulebook, after: Rulebook): PartEdit[] {
  const old = new Map(toParts(before).map((p) => [partId(p), p.body]));
  return toParts(after).flatMap(({ kind, key, body }) => {
    const operations = difference(old.get(partId({ kind, key })), body);
    return operations.length > 0 ? [{ ref: { kind, key }, operations }] : [];
  });
}

export function planRenaming(rulebook: Rulebook, renaming: Renaming): RenamePlan | { readonly problem: string } {
  const renamed = rename(rulebook, renaming);
  if ('problem' in renamed) return renamed;
  const edits = editsBetween(rulebook, renamed.rulebook);
  const texts = renamed.rewritten.map(({ rule, path, text }) => {
    const body = rulebook.rules.find((r) => r.key === rule);
    return { where: body?.name ?? rule, from: textAt(body, path), to: text };
  });
  return { edits, texts };
}

function textAt(body: unknown, path: string): string {
  const found = path
    .split('/')
    .slice(1)
    .reduce<unknown>((o, token) => (o as Record<string, unknown> | undefined)?.[token], body);
  return typeof found === 'string' ? found : '';
}
