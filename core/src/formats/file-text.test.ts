/** Encodings as their standards have them: the Encoding Standard, Unicode 15 chapter 23.8 (byte order mark), XML 1.0. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fileText } from './file-text.ts';

const bytes = (...given: readonly (string | number)[]): Uint8Array =>
  Uint8Array.from(given.flatMap((g) => (typeof g === 'string' ? [...g].map((c) => c.charCodeAt(0)) : [g])));

describe('a file is read', () => {
  it.each<[string, Uint8Array, string, string, boolean]>([
    ['as UTF-8', new TextEncoder().encode('Straße 🌳'), 'Straße 🌳', 'utf-8', false],
    ['without its mark', bytes(0xef, 0xbb, 0xbf, 'a'), 'a', 'utf-8', false],
    ['as UTF-16 by its mark', bytes(0xff, 0xfe, 0xfc, 0), 'ü', 'utf-16le', false],
    ['as UTF-16 the other way round', bytes(0xfe, 0xff, 0, 0xfc), 'ü', 'utf-16be', false],
    ['as Western European where it is not UTF-8', bytes('Stra', 0xdf, 'e ', 0x80), 'Straße €', 'windows-1252', true],
    [
      'as its XML declaration says',
      bytes(`<?xml version="1.0" encoding='ISO-8859-2'?><a>`, 0xb3, '</a>'),
      `<?xml version="1.0" encoding='ISO-8859-2'?><a>ł</a>`,
      'iso-8859-2',
      false,
    ],
    [
      'as Western European where it says so',
      bytes('<?xml version="1.0" encoding="iso-8859-1"?>', 0x80, 0xe9),
      '<?xml version="1.0" encoding="iso-8859-1"?>€é',
      'windows-1252',
      false,
    ],
    [
      'as what it is, whatever encoding it makes up',
      bytes('<?xml version="1.0" encoding="none-such"?>'),
      '<?xml version="1.0" encoding="none-such"?>',
      'utf-8',
      false,
    ],
    ['where there is nothing in it', bytes(), '', 'utf-8', false],
  ])('%s', (_, given, text, encoding, isGuessed) => {
    expect(fileText(given)).toEqual({ text, encoding, isGuessed });
  });

  it('as it was written, in any encoding that it tells', () => {
    const written = fc.string({ unit: 'grapheme', maxLength: 30 }).map((s) => `x${s}`);
    fc.assert(
      fc.property(written, fc.constantFrom('utf8', 'utf16le', 'utf16be'), (text, encoding) => {
        const little = Buffer.from(`\ufeff${text}`, encoding === 'utf8' ? 'utf8' : 'utf16le');
        expect(fileText(encoding === 'utf16be' ? little.swap16() : little).text).toBe(text);
      }),
    );
  });
});
