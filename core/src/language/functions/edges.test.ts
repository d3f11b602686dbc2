/**
 * FEEL's functions at the edges of what they take: null where DMN 1.3 says null (10.3.4), patterns by UTS 35 (parts 3 and 4),
 * escapes and ranges by the grammar of 10.3.1. What is told of other types is checked elsewhere.
 */
import { describe, expect, it } from 'vitest';
import { createPatterns } from '../../host/patterns.ts';
import { phoneNumber } from '../../host/phone-numbers.ts';
import { zoneOffset } from '../../host/zones.ts';
import type { Value } from '../../values/value.ts';
import { createFormula } from '../expression/formula.ts';
import { createScope } from '../expression/scope.ts';

const scope = createScope({ key: 't', name: 'T', plural: 'Ts', title: [], forms: [], fields: [] });
const host = { now: '2026-05-03T09:00:00+01:00', pattern: createPatterns(), phone: phoneNumber, zoneOffset };

function evaluate(text: string): Value {
  const formula = createFormula(text, scope);
  if (!formula.evaluate) throw new Error(`${text}: ${formula.diagnostics.map((d) => d.message).join(' ')}`);
  return formula.evaluate({ record: [], previous: [], host });
}

/** A value of which nothing is known beforehand, so that the types of the language let it through. */
const unknown = (value: string): string => `{ f: function(x) x, v: f(${value}) }.v`;

