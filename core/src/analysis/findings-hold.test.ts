/** What findings say that a rule never does, it does in no random write; what they say of its condition holds in all. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { TraceEntry } from '../compile/trace-entry.ts';
import type { Rule, Rulebook } from '../document/document.ts';
import { emptySource } from '../records/record-source.ts';
import { actedVerdicts } from '../rule-tests/run.ts';
import { settle } from '../settle/settle.ts';
import { randomRulebook, randomWrite } from '../testing/random-rulebooks.ts';
import { runsOf } from '../testing/runs.ts';
import { findingsOf } from './findings.ts';

const pick = fc.constantFrom;
const field = pick('Employee count', 'Area', 'Rank');
const atom = fc.oneof(
  fc.tuple(field, pick('<', '>=', '=', '!=', '>'), pick('0', '5', '6', '40')).map((a) => a.join(' ')),
  fc.tuple(field, pick('[', '('), pick('0', '5'), pick('6', '40'), pick(']', ')')).map(([f, a, l, h, b]) => `${f} in ${a}${l}..${h}${b}`), // prettier-ignore
  pick('Kind = "Orchard"', 'is blank(Rank)', 'Size class > "Small"', 'Rank != null', 'Area > previous.Area'),
);
const condition = fc.oneof(
  fc.tuple(atom, pick('and', 'or'), atom).map((a) => a.join(' ')),
  fc.tuple(atom, atom).map(([a, b]) => `${a} and not(${b})`),
  atom,
);
const source = fc.oneof(
  field,
  field.map((f) => `${f} + 1`),
);
/** Rules whose conditions and bands meet, so that findings about them are many. */
const book: fc.Arbitrary<Rulebook> = fc
  .tuple(
    randomRulebook,
    fc.array(fc.record({ condition, source, wakesOn: fc.option(pick<readonly string[]>([], ['rank']), { freq: 3, nil: undefined }), moments: fc.subarray<Rule['moments'][number]>(['creating', 'updating'], { minLength: 1 }) }), { minLength: 8, maxLength: 8 }), // prettier-ignore
  )
  .map(([rulebook, more]) => ({
    ...rulebook,
    rules: rulebook.rules.map((r, i): Rule => {
      const own = more[i]!;
      const banded = r.kind === 'categorize' ? { outcome: { ...(r.outcome as object), source: own.source } } : {};
      const wakes = own.wakesOn ? { wakesOn: own.wakesOn } : {};
      return { ...r, ...banded, ...wakes, condition: own.condition, moments: own.moments };
    }),
  }));

const acted = (t: TraceEntry): boolean => actedVerdicts.has(t.verdict);
/** By the key of a finding, what its sentence forbids a line of a trace to be. */
const forbidden: Readonly<Record<string, (t: TraceEntry, sentence: string, path: string) => boolean>> = {
  'never-wakes': acted,
  'condition-decides-nothing': (t, sentence) =>
    sentence.includes('never be true')
      ? acted(t)
      : t.verdict === 'condition false' || t.verdict === 'condition unknown',
  'band-never-reached': (t, _, path) => t.outcomes.some((o) => `/outcome/bands/${o.branch ?? ''}` === path && acted(t)),
};

it('what is said of a rule holds in every write', () => {
  const said: Record<string, number> = {};
  fc.assert(
    fc.property(book, fc.array(randomWrite, { minLength: 30, maxLength: 30 }), (rulebook, writes) => {
      const program = compileProgram(rulebook);
      const findings = findingsOf(program).filter((f) => forbidden[f.kind]);
      for (const { kind } of findings) said[kind] = (said[kind] ?? 0) + 1;
      if (findings.length === 0) return;
      for (const write of writes) {
        const { trace } = settle(program, write, emptySource);
        for (const { kind, part, sentence, path = '' } of findings) {
          const line = trace.find((t) => t.rule === part.key);
          if (line && forbidden[kind]!(line, sentence, path))
            throw new Error(`${sentence} But in ${JSON.stringify(write)}: ${JSON.stringify(line)}`);
        }
      }
    }),
    { numRuns: runsOf(400) },
  );
  expect(Object.keys(said).sort(), JSON.stringify(said)).toEqual(Object.keys(forbidden).sort());
});
