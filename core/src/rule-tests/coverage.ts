/**
 * What the tests reach: rules, branches (bands, pairs, no-match paths), parts of conditions seen true and not true,
 * entry points, and table rows apart.
 */
import { unreachedRows } from '../analysis/table-findings.ts';
import { bandNeverReached } from '../analysis/waking-findings.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { TraceEntry } from '../compile/trace-entry.ts';
import { sameInEveryRegion } from './equal-mutants.ts';
import { actedVerdicts, type TestResult } from './run.ts';

export const cellKinds = ['acts', 'branch', 'part', 'entry'] as const;
export type CellKind = (typeof cellKinds)[number];

/** Something of a rule that a test can reach. */
export interface Cell {
  readonly kind: CellKind;
  /** What a trace leaves where it is reached, within its rule. */
  readonly mark: string;
  readonly text: string;
}

export type CellState = 'reached' | 'not reached' | 'cannot be reached';

export interface CellReach extends Cell {
  readonly state: CellState;
}

export interface RowReach {
  /** Key of the table. */
  readonly table: string;
  readonly reached: number;
  /** Rows that can be reached. */
  readonly all: number;
  /** Rows, from 0, that no test reaches though one could; the first of them. */
  readonly missing: readonly number[];
}

export interface RuleCoverage {
  readonly rule: string;
  readonly recordType: string;
  readonly cells: readonly CellReach[];
  readonly rows?: RowReach;
}

export interface Reached {
  readonly reached: number;
  /** Without what cannot be reached. */
  readonly all: number;
}

export type CoverageTotals = Readonly<Record<CellKind | 'row', Reached>>;

export interface Coverage {
  readonly rules: readonly RuleCoverage[];
  readonly totals: CoverageTotals;
}

const mostMissingRows = 200;

/** What the tests reach of one rule's cells: each mark with the rule's key in front. */
export const cellId = (rule: string, mark: string): string => `${rule}\0${mark}`;

/** The marks that a settlement leaves. */
export function* marksOf(trace: readonly TraceEntry[], entryPoint: string): Iterable<string> {
  for (const { rule, verdict, outcomes, parts } of trace) {
    if (actedVerdicts.has(verdict)) {
      yield cellId(rule, 'acts');
      yield cellId(rule, `entry ${entryPoint}`);
    }
    for (const o of outcomes) {
      if (o.branch !== undefined) yield cellId(rule, `branch ${o.branch}`);
      if (o.cause !== undefined) yield cellId(rule, `branch ${o.cause}`);
    }
    for (const p of parts ?? []) yield cellId(rule, `part ${p.text} ${p.value === true ? 'true' : 'not true'}`);
  }
}

/** What there is to reach in a rule, table rows apart. */
export function cellsOf(r: CompiledRule, type: TypeProgram, program: Program): readonly Cell[] {
  return [
    { kind: 'acts', mark: 'acts', text: 'it acts' },
    ...(r.kind?.branches?.(r.rule.outcome, program.rulebook, program.writing) ?? []).map((b): Cell => ({
      kind: 'branch',
      mark: `branch ${b.at}`,
      text: b.text,
    })),
    ...r
      .conditionParts()
      .flatMap(({ text }): Cell[] =>
        ['true', 'not true'].map((v) => ({ kind: 'part', mark: `part ${text} ${v}`, text: `${text} ${v}` })),
      ),
    ...r.rule.entryPoints.flatMap((key): Cell[] => {
      const entry = type.entryPoints.get(key);
      return entry ? [{ kind: 'entry', mark: `entry ${key}`, text: `through ${entry.name}` }] : [];
    }),
  ];
}

export function coverageOf(program: Program, results: readonly TestResult[]): Coverage {
  const seen = new Set<string>();
  for (const { settlement, test } of results)
    if (settlement) for (const mark of marksOf(settlement.trace, test.entryPoint)) seen.add(mark);
  return coverageBy(program, seen);
}

/** `seen`: the marks that were left, with the rule's key in front. */
export function coverageBy(program: Program, seen: ReadonlySet<string>): Coverage {
  const bands = new Set([...bandNeverReached.find(program, {})].map((f) => `${f.part.key} ${f.path ?? ''}`));
  const rules: RuleCoverage[] = [];
  for (const type of program.types.values())
    for (const r of type.rules) {
      if (!r.compiles || !r.rule.on) continue;
      const { key } = r.rule;
      const cells = cellsOf(r, type, program).map((cell): CellReach => {
        if (seen.has(cellId(key, cell.mark))) return { ...cell, state: 'reached' };
        return { ...cell, state: isShut(cell, r, type, bands) ? 'cannot be reached' : 'not reached' };
      });
      const rows = rowReach(r, program, seen);
      rules.push({ rule: key, recordType: type.recordType.key, cells, ...(rows ? { rows } : {}) });
    }
  return { rules, totals: totalsOf(rules) };
}

/** Whether a cell cannot be reached, by reasoning on regions; what cannot be told is taken as reachable. */
function isShut({ kind, mark }: Cell, r: CompiledRule, type: TypeProgram, bands: ReadonlySet<string>): boolean {
  if (kind === 'branch') return bands.has(`${r.rule.key} /outcome/bands/${mark.slice('branch '.length)}`);
  if (kind === 'entry') {
    const own = type.entryPoints.get(mark.slice('entry '.length))?.moments ?? [];
    return !own.some((m) => r.rule.moments.includes(m));
  }
  if (kind !== 'part') return false;
  const part = r.conditionParts().find(({ text }) => mark === `part ${text} true` || mark === `part ${text} not true`);
  if (!part) return false;
  const never = mark.endsWith(' not true') ? 'true' : 'false';
  return sameInEveryRegion({ from: part.text, to: never, truthOnly: true }, type);
}

function rowReach(r: CompiledRule, program: Program, seen: ReadonlySet<string>): RowReach | undefined {
  const table = r.structure.table && program.tables.get(r.structure.table.key);
  if (!table) return undefined;
  const shut = unreachedRows(table);
  const missing: number[] = [];
  let [reached, all] = [0, 0];
  for (let i = 0; i < table.rowCount; i++) {
    if (seen.has(cellId(r.rule.key, `branch ${i}`))) reached++;
    else if (shut.has(i)) continue;
    else if (missing.length < mostMissingRows) missing.push(i);
    all++;
  }
  return { table: table.table.key, reached, all, missing };
}

function totalsOf(rules: readonly RuleCoverage[]): CoverageTotals {
  const of = (kind: CellKind): Reached => {
    const cells = rules.flatMap((r) => r.cells.filter((c) => c.kind === kind && c.state !== 'cannot be reached'));
    return { reached: cells.filter((c) => c.state === 'reached').length, all: cells.length };
  };
  const rows = rules.flatMap((r) => r.rows ?? []);
  const row = { reached: rows.reduce((n, r) => n + r.reached, 0), all: rows.reduce((n, r) => n + r.all, 0) };
  return { acts: of('acts'), branch: of('branch'), part: of('part'), entry: of('entry'), row };
}
