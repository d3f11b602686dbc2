/** Check digits by the published standards. Each takes text without spaces and hyphens. */

/** ISO/IEC 7812-1, Annex B: the digits doubled alternately from the right, summed, modulo 10. */
function luhn(text: string): boolean {
  if (!/^\d{2,}$/.test(text)) return false;
  let sum = 0;
  for (let i = 0; i < text.length; i++) {
    const digit = text.charCodeAt(text.length - 1 - i) - 48;
    const doubled = digit * 2;
    sum += i % 2 === 0 ? digit : doubled > 9 ? doubled - 9 : doubled;
  }
  return sum % 10 === 0;
}

/** ISO/IEC 7064, MOD 97-10, letters as 10 to 35: the whole is 1 modulo 97. */
function mod97(text: string): boolean {
  if (!/^[0-9A-Z]{3,}$/.test(text)) return false;
  let rest = 0;
  for (const c of text) {
    const v = parseInt(c, 36);
    rest = (rest * (v > 9 ? 100 : 10) + v) % 97;
  }
  return rest === 1;
}

/** GS1 General Specifications 7.9: weights 3 and 1 from the right, modulo 10. Also ISBN-13. */
function gtin(text: string): boolean {
  if (!/^(?:\d{8}|\d{12,14})$/.test(text)) return false;
  let sum = 0;
  for (let i = 0; i < text.length; i++) sum += (text.charCodeAt(text.length - 1 - i) - 48) * (i % 2 === 0 ? 1 : 3);
  return sum % 10 === 0;
}

/** ISO 2108, ISBN-10: weights 10 to 1, X as 10, modulo 11. */
function isbn10(text: string): boolean {
  if (!/^\d{9}[\dX]$/.test(text)) return false;
  let sum = 0;
  for (let i = 0; i < 10; i++) sum += (10 - i) * (text[i] === 'X' ? 10 : text.charCodeAt(i) - 48);
  return sum % 11 === 0;
}

export const checkDigitSchemes: Readonly<Record<string, (text: string) => boolean>> = {
  luhn,
  'mod 97-10': mod97,
  /** ISO 13616: the first four characters move to the end. */
  iban: (t) => /^[A-Z]{2}\d{2}[0-9A-Z]{10,30}$/.test(t) && mod97(t.slice(4) + t.slice(0, 4)),
  /** ISO 17442. */
  lei: (t) => /^[0-9A-Z]{18}\d{2}$/.test(t) && mod97(t),
  gtin,
  isbn: (t) => (t.length === 10 ? isbn10(t) : t.length === 13 && gtin(t)),
};
