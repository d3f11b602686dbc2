/** Tests that stand for many cases, taken apart into those cases. */
import type { Program, TypeProgram } from '../compile/compiled.ts';
import { writtenValue } from '../language/wording/written.ts';
import { entryPointsOf } from '../compile/entry-points.ts';
import type { RecordData, RecordType, RuleTest, Stored, TestFamily } from '../document/document.ts';

/** One case of a test: a test of its own, without a family. */
export interface TestLine {
  /** `key` for a test that stands for itself, `key/3` for the third case of a family. */
  readonly key: string;
  /** Key of the test that it is a case of. */
  readonly of: string;
  /** What sets the case apart: `Short form`, `Employee count 49`; empty for a test that stands for itself. */
  readonly label: string;
  readonly test: RuleTest;
}

type Cases = NonNullable<TestFamily['cases']>;

/** The cases of a test in their order; the test itself where it has no family. */
export function linesOf(test: RuleTest, type: TypeProgram | undefined): readonly TestLine[] {
  const { family, ...own } = test;
  if (!family) return [{ key: test.key, of: test.key, label: '', test }];
  const rows = family.cases?.rows ?? [undefined];
  const ways = family.entryPoints ?? [undefined];
  const lines: TestLine[] = [];
  for (const way of ways)
    for (const row of rows) {
      const asked = row && family.cases ? withCase(own, family.cases, row) : own;
      const line = way === undefined ? asked : through(asked, way, type?.recordType);
      const label = [
        ...(row && family.cases ? [caseLabel(family.cases, row, type)] : []),
        ...(way === undefined ? [] : [type?.entryPoints.get(way)?.name ?? way]),
      ].join(', ');
      const key = `${test.key}/${lines.length + 1}`;
      lines.push({ key, of: test.key, label, test: { ...line, key, name: `${test.name}: ${label}` } });
    }
  return lines;
}

/** How many cases a test stands for. */
export const casesOf = ({ family }: RuleTest): number =>
  (family?.entryPoints?.length ?? 1) * (family?.cases?.rows.length ?? 1);

export const allLines = (program: Program, tests: readonly RuleTest[]): readonly TestLine[] =>
  tests.flatMap((t) => linesOf(t, program.types.get(t.recordType)));

function withCase(test: Omit<RuleTest, 'family'>, cases: Cases, row: readonly Stored[]): Omit<RuleTest, 'family'> {
  const of = (keys: readonly string[], from: number): RecordData =>
    Object.fromEntries(keys.map((k, i) => [k, row[from + i] ?? null]));
  const sent = of(cases.sent, 0);
  return {
    ...test,
    sent: { ...test.sent, ...sent },
    ...(test.typed ? { typed: [...new Set([...test.typed, ...cases.sent])] } : {}),
    expect: { ...test.expect, fields: { ...test.expect.fields, ...of(cases.expected, cases.sent.length) } },
  };
}

/** The same through another entry point: one that only changes records meets a record that is blank until then. */
export function through<T extends Pick<RuleTest, 'before' | 'sent' | 'moment' | 'entryPoint'>>(
  test: T,
  entryPoint: string,
  recordType: RecordType | undefined,
): T {
  const own = recordType && entryPointsOf(recordType).find((e) => e.key === entryPoint)?.moments;
  if (!own || own.includes(test.moment)) return { ...test, entryPoint };
  const moment = own.includes('updating') ? 'updating' : (own[0] ?? test.moment);
  const before = moment === 'updating' ? (test.before ?? { data: {} }) : null;
  return { ...test, entryPoint, moment, before };
}

function caseLabel(cases: Cases, row: readonly Stored[], type: TypeProgram | undefined): string {
  return cases.sent
    .map((key, i) => {
      const slot = type?.slots[type.slotOf.get(key) ?? -1];
      const value = row[i] ?? null;
      const text = type && slot ? writtenValue(slot.field, value, type.writing) : JSON.stringify(value);
      return `${slot?.field.name ?? key} ${value === null ? 'blank' : text}`;
    })
    .join(', ');
}
