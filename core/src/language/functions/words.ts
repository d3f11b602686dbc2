import { listOf, numberType, textType } from '../types/types.ts';
import { parseNumber } from '../../values/number.ts';
import { squeeze, toTitleCase } from '../../values/unicode-case.ts';
import type { Value } from '../../values/value.ts';
import type { LanguageFunction, Parameter } from './function.ts';
import { textWork } from './text.ts';

const text: Parameter = { name: 'text', type: textType };
const onText =
  (compute: (t: string) => Value) =>
  ([t]: readonly Value[]): Value =>
    typeof t === 'string' ? compute(t) : null;

const hasLetterOrDigit = /[\p{L}\p{N}]/u;

/** Runs between white space that hold a letter or a digit. */
const wordsOf = (t: string): readonly string[] =>
  squeeze(t)
    .split(' ')
    .filter((w) => hasLetterOrDigit.test(w));

function numberIn(t: string): Value {
  const found = /[-\u2212]?\d+(?:,\d{3}(?!\d))*(?:\.\d+)?/.exec(t);
  if (!found) return null;
  // A hyphen between letters or digits and the number joins them: it is no sign.
  const joined = found.index > 0 && /[\p{L}\p{N}]/u.test(t[found.index - 1]!);
  const digits = found[0].replaceAll(',', '').replace('\u2212', '-');
  return parseNumber(joined ? digits.replace('-', '') : digits);
}

export const wordFunctions: readonly LanguageFunction[] = [
  {
    name: 'words',
    parameters: [text],
    result: listOf(textType),
    help: 'The words of a text: what stands between white space and holds a letter or digit.',
    examples: [
      ['words("  Alder &  Sons ")', ['Alder', 'Sons']],
      ['count(words("Fen"))', 1],
      ['words("")', []],
      ['words(null)', null],
    ],
    work: textWork,
    evaluate: onText(wordsOf),
  },
  {
    name: 'number in',
    parameters: [text],
    result: numberType,
    help: 'The first number that a text holds; commas may group thousands.',
    examples: [
      ['number in("about 1,250.5 ha")', 1250.5],
      ['number in("Kit-24")', 24],
      ['number in("at -3 °C")', -3],
      ['number in("none")', null],
    ],
    work: textWork,
    evaluate: onText(numberIn),
  },
  {
    name: 'title case',
    parameters: [text],
    result: textType,
    help: 'The first letter of each word large, the others small.',
    examples: [
      ['title case("ANNA-LISE of the fen")', 'Anna-Lise Of The Fen'],
      ['title case("élan ǆ")', 'Élan ǅ'],
    ],
    work: textWork,
    evaluate: onText(toTitleCase),
  },
  {
    name: 'squeeze',
    parameters: [text],
    result: textType,
    help: 'White space at the ends gone, and each run inside made one space.',
    examples: [
      ['squeeze("  Alder   Fen ")', 'Alder Fen'],
      ['squeeze("a\\tb")', 'a b'],
    ],
    work: textWork,
    evaluate: onText(squeeze),
  },
];
