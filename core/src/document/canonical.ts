import { compareText } from '../values/value.ts';

/** Canonical JSON: keys sorted by code point, shortest numbers, no white space; `undefined` members are left out. */
export function canonicalJson(v: unknown): string {
  if (v === null || typeof v !== 'object') return JSON.stringify(v === undefined ? null : v);
  if (Array.isArray(v)) return `[${v.map(canonicalJson).join(',')}]`;
  const members = Object.entries(v as Record<string, unknown>)
    .filter(([, value]) => value !== undefined)
    .sort(([a], [b]) => compareText(a, b))
    .map(([key, value]) => `${JSON.stringify(key)}:${canonicalJson(value)}`);
  return `{${members.join(',')}}`;
}

/** As `canonicalJson`, item by item down to the rows of a table, for who has to do other things in between. */
export function* canonicalInSteps(v: unknown, depth = 4): Generator<void, string> {
  if (depth === 0 || v === null || typeof v !== 'object') return canonicalJson(v);
  const texts: string[] = [];
  if (Array.isArray(v)) {
    for (const item of v) {
      yield;
      texts.push(yield* canonicalInSteps(item, depth - 1));
    }
    return `[${texts.join(',')}]`;
  }
  const members = v as Record<string, unknown>;
  for (const key of Object.keys(members).sort(compareText))
    if (members[key] !== undefined)
      texts.push(`${JSON.stringify(key)}:${yield* canonicalInSteps(members[key], depth - 1)}`);
  return `{${texts.join(',')}}`;
}

/** Whether two values have the same canonical JSON, without writing it. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b) return (a ?? null) === (b ?? null);
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  if (Array.isArray(a)) {
    const other = b as readonly unknown[];
    return a.length === other.length && a.every((v, i) => sameJson(v, other[i]));
  }
  const [mine, theirs] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const filled = (v: Record<string, unknown>): string[] => Object.keys(v).filter((k) => v[k] !== undefined);
  const names = filled(mine);
  return (
    names.length === filled(theirs).length &&
    names.every((k) => Object.hasOwn(theirs, k) && theirs[k] !== undefined && sameJson(mine[k], theirs[k]))
  );
}
