import { booleanType, textType } from '../types/types.ts';
import { isEmail } from '../../values/email.ts';
import { emailDomain } from '../../values/match-keys.ts';
import { toUpperCase } from '../../values/unicode-case.ts';
import type { Value } from '../../values/value.ts';
import { checkDigitSchemes } from './check-digits.ts';
import type { Host } from '../types/host.ts';
import type { LanguageFunction, Parameter } from './function.ts';
import { isPostcode } from './postcodes.ts';
import { textWork } from './text.ts';

const text: Parameter = { name: 'text', type: textType };
const country: Parameter = { name: 'country', type: textType };

const onTexts =
  (compute: (a: string, b: string, host: Host) => Value) =>
  ([a, b = '']: readonly Value[], host: Host): Value =>
    typeof a === 'string' && typeof b === 'string' ? compute(a, b, host) : null;

/** No text that is longer is a phone number; what stands behind makes it none. */
const longestPhone = 250;
const isCountry = (code: string): boolean => /^[A-Z]{2}$/.test(code);

export const contactFunctions: readonly LanguageFunction[] = [
  {
    name: 'is email',
    parameters: [text],
    result: booleanType,
    help: 'Whether a text has the form of an email address (RFC 5321), as an email field takes it.',
    examples: [
      ['is email("anna@fen.example")', true],
      ['is email("anna@fen")', false],
      ['is email("anna at fen.example")', false],
    ],
    work: textWork,
    evaluate: onTexts((t) => isEmail(t)),
  },
  {
    name: 'email domain',
    parameters: [text],
    result: textType,
    help: 'What stands behind the @ of an email address, in small letters.',
    examples: [
      ['email domain("Anna@Fen.Example")', 'fen.example'],
      ['email domain("anna")', null],
    ],
    work: textWork,
    evaluate: onTexts((t) => (isEmail(t.trim()) ? emailDomain(t) : null)),
  },
  {
    name: 'is phone',
    parameters: [text, country],
    result: booleanType,
    help: 'Whether a text is a phone number of the country (ISO 3166 code), or of any where it begins with +.',
    examples: [
      ['is phone("020 7946 0018", "GB")', true],
      ['is phone("12", "GB")', false],
    ],
    needs: 'phone',
    work: textWork,
    evaluate: onTexts((t, c, { phone }) =>
      phone && isCountry(c) ? phone(t.slice(0, longestPhone), c) !== null : null,
    ),
  },
  {
    name: 'phone',
    parameters: [text, country],
    result: textType,
    help: 'A phone number in the form of ITU-T E.164; blank where it is none.',
    examples: [
      ['phone("020 7946 0018", "GB")', '+442079460018'],
      ['phone("+351 21 000 0000", "GB")', '+351210000000'],
      ['phone("12", "GB")', null],
    ],
    needs: 'phone',
    work: textWork,
    evaluate: onTexts((t, c, { phone }) => (phone && isCountry(c) ? phone(t.slice(0, longestPhone), c) : null)),
  },
  {
    name: 'is postcode',
    parameters: [text, country],
    result: booleanType,
    help: 'Whether a text has the form of the country’s postcodes (ISO 3166 code); blank for a country not known.',
    examples: [
      ['is postcode("1000-205", "PT")', true],
      ['is postcode("1000", "PT")', false],
      ['is postcode("1000", "ZZ")', null],
    ],
    work: textWork,
    evaluate: onTexts((t, c) => isPostcode(t, c)),
  },
  {
    name: 'passes check digit',
    parameters: [text, { name: 'scheme', type: textType }],
    result: booleanType,
    help: 'Whether the check digits are right: luhn, mod 97-10, iban, lei, gtin or isbn. Spaces and hyphens do not count.',
    examples: [
      ['passes check digit("4992 7398 716", "luhn")', true],
      ['passes check digit("GB82 WEST 1234 5698 7654 32", "iban")', true],
      ['passes check digit("4992 7398 717", "luhn")', false],
      ['passes check digit("1", "guess")', null],
    ],
    work: textWork,
    evaluate: onTexts((t, scheme) => {
      const passes = Object.hasOwn(checkDigitSchemes, scheme) ? checkDigitSchemes[scheme] : undefined;
      return passes ? passes(toUpperCase(t).replace(/[\s-]/g, '')) : null;
    }),
  },
];
