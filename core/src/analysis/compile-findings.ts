/** Findings that compiling reports: unknown names, types, bands, cells. Repairs where the likely right word is known. */
import type { Diagnostic } from '../diagnostics/catalog.ts';
import type { Program } from '../compile/compiled.ts';
import type { MappingTable, Rule } from '../document/document.ts';
import type { PartRef } from '../document/parts.ts';
import { valueAt } from '../document/patch.ts';
import { findRuleKind } from '../compile/rule-kinds/index.ts';
import { rulePart, type FindingKind, type Found, type Repair } from './finding.ts';

function nearestRepair(d: Diagnostic, part: PartRef, body: unknown): Repair | undefined {
  const { nearest } = d.data;
  if (typeof nearest !== 'string' || d.path === undefined) return undefined;
  const whole = d.range.from === 0 && d.range.to === 0;
  const text = whole ? '' : valueAt(body, d.path);
  if (typeof text !== 'string') return undefined;
  const quoted = d.code === 'option.unknown' && !whole;
  const word = quoted ? JSON.stringify(nearest) : nearest;
  const value = whole ? word : text.slice(0, d.range.from) + word + text.slice(d.range.to);
  return { text: `write ${nearest}`, edits: [{ part, operations: [{ op: 'replace', path: d.path, value }] }] };
}

/** Neighbouring bands made to meet where the lower one ends. */
function bandRepair(d: Diagnostic, rule: Rule): Repair | undefined {
  const at = Number(/^\/outcome\/bands\/(\d+)\//.exec(d.path ?? '')?.[1]);
  const bands = findRuleKind(rule.kind)?.structureOf?.(rule.outcome).division?.bands ?? [];
  const [lower, upper] = [bands[at - 1], bands[at]];
  if (!lower || !upper || lower.to === undefined) return undefined;
  const stored = valueAt(rule, `/outcome/bands/${at - 1}/to`);
  return {
    text: `begin the upper band at ${String(stored)}`,
    edits: [
      {
        part: rulePart(rule),
        operations: [
          { op: upper.from === undefined ? 'add' : 'replace', path: `/outcome/bands/${at}/from`, value: stored },
          {
            op: upper.fromOpen === undefined ? 'add' : 'replace',
            path: `/outcome/bands/${at}/fromOpen`,
            value: lower.toClosed === true,
          },
        ],
      },
    ],
  };
}

/** The bands in ascending order of where they begin. */
function orderRepair(rule: Rule): Repair | undefined {
  const bands = findRuleKind(rule.kind)?.structureOf?.(rule.outcome).division?.bands ?? [];
  const stored = valueAt(rule, '/outcome/bands');
  if (!Array.isArray(stored)) return undefined;
  const order = bands.map((_, i) => i).sort((a, b) => (bands[a]!.from ?? -Infinity) - (bands[b]!.from ?? -Infinity));
  const value = order.map((i) => (stored as unknown[])[i]);
  const operations = [{ op: 'replace', path: '/outcome/bands', value } as const];
  return { text: 'put the bands in order', edits: [{ part: rulePart(rule), operations }] };
}

function found(d: Diagnostic, part: PartRef, body: unknown, rule?: Rule): Found {
  const repair =
    (rule && /^band\.(gap|overlap)$/.test(d.code) ? bandRepair(d, rule) : undefined) ??
    (rule && d.code === 'band.order' ? orderRepair(rule) : undefined) ??
    nearestRepair(d, part, body);
  return {
    part,
    ...(d.path === undefined ? {} : { path: d.path }),
    range: d.range,
    sentence: d.message,
    also: `${d.code}:${d.range.from}`,
    severity: d.severity,
    ...(repair ? { repair } : {}),
  };
}

export const tablePart = (table: Pick<MappingTable, 'key'>): PartRef => ({ kind: 'table', key: table.key });

export const compileFindings: FindingKind = {
  key: 'does-not-compile',
  name: 'Mistakes in rules and tables',
  severity: 'error',
  *find(program: Program) {
    for (const { part, diagnostic } of program.problems) yield found(diagnostic, part, undefined);
    for (const type of program.types.values())
      for (const { rule, diagnostics } of type.rules)
        for (const d of diagnostics) yield found(d, rulePart(rule), rule, rule);
    for (const { table, diagnostics } of program.tables.values())
      for (const d of diagnostics) yield found(d, tablePart(table), table);
    const known = new Set(program.types.keys());
    for (const rule of program.rulebook.rules)
      if (!known.has(rule.recordType))
        yield { part: rulePart(rule), path: '/recordType', sentence: `There is no record type ${rule.recordType}.` };
  },
};
