/**
 * Text of a file of which nobody said how it is encoded. What spreadsheet programs save is often not UTF-8, and what is
 * read as UTF-8 although it is not has its accents replaced without a word.
 */

export interface FileText {
  readonly text: string;
  /** Its encoding, by the name that the Encoding Standard gives it: `utf-8`, `utf-16le`, `windows-1252`. */
  readonly encoding: string;
  /** The file itself does not say so, and it is not UTF-8: somebody should look at its accents. */
  readonly isGuessed: boolean;
}

/** WHATWG Encoding Standard, section 6, BOM sniff. */
const marks: readonly (readonly [string, readonly number[]])[] = [
  ['utf-8', [0xef, 0xbb, 0xbf]],
  ['utf-16be', [0xfe, 0xff]],
  ['utf-16le', [0xff, 0xfe]],
];
/** XML 1.0, section 4.3.3: an encoding declaration. It is in ASCII, so it never names an encoding of two bytes. */
const declared = /^<\?xml[^>]*?\sencoding\s*=\s*["']([A-Za-z][\w.-]*)["']/;
/** The Encoding Standard's encoding of Western Europe, as which any bytes can be read. */
const western = 'windows-1252';
/** Its characters 0x80 to 0x9F (index-windows-1252.txt); Node 20 decodes them as the controls of ISO 8859-1. */
const westernFrom80 = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';
const westernText = (bytes: Uint8Array): string =>
  new TextDecoder(western).decode(bytes).replace(/[\u0080-\u009f]/g, (c) => westernFrom80[c.charCodeAt(0) - 0x80]!);

function decoded(bytes: Uint8Array, label: string): FileText | undefined {
  try {
    const decoder = new TextDecoder(label, { fatal: true });
    if (decoder.encoding === western) return { text: westernText(bytes), encoding: western, isGuessed: false };
    return { text: decoder.decode(bytes), encoding: decoder.encoding, isGuessed: false };
  } catch (e) {
    // An encoding that is none, or bytes that are not of it.
    if (e instanceof RangeError || e instanceof TypeError) return undefined;
    throw e;
  }
}

/** By its byte order mark, its XML declaration, as UTF-8, or else as the encoding of Western Europe. */
export function fileText(bytes: Uint8Array): FileText {
  const mark = marks.find(([, begins]) => begins.every((byte, i) => bytes[i] === byte));
  const named = declared.exec(String.fromCharCode(...bytes.subarray(0, 200)))?.[1];
  const said = mark?.[0] ?? (/^utf-?16/i.test(named ?? '') ? undefined : named);
  const read = said === undefined ? undefined : decoded(bytes, said);
  return read ?? decoded(bytes, 'utf-8') ?? { text: westernText(bytes), encoding: western, isGuessed: true };
}
