/**
 * Regular expressions in linear time (RE2), for a host to hand to formulas. A module of its own: it is large, and the
 * browser loads it only where a rule uses it.
 */
import { RE2JS } from 're2js';
import type { Pattern } from './function.ts';

const known: Readonly<Record<string, number>> = { i: RE2JS.CASE_INSENSITIVE, s: RE2JS.DOTALL, m: RE2JS.MULTILINE };
const longestPattern = 2_000;

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
      test: (t) => compiled.matcher(t).find(),
      // A group that there is not is left out, as XPath has it; RE2JS would throw.
      replace: (t, replacement) =>
        compiled.matcher(t).replaceAll(dropUnknownGroups(replacement, compiled.groupCount())),
      split: (t) => splitBy(compiled, t),
    };
  } catch {
    return null;
  }
}

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
