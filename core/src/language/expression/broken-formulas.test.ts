/** Every form of the language with any of its words left out, doubled or cut off: told at its place, never thrown. */
import { expect, it } from 'vitest';
import { sampleEnvironments, sampleScope } from '../../testing/formula-scope.ts';
import { createFormula } from './formula.ts';

const forms = [
  'if Count > 1 then "a" else null',
  'for x in [1, 2], y in 1..3 return x * y',
  'some x in Crops satisfies x = "Apple"',
  'every x in [1, 2, 3] satisfies x > 0',
  'function(a: number, b) a + b',
  '(function(a) a)(3)',
  '{ "one": 1, two: { three: 3 } }.two.three',
  '[1, 2, 3][item > 1]',
  'Crops[1]',
  'Count between 1 and 3',
  'Count in (1, > 5, [7..9], not(3))',
  'Count in [1..5)',
  'Amount instance of number',
  'Crops instance of list<string>',
  'substring(string: "text", start position: 2, length: 1)',
  'date("2026-05-03") + duration("P1D")',
  '@"2026-05-03"',
  'not(Stop) and (Count = 1 or Amount != 2.5)',
  '-Count ** 2 + 4 / 3 - 1e3',
  'previous.Stage = "A"',
  '"a" + "b\\n\\u00e9"',
  'Count // a comment\n + 1 /* another */',
];
const pieces = (text: string): string[] => text.match(/"(?:[^"\\]|\\.)*"|\/\/.*|\/\*.*?\*\/|[\w.]+|\s+|\S/g)!;

/** The form as it is broken, each way once. */
function broken(text: string): readonly string[] {
  const parts = pieces(text);
  return parts.flatMap((part, i) =>
    part.trim() === ''
      ? []
      : [
          parts.toSpliced(i, 1).join(''),
          parts.toSpliced(i, 0, part, ' ').join(''),
          parts.slice(0, i).join(''),
          parts.slice(i).join(''),
          parts.with(i, '§').join(''),
        ],
  );
}

it.each(forms)('%s', (form) => {
  const whole = createFormula(form, sampleScope);
  expect(whole.diagnostics.filter((d) => d.code.startsWith('syntax'))).toEqual([]);
  let told = 0;
  for (const text of broken(form)) {
    const { diagnostics, evaluate } = createFormula(text, sampleScope);
    const errors = diagnostics.filter((d) => d.severity === 'error');
    expect([text, evaluate === undefined], 'what runs has no error').toEqual([text, errors.length > 0]);
    for (const { range, message } of errors) {
      expect([text, message.length > 0, range.from <= range.to, range.to <= text.length]).toEqual([
        text,
        true,
        true,
        true,
      ]);
      told++;
    }
    if (evaluate) for (const environment of sampleEnvironments) expect(() => evaluate(environment), text).not.toThrow();
    const tests = sampleScope.parser.parseTests(text);
    expect(tests.diagnostics.every((d) => d.range.to <= text.length)).toBe(true);
  }
  expect(told).toBeGreaterThan(0);
});
