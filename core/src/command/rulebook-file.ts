/** Rulebook files on the command line: reading, findings, formatting, comparing. */
import type { Diagnostic } from '../diagnostics/catalog.ts';
import { compileProgram } from '../engine/program.ts';
import type { Rulebook } from '../rulebook/document.ts';
import { diffRulebooks } from '../rulebook/diff.ts';

export type ReadRulebook = { readonly rulebook: Rulebook } | { readonly problem: string };

const isRecord = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

/** A rulebook from the text of a file; says where the text is no JSON or no rulebook. */
export function readRulebook(text: string): ReadRulebook {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (e) {
    return { problem: `${lineAndColumn(text, placeOfError(text))}: the file is not JSON: ${(e as Error).message}` };
  }
  if (!isRecord(json) || json['format'] !== 'rigid-rule/1')
    return { problem: '1:1: this is no rulebook: "format" has to be "rigid-rule/1"' };
  for (const part of ['recordTypes', 'rules'])
    if (!Array.isArray(json[part]) || !(json[part] as unknown[]).every(isRecord))
      return { problem: `1:1: "${part}" has to be a list` };
  for (const type of json['recordTypes'] as Record<string, unknown>[])
    for (const part of ['fields', 'forms', 'title'])
      if (!Array.isArray(type[part]))
        return { problem: `1:1: the record type ${String(type['key'])} has no list of ${part}` };
  return { rulebook: json as unknown as Rulebook };
}

/** Whether a text is JSON so far and only lacks its end. */
function isBeginning(text: string): boolean {
  try {
    JSON.parse(text);
    return true;
  } catch (e) {
    const at = /position (\d+)/.exec((e as Error).message);
    return at ? Number(at[1]) >= text.length : (e as Error).message.includes('end of JSON');
  }
}

/** Where a text stops being JSON, by halving: the parser does not always say. */
function placeOfError(text: string): number {
  let [low, high] = [0, text.length];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (isBeginning(text.slice(0, middle))) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** `12:5`: line and column, counted from 1, of an offset. */
export function lineAndColumn(text: string, offset: number): string {
  const before = text.slice(0, offset).split('\n');
  return `${before.length}:${before[before.length - 1]!.length + 1}`;
}

export interface Finding {
  readonly rule: string;
  readonly diagnostic: Diagnostic;
}

/** All findings of a rulebook, in the order of its rules. */
export function findingsOf(rulebook: Rulebook): Finding[] {
  const program = compileProgram(rulebook);
  return [...program.types.values()].flatMap(({ rules }) =>
    rules.flatMap(({ rule, diagnostics }) => diagnostics.map((diagnostic) => ({ rule: rule.key, diagnostic }))),
  );
}

/** One finding as a line: `rule /condition 1:5 error: There is no field …`. */
export function findingLine({ rule, diagnostic: d }: Finding, rulebook: Rulebook): string {
  const text = textAt(rulebook, rule, d.path);
  const place = text === undefined ? '' : ` ${lineAndColumn(text, d.range.from)}`;
  return `${rule} ${d.path ?? ''}${place} ${d.severity}: ${d.message}`;
}

function textAt(rulebook: Rulebook, rule: string, path: string | undefined): string | undefined {
  let at: unknown = rulebook.rules.find((r) => r.key === rule);
  for (const token of path?.split('/').slice(1) ?? [])
    at = isRecord(at) ? at[token] : Array.isArray(at) ? at[Number(token)] : undefined;
  return typeof at === 'string' ? at : undefined;
}

/** Readable and stable: a rule, field or record type a block, keys in the order of the document. */
export function formatRulebook(rulebook: Rulebook): string {
  return `${JSON.stringify(rulebook, null, 2)}\n`;
}

export function differenceLines(before: Rulebook, after: Rulebook): string[] {
  return diffRulebooks(before, after).map(
    ({ what, part, name, phrases }) =>
      `${what} ${part.kind} ${name}${phrases.length > 0 ? `: ${phrases.join('; ')}` : ''}`,
  );
}
