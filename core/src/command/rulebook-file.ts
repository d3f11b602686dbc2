/** Rulebook files on the command line: reading, findings, formatting, comparing. */
import { Ajv2020, type ErrorObject, type ValidateFunction } from 'ajv/dist/2020.js';
import {
  createScanner,
  findNodeAtLocation,
  getNodeValue,
  parseTree,
  printParseErrorCode,
  type Node,
  type ParseError,
} from 'jsonc-parser';
import { findingsOf } from '../analysis/findings.ts';
import type { Finding } from '../analysis/finding.ts';
import { compileProgram } from '../compile/program.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import { reachedBy, runTests } from '../rule-tests/run.ts';
import type { Rulebook } from '../document/document.ts';
import { diffRulebooks } from '../refactor/diff.ts';
import { toParts } from '../document/parts.ts';
import { valueAt } from '../document/patch.ts';
import { rulebookSchema } from '../document/schema.ts';
import { compareText } from '../values/value.ts';
import { zoneOffset } from '../host/zones.ts';

export type ReadRulebook = { readonly rulebook: Rulebook } | { readonly problems: readonly string[] };

/** More mistakes of shape than this are not listed. */
const mostProblems = 20;

let compiled: ValidateFunction | undefined;
/** Made at the first file: most that load this read none. */
const validator = (): ValidateFunction =>
  (compiled ??= new Ajv2020({ allErrors: true, allowUnionTypes: true }).compile(rulebookSchema));

/** Levels of brackets in a file: far more than any rulebook has, far fewer than readers of JSON take. */
const mostLevels = 100;

/** The offset at which a text goes beyond them. */
function tooDeep(text: string): number | undefined {
  const scanner = createScanner(text, true);
  let level = 0;
  while (scanner.getPosition() < text.length) {
    scanner.scan();
    // A bracket is a token of its own; those in texts are within theirs.
    const at = scanner.getTokenOffset();
    if (text[at] === '{' || text[at] === '[') level++;
    else if (text[at] === '}' || text[at] === ']') level--;
    if (level > mostLevels) return at;
  }
  return undefined;
}

/** A rulebook from the text of a file; says with line and column where the text is no JSON or no rulebook. */
export function readRulebook(file: string): ReadRulebook {
  const text = file.replace(/^\ufeff/, '');
  const deep = tooDeep(text);
  if (deep !== undefined)
    return { problems: [`${lineAndColumn(text, deep)}: the file is nested deeper than ${mostLevels} levels`] };
  const errors: ParseError[] = [];
  const tree = parseTree(text, errors, { disallowComments: true });
  const [error] = errors;
  if (error)
    return {
      problems: [
        `${lineAndColumn(text, error.offset)}: the file is not JSON: ${words(printParseErrorCode(error.error))}`,
      ],
    };
  const document: unknown = tree && getNodeValue(tree);
  if (typeof document !== 'object' || document === null || (document as { format?: unknown }).format !== 'rigid-rule/1')
    return { problems: ['1:1: this is no rulebook: "format" has to be "rigid-rule/1"'] };
  const beyond = tree && infinite(tree);
  if (beyond) return { problems: [`${lineAndColumn(text, beyond.offset)}: the number is larger than JSON can carry`] };
  const validate = validator();
  if (validate(document)) {
    const rulebook = document as unknown as Rulebook;
    if (zoneOffset(rulebook.zone, '2026-01-01T00:00:00') !== null) return { rulebook };
    const at = lineAndColumn(text, (tree && findNodeAtLocation(tree, ['zone']))?.offset ?? 0);
    return { problems: [`${at}: there is no time zone ${rulebook.zone} (IANA names, such as Europe/Lisbon)`] };
  }
  const problems = deepest(validate.errors ?? [])
    .slice(0, mostProblems)
    .map((e) => {
      const path = e.instancePath
        .split('/')
        .slice(1)
        .map((t) => t.replace(/~1/g, '/').replace(/~0/g, '~'));
      const node =
        tree &&
        findNodeAtLocation(
          tree,
          path.map((t) => (/^\d+$/.test(t) ? Number(t) : t)),
        );
      return `${lineAndColumn(text, node?.offset ?? 0)}: ${e.instancePath || 'the document'} ${e.message ?? 'is not right'}${detail(e)}`;
    });
  return { problems: [...new Set(problems)] };
}

/** A number such as 1e400, which becomes infinite. */
function infinite(node: Node): Node | undefined {
  const value: unknown = node.value;
  if (typeof value === 'number') return Number.isFinite(value) ? undefined : node;
  for (const child of node.children ?? []) {
    const found = infinite(child);
    if (found) return found;
  }
  return undefined;
}

/** Of the alternatives that a value misses only the failure of the whole is told. */
const deepest = (errors: readonly ErrorObject[]): readonly ErrorObject[] => {
  const alternatives = errors.filter((e) => e.keyword === 'anyOf');
  return errors.filter(
    (e) => e.keyword === 'anyOf' || !alternatives.some((a) => e.schemaPath.startsWith(`${a.schemaPath}/`)),
  );
};

