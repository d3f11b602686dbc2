/** What a part of a draft has to be, for the browser that edits it and the server that keeps it. */
import { partProblem, type PartRef } from '@rigid-rule/core/document';

/** Keys come into addresses and column names. */
const keyForm = /^[a-z0-9][a-z0-9_-]{0,99}$/;
/** Longest text of a name, and of any other text of a part, in characters. */
const longestName = 200;
const longestText = 20_000;

/**
 * Why a part does not keep the shape that the published schema describes, in words; undefined where it does. What the
 * rules mean is the compiler's to judge: a formula that does not compile may well be saved.
 */
export function draftPartProblem({ kind, key }: PartRef, given: unknown): string | undefined {
  const rows = kind === 'table' ? rowsOf(given) : undefined;
  const body = rows ? { ...(given as object), rows: rows.filter((row) => !soundRows.has(row)) } : given;
  const problem = shapeProblem({ kind, key }, body);
  if (problem === undefined) for (const row of rows ?? []) soundRows.add(row);
  return problem;
}

/** Rows that were looked at: they are immutable, and an edit of a long table changes few of them. */
const soundRows = new WeakSet<object>();

function rowsOf(body: unknown): readonly object[] | undefined {
  const { rows } = (body ?? {}) as { readonly rows?: unknown };
  return Array.isArray(rows) && rows.every((r) => typeof r === 'object' && r !== null) ? (rows as object[]) : undefined;
}

function shapeProblem({ kind, key }: PartRef, body: unknown): string | undefined {
  const problem = partProblem(kind, body);
  if (problem !== undefined) return problem;
  const { name, key: own } = body as { readonly name?: unknown; readonly key?: unknown };
  if (hasBlankName(kind, body)) return 'Enter a name: the one before is kept.';
  if (typeof name === 'string' && name.length > longestName) return `A name takes at most ${longestName} characters.`;
  if (hasLongText(body)) return `A text takes at most ${longestText.toLocaleString('en')} characters.`;
  if (kind === 'settings') return undefined;
  const wanted = kind === 'field' ? key.slice(key.indexOf('.') + 1) : key;
  if (own !== wanted) return 'The key of a part never changes.';
  if (['rule', 'field', 'record type', 'table'].includes(kind) && !keyForm.test(String(own)))
    return 'A key is made of small letters, digits, - and _.';
  return undefined;
}

const named: ReadonlySet<string> = new Set(['rule', 'field', 'record type', 'table', 'test']);

/** A part, or an option or column of it, that people could not name any more. */
function hasBlankName(kind: string, body: unknown): boolean {
  const { name, options = [], keys = [], outputs = [] } = body as Readonly<Record<string, unknown>>;
  const isBlank = (v: unknown): boolean => typeof v === 'string' && v.trim() === '';
  const inner = [options, keys, outputs].flatMap((list) => (Array.isArray(list) ? (list as { name?: unknown }[]) : []));
  return named.has(kind) && (isBlank(name) || inner.some((i) => isBlank(i?.name)));
}

function hasLongText(v: unknown): boolean {
  if (typeof v === 'string') return v.length > longestText;
  return typeof v === 'object' && v !== null && Object.values(v).some(hasLongText);
}