describe('functions at their edges', () => {
  it.each<[string, string]>([
    // UTS 35, part 4: letters four times are whole words, three times short ones; quoted text stands as it is.
    ['as text(@"2026-05-03", "EEEE d MMMM yyyy")', '"Sunday 3 May 2026"'],
    ['as text(@"2026-11-03", "EEE, dd MMM yy")', '"Tue, 03 Nov 26"'],
    ['as text(@"09:05:07", "h:mm a")', '"9:05 am"'],
    ['as text(@"00:05:07", "h:mm:ss a")', '"12:05:07 am"'],
    ['as text(@"15:05:07", "HH \'o\'\'clock\' h a")', '"15 o\'clock 3 pm"'],
    ['as text(@"2026-05-03T15:00:00", "\'\'yy H")', '"\'26 15"'],
    ['as text(@"2026-05-03", "HH")', 'null'],
    ['as text(@"15:05:07", "yyyy")', 'null'],
    ['as text(@"2026-05-03", "Q")', 'null'],
    [`as text(${unknown('true')}, "0")`, 'null'],
    [`as text(5, ${unknown('5')})`, 'null'],
    // UTS 35, part 3.
    ['as text(0.5, "#.00")', '".50"'],
    ['as text(0.5, "0.##")', '"0.5"'],
    ['as text(-1234567.125, "#,##0.00")', '"-1,234,567.12"'],
    ['as text(0.256, "0.0 %")', '"25.6 %"'],
    ['as text(-0.001, "0.0")', '"0.0"'],
    ['as text(5, "none")', 'null'],
    // DMN 1.3, 10.3.4.5: the sign of the divisor, whatever lies between the two.
    ['modulo(1e-30, 1e30)', '1e-30'],
    ['modulo(-1e-30, 1e30)', '1e30'],
    ['modulo(0, 1e50)', '0'],
    ['modulo(1e60, 7)', '1'],
    ['modulo(5, 0)', 'null'],
    ['modulo(-7, 2.5)', '0.5'],
    ['modulo(7, -2.5)', '-0.5'],
    ['exp(100001)', 'null'],
    [`odd(${unknown('"x"')})`, 'null'],
    ['even(1e20)', 'true'],
    // Ranges from texts: 10.3.4.1.
    ['range("[18..21)")', '[18..21)'],
    ['range("(..5]") = range("(..5]")', 'true'],
    ['range("[@\\"2026-01-01\\"..@\\"2026-12-31\\"]")', '[@"2026-01-01"..@"2026-12-31"]'],
    ['range("[date(\\"2026-01-01\\")..date(\\"2026-12-31\\")]")', '[@"2026-01-01"..@"2026-12-31"]'],
    ['range("[\\"a\\"..\\"c\\"]")', '["a".."c"]'],
    ['range("[..]")', 'null'],
    ['range("[5..1]")', 'null'],
    ['range("[5..\\"a\\"]")', 'null'],
    ['range("[x..5]")', 'null'],
    ['range("[@\\"nothing\\"..5]")', 'null'],
    ['range("18 to 21")', 'null'],
    [`before(${unknown('1')}, "a")`, 'null'],
    [`before(${unknown('null')}, 1)`, 'null'],
    // Dates and times from parts: 10.3.4.1, tables 64 and on.
    ['time(@"2026-05-03")', 'time("00:00:00Z")'],
    ['time(@"09:05:07")', '@"09:05:07"'],
    ['time(@"2026-05-03T09:05:07")', '@"09:05:07"'],
    ['time(9, 5, 7.5, duration("PT1H"))', 'time("09:05:07.5+01:00")'],
    ['time(9, 5, 7, null)', '@"09:05:07"'],
    ['time(25, 0, 0)', 'null'],
    [`time(9, ${unknown('"5"')}, 7)`, 'null'],
    [`time(9, 5, 7, ${unknown('5')})`, 'null'],
    [`time(${unknown('5')})`, 'null'],
    ['date and time(@"2026-05-03")', '@"2026-05-03T00:00:00"'],
    ['date and time(@"2026-05-03T09:05:07")', '@"2026-05-03T09:05:07"'],
    [`date and time(${unknown('5')})`, 'null'],
    ['date and time(@"2026-05-03", @"09:05:07")', '@"2026-05-03T09:05:07"'],
    [`date(${unknown('true')})`, 'null'],
    ['is(@"09:00:00", @"09:00:00")', 'true'],
    ['is(time("09:00:00Z"), time("10:00:00+01:00"))', 'false'],
    ['is(@"2026-05-03T09:00:00Z", @"2026-05-03T10:00:00+01:00")', 'false'],
    ['is(@"2026-05-03", @"2026-05-03T00:00:00")', 'false'],
    // Lists: 10.3.4.4.
    ['list replace([1, 2, 3], 2, 9)', '[1, 9, 3]'],
    ['list replace([1, 2, 3], -1, null)', '[1, 2, null]'],
    ['list replace([1, 2, 3], 0, 9)', 'null'],
    ['list replace([1, 2, 3], 4, 9)', 'null'],
    ['list replace([1, 2, 3], function(item, newItem) item > 1, 0)', '[1, 0, 0]'],
    [`list replace([1, 2, 3], function(item, newItem) ${unknown('"x"')}, 0)`, 'null'],
    [`concatenate([1], ${unknown('null')})`, 'null'],
    [`union([1], ${unknown('null')})`, 'null'],
    ['union([1, 2], [2, 3])', '[1, 2, 3]'],
    ['sum([duration("P1D"), duration("PT1H")])', 'duration("P1DT1H")'],
    ['sum([1e30, 1e-9])', '1e30 + 1e-9'],
    ['string join(["a", null, "b"], "-")', '"a-b"'],
    [`string join(${unknown('"a"')}, "-")`, '"a"'],
    [`string join(["a", ${unknown('5')}])`, 'null'],
    // Contexts: 10.3.4.9.
    ['context put({a: 1}, "b", 2)', '{a: 1, b: 2}'],
    ['context put({a: {b: 1}}, ["a", "c"], 2)', '{a: {b: 1, c: 2}}'],
    ['context put({a: 1}, ["a", "c"], 2)', 'null'],
    ['context put({}, ["a", "c"], 2)', 'null'],
    ['context put({a: 1}, [], 2)', 'null'],
    [`context put({a: 1}, ${unknown('null')}, 2)`, 'null'],
    [`context put(${unknown('5')}, "a", 2)`, 'null'],
    [`get entries(${unknown('null')})`, 'null'],
    // Parts: 10.3.2.3.
    ['time("09:00:00+01:00").time offset', 'duration("PT1H")'],
    ['@"09:00:00".time offset', 'null'],
    ['@"09:30:05".minute', '30'],
    ['duration("P1DT2H").hours', '2'],
    [`${unknown('@"09:30:05"')}.second`, '5'],
    [`${unknown('duration("P3DT2H")')}.days`, '3'],
    [`${unknown('[@"09:30:05", @"10:00:00"]')}.minute`, '[30, 0]'],
    // Texts by code points; escapes by 10.3.1.2, rule 64.
    ['substring("a😀bc", 2, 2)', '"😀b"'],
    ['substring("abc", -2)', '"bc"'],
    ['string length("\\U01F600")', '1'],
    ['"\\U01F600" = "😀"', 'true'],
    ['"\\UFFFFFF" = "\\\\UFFFFFF"', 'true'],
    ['number("1,000.5", ",", ".")', '1000.5'],
    // Functions of one's own, by place and by name; what is none gives null.
    ['{ f: function(a, b) a - b, g: f(b: 1, a: 5) }.g', '4'],
    ['{ f: function(a, b) if b = null then a else b, g: f(5) }.g', 'null'],
    ['{ h: function(x) x, f: h(5), g: f(1) }.g', 'null'],
    ['decimal(scale: 1, n: 1.25)', '1.2'],
    ['substring(string: "abc", start position: 2)', '"bc"'],
    // Iteration: 10.3.2.14.
    ['for x in [1..3] return x', '[1, 2, 3]'],
    ['for d in @"2026-01-03"..@"2026-01-01" return d', '[@"2026-01-03", @"2026-01-02", @"2026-01-01"]'],
    ['for d in @"2026-01-01"..@"2026-01-02" return d', '[@"2026-01-01", @"2026-01-02"]'],
    [`for d in @"2026-01-01"..${unknown('5')} return d`, 'null'],
    [`for x in 1..${unknown('"a"')} return x`, 'null'],
    ['for x in 3..1 return x', '[3, 2, 1]'],
    ['for x in (1..3) return x', 'null'],
    ['for x in null return x', 'null'],
    ['for x in [[1], null], y in x return y', 'null'],
    ['for x in [] return x', '[]'],
    ['some x in null satisfies x', 'null'],
    ['every x in [] satisfies false', 'true'],
    // Sums and differences: 10.3.2.7, table 57.
    ['@"10:00:00" - @"09:30:00"', 'duration("PT30M")'],
    ['time("10:00:00+01:00") - time("09:00:00Z")', 'duration("PT0S")'],
    ['@"2026-05-03T10:00:00" - @"2026-05-03T09:00:00Z"', 'null'],
    ['duration("P2Y") / duration("P6M")', '4'],
    ['duration("P2Y") / duration("P0M")', 'null'],
    ['duration("P1D") / duration("PT6H")', '4'],
    ['duration("P1D") / 0', 'null'],
    ['duration("P999999999Y") * 1e30', 'null'],
    ['@"2026-01-31" + duration("P1M")', '@"2026-02-28"'],
    ['@"999999999-12-31" + duration("P1D")', 'null'],
    ['duration("P1Y") + duration("P1D")', 'null'],
    ['-duration("P1Y")', 'duration("-P1Y")'],
    // Equality of kinds: 10.3.2.13, table 53.
    [`${unknown('1')} = "1"`, 'null'],
    ['[1, [2]] = [1, [2]]', 'true'],
    ['{a: 1} = {a: 1, b: 2}', 'false'],
    ['[1..2] = [1..2)', 'false'],
    // Texts of values: 10.3.4.2, `string`.
    ['string([1, "a", null, [true]])', '"[1, \\"a\\", null, [true]]"'],
    ['string({a: 1, b: "x"})', '"{a: 1, b: \\"x\\"}"'],
    ['string([1..2])', '"[1..2]"'],
    ['string((1..2))', '"(1..2)"'],
    ['string(duration("P1Y2M"))', '"P1Y2M"'],
    ['string(-duration("PT90S"))', '"-PT1M30S"'],
    ['string(@"-0044-03-15")', '"-0044-03-15"'],
    ['string(time("09:00:00-03:30"))', '"09:00:00-03:30"'],
    // Check digits take only what has their form.
    ...[
      ['luhn', '7'],
      ['mod 97-10', '4-'],
      ['gtin', '123456789'],
      ['isbn', '12345678'],
      ['isbn', '12345678XX'],
    ].map(([scheme, text]): [string, string] => [`passes check digit("${text}", "${scheme}")`, 'false']),
    ['passes check digit("080442957X", "isbn")', 'true'],
    ['is phone("+351 21 342 2222", "PT")', 'true'],
    ['is phone("21 342 2222", "no country")', 'null'],
  ])('%s gives %s', (formula, given) => {
    expect(evaluate(formula)).toEqual(evaluate(given));
  });
});
