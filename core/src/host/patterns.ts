/**
 * Regular expressions in linear time (RE2), for a host to hand to formulas. A module of its own: it is large, and the
 * browser loads it only where a rule uses it.
 */
import { RE2JS } from 're2js';
import type { Host, Pattern } from '../language/types/host.ts';

const known: Readonly<Record<string, number>> = { i: RE2JS.CASE_INSENSITIVE, s: RE2JS.DOTALL, m: RE2JS.MULTILINE };
const longestPattern = 2_000;

/** Patterns kept by one host; the least recently asked for goes first. */
const patternsKept = 200;

/** What a host hands to formulas: patterns compiled once and kept, since a rule asks for the same ones at each write. */
export function createPatterns(): NonNullable<Host['pattern']> {
  const kept = new Map<string, Pattern | null>();
  return (source, flags) => {
    const key = `${flags}/${source}`;
    let pattern = kept.get(key);
    if (pattern === undefined) pattern = re2Pattern(source, flags);
    else kept.delete(key);
    if (kept.size >= patternsKept) kept.delete(kept.keys().next().value!);
    kept.set(key, pattern);
    return pattern;
  };
}

/** null for a flag or a pattern that there is not. Flag `x` takes white space out of the pattern (XPath 5.6.1.1). */
export function re2Pattern(source: string, flags: string): Pattern | null {
  let bits = 0;
  let text = source;
  if (source.length > longestPattern) return null;
  for (const flag of flags) {
    if (flag === 'x') text = text.replace(/\s+/g, '');
    else if (!Object.hasOwn(known, flag)) return null;
    else bits |= known[flag]!;
  }
  try {
    const compiled = RE2JS.compile(text, bits);
    return {
      size: compiled.programSize(),
      test: (t) => compiled.matcher(t).find(),
      replace: (t, replacement, most) =>
        // A group that there is not is left out, as XPath has it; RE2JS would throw.
        replaceBy(compiled, t, dropUnknownGroups(replacement, compiled.groupCount()), most),
      split: (t) => splitBy(compiled, t),
    };
  } catch {
    return null;
  }
}

/** All occurrences replaced, as long as the result has room. */
function replaceBy(compiled: RE2JS, text: string, replacement: string, most: number): string | null {
  const matcher = compiled.matcher(text);
  let result = '';
  let last = 0;
  while (matcher.find()) {
    result += text.slice(last, matcher.start());
    last = matcher.end();
    result += expanded(replacement, matcher);
    if (result.length > most) return null;
  }
  result += text.slice(last);
  return result.length > most ? null : result;
}

/** The replacement with its groups: `$1` to `$9`, `\\` before what stands for itself. */
const expanded = (replacement: string, matcher: ReturnType<RE2JS['matcher']>): string =>
  replacement.replace(/\\(.)|\$(\d)/gs, (_, escaped: string | undefined, group: string | undefined) =>
    escaped === undefined ? (matcher.group(Number(group)) ?? '') : escaped,
  );

function dropUnknownGroups(replacement: string, groups: number): string {
  return replacement.replace(/\\(.)|\$(\d)/gs, (whole, escaped: string | undefined, group: string | undefined) =>
    escaped !== undefined ? `\\${escaped}` : Number(group) <= groups ? whole : '',
  );
}

/** Keeps empty parts, also at the end. */
function splitBy(compiled: RE2JS, text: string): string[] {
  const parts: string[] = [];
  const matcher = compiled.matcher(text);
  let last = 0;
  while (matcher.find()) {
    if (matcher.end() === matcher.start()) continue;
    parts.push(text.slice(last, matcher.start()));
    last = matcher.end();
  }
  parts.push(text.slice(last));
  return parts;
}
