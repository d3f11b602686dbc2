/** `rigid-rule test --claims`, `suggest`, `generate`, `run --against`: what proves a rulebook, line by line. */
import { otherVerdictText } from '../rule-tests/verdict-words.ts';
import { compileProgram } from '../compile/program.ts';
import type { Rulebook } from '../document/document.ts';
import { nameOfField } from '../document/names.ts';
import type { Host } from '../language/types/host.ts';
import { sameStored } from '../language/field-types/field-type.ts';
import { checkClaims } from '../rule-tests/claims.ts';
import { marksOf } from '../rule-tests/coverage.ts';
import { generateRecords } from '../rule-tests/generate.ts';
import { offersFor } from '../rule-tests/offers.ts';
import { runTests } from '../rule-tests/run.ts';
import { StrengthMeter } from '../rule-tests/strength.ts';
import { type createRowSettler, plain, type RowSettler, typeNamed } from './settle-rows.ts';

export interface ClaimReport {
  readonly lines: readonly string[];
  readonly broken: number;
}

/** Each claim with what is known of it; broken ones with the record and act that break them. */
export function claimLines(rulebook: Rulebook, host: Host, seed: number): ClaimReport {
  const program = compileProgram(rulebook, host);
  const results = checkClaims(program, { seed, samples: rulebook.samples ?? [] });
  let broken = 0;
  const lines = results.flatMap((r) => {
    const name = rulebook.claims?.find((c) => c.key === r.claim)?.name ?? r.claim;
    if (r.state === 'broken') {
      broken++;
      const { before, sent, entryPoint, moment } = r.counterexample;
      const act = JSON.stringify({ before: before?.data ?? null, sent, moment, entryPoint });
      return [`broken  ${name}: ${act} saves ${JSON.stringify(r.saved)}`];
    }
    if (r.state === 'cannot be read') {
      broken++;
      return [`unread  ${name}: ${r.problem}`];
    }
    return r.state === 'sure'
      ? [`sure    ${name}: ${r.tried} acts in every region`]
      : [`tried   ${name}: not broken by ${r.tried} records`];
  });
  return { lines, broken };
}

/** Suggested tests, a JSON object each: what it is, why, what it adds, and the test itself. */
export function* suggestionLines(rulebook: Rulebook, host: Host, rule: string | undefined): Iterable<string> {
  const program = compileProgram(rulebook, host);
  const tests = rulebook.tests ?? [];
  const meter = new StrengthMeter(program, tests);
  const seen = new Set(
    runTests(program, tests).flatMap((r) => [...marksOf(r.settlement?.trace ?? [], r.test.entryPoint)]),
  );
  for (const type of program.types.values())
    for (const r of type.rules) {
      if (!r.compiles || !r.rule.on || (rule !== undefined && r.rule.key !== rule && r.rule.name !== rule)) continue;
      for (const o of offersFor(r, type, meter, seen, new Set(rulebook.refused ?? []), tests)) {
        const adds = { places: o.adds.cells.length, rows: o.adds.rows, faults: o.adds.faults.length };
        yield JSON.stringify({ rule: r.rule.key, why: o.why, cases: o.cases, adds, test: o.test });
      }
    }
}

/** Made-up records of a type; the first line is the heading. */
export function* generatedRows(
  rulebook: Rulebook,
  typeName: string,
  count: number,
  seed: number,
): Iterable<readonly string[]> {
  const program = compileProgram(rulebook);
  const type = typeNamed(program, typeName);
  if (!type) return;
  const fields = type.recordType.fields;
  yield fields.map((f) => f.name);
  let left = count;
  for (const data of generateRecords(program, type.recordType.key, { seed, links: () => count })) {
    if (left-- <= 0) return;
    yield fields.map((f) => plain(data[f.key]));
  }
}

export interface Comparer {
  /** What two rulebooks make otherwise of a row: `Size class: Medium, was Large`; nothing where they agree. */
  compare(row: readonly string[]): readonly string[];
}

/** Two rulebooks on the rows of one file. */
export function createComparer(
  before: Rulebook,
  after: Rulebook,
  make: (book: Rulebook) => ReturnType<typeof createRowSettler>,
): { readonly comparer: Comparer } | { readonly problem: string } {
  const [old, now] = [make(before), make(after)];
  if ('problem' in old) return old;
  if ('problem' in now) return now;
  return {
    comparer: {
      compare(row) {
        const [was, is] = [settled(old.settler, row), settled(now.settler, row)];
        if (was.verdict !== is.verdict)
          return [
            `${otherVerdictText(is.verdict, was.verdict)}${is.messages.length > 0 ? `: ${is.messages.map((m) => m.text).join(' ')}` : ''}`,
          ];
        const keys = [...new Set([...Object.keys(was.data), ...Object.keys(is.data)])];
        return keys.flatMap((key) => {
          const [a, b] = [was.data[key] ?? null, is.data[key] ?? null];
          if (sameStored(a, b)) return [];
          const name = nameOfField(now.settler.fields, key);
          return [`${name}: ${plain(b) || 'blank'}, was ${plain(a) || 'blank'}`];
        });
      },
    },
  };
}

const settled = (settler: RowSettler, row: readonly string[]) => settler.settle(row).settlement;
