import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isLocale, writtenForm } from './locale.ts';

const form = (tag: string, currency = 'EUR') => writtenForm({ tag, currency });
/** Spaces that do not break read as spaces; the two apostrophes of ICU's versions as one. */
const plain = (text: string): string => text.replace(/[\u00a0\u202f]/g, ' ').replaceAll('’', "'");

// Marks and orders as in the Unicode CLDR (locales en-GB, en-US, de, fr, pt-PT, en-IN, de-CH, sv), through ICU.
/** A language for each way of writing that the Unicode CLDR tells of, and calendars besides. */
const everywhere = [
  ...'am ar-EG ar-SA az bg bn ca ckb cs cy da de de-CH dz el en-GB en-IN en-US en-ZA es es-MX et eu fa fi fr fr-CA'.split(
    ' ',
  ),
  ...'ga gl gu ha he hi hr hu hy id ig is it ja ka kk km kn ko lo lt lv mk ml mn mr my nb ne nl pa pl ps pt pt-PT'.split(
    ' ',
  ),
  ...'ro ru si sk sl sq sr sv sw ta te th tr uk ur uz vi yo zh zh-TW zu'.split(' '),
  ...'he-IL-u-ca-hebrew ja-JP-u-ca-japanese th-TH-u-ca-buddhist zh-TW-u-ca-roc fa-IR-u-ca-persian ar-u-nu-arab'.split(
    ' ',
  ),
];

describe('numbers and money as they are written', () => {
  it.each([
    ['en-GB', '−1,234,567.5', '−1,234,567.5', '−€1,234,567.5'],
    ['de', '1,234.50', '1.234,50', '1.234,50 €'],
    ['fr', '1,234.50', '1 234,50', '1 234,50 €'],
    ['en-IN', '1234567.00', '12,34,567.00', '€12,34,567.00'],
    ['de-CH', '1234567', "1'234'567", undefined],
    ['en-GB', '15 %', '15 %', undefined],
    ['de', '0.5 %', '0,5 %', undefined],
    ['en-GB', '.5', '0.5', '€0.5'],
    ['en-GB', 'blank', 'blank', 'blank'],
    ['de', 'other values', 'other values', 'other values'],
    ['en-GB', '', '', ''],
  ])('%s %s', (tag, neutral, number, money) => {
    expect(plain(form(tag).number(neutral))).toBe(number);
    if (money !== undefined) expect(plain(form(tag).money(neutral))).toBe(money);
  });

  it.each([
    ['en-GB', '1,250', '1250'],
    ['en-GB', '€1,250.50', '1250.50'],
    ['en-GB', 'EUR 1250', '1250'],
    ['en-GB', '-€1,250', '-1250'],
    ['en-GB', '1250.5', '1250.5'],
    ['en-GB', '1,25', '1,25'],
    ['en-GB', '15 %', '15%'],
    ['de', '1.250', '1250'],
    ['de', '1.250,5', '1250.5'],
    ['de', '1,250', '1.250'],
    ['de', '1250.55', '1250.55'],
    ['de', '12,5 %', '12.5%'],
    ['fr', '1 250,5', '1250.5'],
    ['en-IN', '12,34,567', '1234567'],
    ['de-CH', "1'250.5", '1250.5'],
    ['sv', '−1 250,5', '-1250.5'],
    ['en-GB', 'five', 'five'],
    ['en-GB', '', ''],
  ])('%s: %s is typed for %s', (tag, typed, neutral) => {
    expect(form(tag).typedNumber(typed)).toBe(neutral);
  });

  it('what is written is read back, in every language and currency that Intl knows', () => {
    const decimal = fc.tuple(fc.maxSafeInteger(), fc.nat(4)).map(([n, d]) => {
      const digits = String(Math.abs(n)).padStart(d + 1, '0');
      const text = d === 0 ? digits : `${digits.slice(0, -d)}.${digits.slice(-d)}`;
      return n < 0 ? `-${text}` : text;
    });
    const currency = fc.constantFrom(...Intl.supportedValuesOf('currency'));
    fc.assert(
      fc.property(fc.constantFrom(...everywhere), currency, decimal, (tag, sign, n) => {
        const { number, money, typedNumber } = writtenForm({ tag, currency: sign });
        expect([typedNumber(number(n)), typedNumber(money(n))]).toEqual([n, n]);
      }),
      { seed: 9, numRuns: 800 },
    );
  });
});

describe('days as they are written', () => {
  it.each([
    ['en-GB', '3 May 2026'],
    ['en-US', 'May 3, 2026'],
    ['de', '03.05.2026'],
    ['fr', '3 mai 2026'],
    ['sv', '3 maj 2026'],
  ])('%s %s', (tag, written) => {
    expect([form(tag).day('2026-05-03'), form(tag).typedDay(written)]).toEqual([written, '2026-05-03']);
  });

  it.each(everywhere)('every day is read back for what it is: %s', (tag) => {
    const { day, typedDay } = form(tag);
    for (let m = 0; m < 12; m++)
      for (const d of [1, 9, 12, 28]) {
        const iso = new Date(Date.UTC(2024 + (m % 3), m, d)).toISOString().slice(0, 10);
        expect([typedDay(day(iso)), typedDay(iso)]).toEqual([iso, iso]);
      }
  });

  it.each([
    ['en-GB', '3/5/2026', '2026-05-03'],
    // Words that stand with every month say nothing of which.
    ['ca', '28 de febr. 2024', '2024-02-28'],
    ['ca', '28 de 2024', '28 de 2024'],
    ['th', '3 พ.ค. 2026', '2026-05-03'],
    ['bg', '3.05.2026 г.', '2026-05-03'],
    ['vi', '3 thg 5, 2026', '2026-05-03'],
    ['en-GB', '3 May or June 2026', '3 May or June 2026'],
    ['en-GB', '3 apples 2026', '3 apples 2026'],
    ['en-GB', '3 apples 5 2026', '3 apples 5 2026'],
    ['en-US', '3/5/2026', '2026-03-05'],
    ['de', '3.5.26', '2026-05-03'],
    ['sv', '2026-05-03', '2026-05-03'],
    ['en-US', '2026-5-3', '2026-05-03'],
    ['en-GB', '3 Sept 2026', '2026-09-03'],
    ['en-GB', '3 sep 2026', '2026-09-03'],
    ['de', '3. März 2026', '2026-03-03'],
    ['de', '3 March 2026', '2026-03-03'],
    ['en-GB', '29/2/2028', '2028-02-29'],
    ['en-GB', '29/2/2026', '29/2/2026'],
    ['en-GB', '31 June 2026', '31 June 2026'],
    ['en-GB', '1/1/69', '1969-01-01'],
    ['en-GB', 'soon', 'soon'],
    ['en-GB', '', ''],
  ])('%s: %s is typed for %s', (tag, typed, iso) => {
    expect(form(tag).typedDay(typed)).toBe(iso);
  });
});

it('a tag that is none falls back to the usual form', () => {
  expect([isLocale('en-GB'), isLocale('not a tag')]).toEqual([true, false]);
  expect(form('not a tag').number('1234.5')).toBe('1,234.5');
  expect(plain(writtenForm({ tag: 'en-GB', currency: '??' }).money('5'))).toBe('5 ??');
});
