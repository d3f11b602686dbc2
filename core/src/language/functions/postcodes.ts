/**
 * Postcode formats by ISO 3166-1 alpha-2 code: 9 stands for a digit, A for a letter, all else for itself; spaces and
 * hyphens may be left out. From the Universal Postal Union's addressing pages, from memory; tests hold them against the
 * registry's `validator`.
 */
const formats: Readonly<Record<string, readonly string[]>> = {
  AD: ['AD999'],
  AR: ['9999', 'A9999AAA'],
  AT: ['9999'],
  AU: ['9999'],
  BE: ['9999'],
  BG: ['9999'],
  BR: ['99999-999'],
  CA: ['A9A 9A9'],
  CH: ['9999'],
  CY: ['9999'],
  CZ: ['999 99'],
  DE: ['99999'],
  DK: ['9999'],
  EE: ['99999'],
  ES: ['99999'],
  FI: ['99999'],
  FR: ['99999'],
  GB: ['A9 9AA', 'A99 9AA', 'AA9 9AA', 'AA99 9AA', 'A9A 9AA', 'AA9A 9AA'],
  GR: ['999 99'],
  HR: ['99999'],
  HU: ['9999'],
  IE: ['A99 AAAA', 'A99 A9AA', 'A99 AA9A', 'A99 AAA9', 'A99 A99A', 'A99 A9A9', 'A99 AA99', 'A99 A999', 'A9A AAAA'],
  IN: ['999999'],
  IS: ['999'],
  IT: ['99999'],
  JP: ['999-9999'],
  KR: ['99999'],
  LI: ['9999'],
  LT: ['99999'],
  LU: ['9999'],
  LV: ['9999'],
  MX: ['99999'],
  NL: ['9999 AA'],
  NO: ['9999'],
  NZ: ['9999'],
  PL: ['99-999'],
  PT: ['9999-999'],
  RO: ['999999'],
  RS: ['99999'],
  SE: ['999 99'],
  SI: ['9999'],
  SK: ['999 99'],
  TR: ['99999'],
  UA: ['99999'],
  US: ['99999', '99999-9999'],
  ZA: ['9999'],
};

/** What no code of the country has, whatever its format: in Canada D, F, I, O, Q and U, nor W and Z at the beginning. */
const refused: Readonly<Record<string, RegExp>> = { CA: /[DFIOQU]|^[WZ]/ };

const prefixed = /^(?:AT|BE|CH|DE|ES|FR|IT|L|LV|LT|LU|SE|SI|FI)-/;
const plain = (text: string): string => text.replace(/[\s-]/g, '');

function fitsFormat(text: string, format: string): boolean {
  const wanted = plain(format);
  if (text.length !== wanted.length) return false;
  for (let i = 0; i < wanted.length; i++) {
    const [c, w] = [text[i]!, wanted[i]!];
    if (w === '9' ? c < '0' || c > '9' : w === 'A' ? c < 'A' || c > 'Z' : c !== w) return false;
  }
  return true;
}

/** Null where the country's format is not known. */
export function isPostcode(text: string, country: string): boolean | null {
  const known = Object.hasOwn(formats, country) ? formats[country]! : null;
  if (!known) return null;
  const args = plain(text.trim().toUpperCase().replace(prefixed, ''));
  if (refused[country]?.test(args)) return false;
  return known.some((format) => fitsFormat(args, format));
}

/** Formats by country, for tests. */
export const postcodeFormats = formats;
