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