function detail({ keyword, params }: ErrorObject): string {
  const p = params as Record<string, unknown>;
  if (keyword === 'additionalProperties') return ` (${String(p['additionalProperty'])})`;
  if (keyword === 'enum') return ` (${(p['allowedValues'] as readonly unknown[]).join(', ')})`;
  return '';
}

/** `InvalidSymbol` → `invalid symbol`. */
const words = (code: string): string => code.replace(/(?!^)([A-Z])/g, ' $1').toLowerCase();

/** `12:5`: line and column, counted from 1, of an offset. */
export function lineAndColumn(text: string, offset: number): string {
  const before = text.slice(0, offset).split('\n');
  return `${before.length}:${before[before.length - 1]!.length + 1}`;
}

/** All findings of a rulebook that were not accepted; its tests are run to see which rules they reach. */
export function findingsOfRulebook(rulebook: Rulebook, options: SettleOptions): Finding[] {
  const program = compileProgram(rulebook);
  const tests = rulebook.tests ?? [];
  const context = tests.length > 0 ? { reached: reachedBy(runTests(program, tests, options)) } : {};
  return findingsOf(program, context).filter((f) => f.accepted === undefined);
}

/** One finding as a line: `size-class /condition 1:5 error: There is no field …`. */
export function findingLine(f: Finding, rulebook: Rulebook): string {
  const body = toParts(rulebook).find((p) => p.kind === f.part.kind && p.key === f.part.key)?.body;
  const text = f.path === undefined ? undefined : valueAt(body, f.path);
  const place = f.range && typeof text === 'string' ? ` ${lineAndColumn(text, f.range.from)}` : '';
  const repair = f.repair ? ` (repair: ${f.repair.text})` : '';
  return `${f.part.key} ${f.path ?? ''}${place} ${f.severity}: ${f.sentence}${repair}`;
}

/** Members of outcomes in the order in which they are read; those of all else stand in the schema. */
const outcomeMembers = [
  'by',
  'formula',
  'table',
  'recordType',
  'keys',
  'ways',
  'pairs',
  'source',
  'onto',
  'target',
  'scratch',
  'template',
  'value',
  'values',
  'from',
  'fromOpen',
  'to',
  'toClosed',
  'result',
  'blank',
  'way',
  'lenient',
  'bands',
  'groups',
  'steps',
  'outputs',
  'outside',
  'none',
  'several',
  'checks',
  'required',
  'hidden',
  'locked',
  'limits',
  'hold',
  'field',
  'mode',
  'grid',
  'allowed',
  'otherwise',
  'do',
  'message',
];

/** The place of a member's name: of the schema, of outcomes, of fields and columns; whatever was edited, it stays. */
function ranksOf(rulebook: Rulebook): ReadonlyMap<string, number> {
  const names = new Set<string>();
  const gather = (schema: unknown): void => {
    if (typeof schema !== 'object' || schema === null) return;
    const { properties } = schema as { properties?: object };
    for (const name of Object.keys(properties ?? {})) names.add(name);
    for (const inner of Object.values(schema)) gather(inner);
  };
  gather(rulebookSchema);
  for (const name of outcomeMembers) names.add(name);
  for (const type of rulebook.recordTypes) for (const field of type.fields) names.add(field.key);
  for (const table of rulebook.tables ?? [])
    for (const column of [...table.keys, ...table.outputs]) names.add(column.key);
  return new Map([...names].map((name, i) => [name, i]));
}

function ordered(v: unknown, ranks: ReadonlyMap<string, number>): unknown {
  if (Array.isArray(v)) return v.map((item) => ordered(item, ranks));
  if (typeof v !== 'object' || v === null) return v;
  const rank = (name: string): number => ranks.get(name) ?? ranks.size;
  return Object.fromEntries(
    Object.entries(v)
      .sort(([a], [b]) => rank(a) - rank(b) || compareText(a, b))
      .map(([name, inner]) => [name, ordered(inner, ranks)]),
  );
}

/** Readable and stable: members in one order, a rule, field or record type a block, a table row a line. */
export function formatRulebook(rulebook: Rulebook): string {
  const rows: string[] = [];
  const marked = JSON.stringify(
    ordered(rulebook, ranksOf(rulebook)),
    (key, v: unknown) =>
      key === 'rows' && Array.isArray(v) ? v.map((row) => `\u0000${rows.push(JSON.stringify(row)) - 1}`) : v,
    2,
  );
  return `${marked.replace(/"\\u0000(\d+)"/g, (_, at: string) => rows[Number(at)]!)}\n`;
}

/** A line for each part that differs; what is said of it in several phrases stands below, a line each. */
export function differenceLines(before: Rulebook, after: Rulebook): string[] {
  return diffRulebooks(before, after).flatMap(({ what, part, name, phrases }) => {
    const head = `${what} ${part.kind} ${name}`;
    if (phrases.length > 1) return [`${head}:`, ...phrases.map((phrase) => `  ${phrase}`)];
    return phrases.length === 0 ? [head] : [`${head}: ${phrases[0]!}`];
  });
}
