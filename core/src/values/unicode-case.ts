/** Letter case by Unicode's own published tables rather than by the host's, so that every host gives the same bytes. */
import { caseFolding, lowerCase, titleCase, upperCase } from './unicode-case-data.ts';

type Table = readonly [runs: string, several: string];
type Mapping = (text: string) => string;
type Points = ReadonlyMap<number, string>;

const isAscii = (text: string): boolean => /^[\0-\x7f]*$/.test(text);

/**
 * Only what differs is in a table; it is unpacked when it is first asked for. `ofAscii`: the host's own, which is the same
 * everywhere for these. `base`: what the table is told against.
 */
function mapping(table: Table, ofAscii: Mapping, base: () => Points = () => new Map()): [Mapping, () => Points] {
  let known: Points | undefined;
  const points = (): Points => (known ??= unpack(table, base()));
  return [
    (text) => {
      if (isAscii(text)) return ofAscii(text);
      const map = points();
      let result = '';
      for (const c of text) result += map.get(c.codePointAt(0)!) ?? c;
      return result;
    },
    points,
  ];
}

function unpack([runs, several]: Table, base: Points): Points {
  const map = new Map(base);
  const numbers = (entry: string): number[] => entry.split('.').map((n) => parseInt(n, 36));
  let at = 0;
  for (const run of runs.split(' ')) {
    const [distance = 0, gap = 0, count = 1, step = 1] = numbers(run);
    at += gap;
    for (let i = 0; i < count; i++) map.set(at + i * step, String.fromCodePoint(at + i * step + distance));
    at += (count - 1) * step;
  }
  at = 0;
  for (const entry of several.split(' ')) {
    const [gap = 0, ...to] = numbers(entry);
    map.set((at += gap), String.fromCodePoint(...to));
  }
  return map;
}

const reversed = (points: Points): Points =>
  new Map(
    [...points].flatMap(([from, to]): [number, string][] => {
      const [point = 0, ...more] = [...to].map((c) => c.codePointAt(0)!);
      return more.length === 0 && point !== from ? [[point, String.fromCodePoint(from)]] : [];
    }),
  );

const small: Mapping = (text) => text.toLowerCase();
const large: Mapping = (text) => text.toUpperCase();
const [lower, lowerPoints] = mapping(lowerCase, small);
const [upper, upperPoints] = mapping(upperCase, large, () => reversed(lowerPoints()));
const [toTitle] = mapping(titleCase, large, upperPoints);
const [folded] = mapping(caseFolding, small, lowerPoints);
export const toUpperCase = upper;

const isLetter = /\p{L}/u;

/** A capital sigma at the end of a word becomes the final form, as Unicode's SpecialCasing has it. */
export function toLowerCase(text: string): string {
  const result = lower(text);
  if (!text.includes('\u03a3')) return result;
  const [from, to] = [[...text], [...result]];
  return to
    .map((c, i) => {
      const ends = from[i] === '\u03a3' && isLetter.test(from[i - 1] ?? '') && !isLetter.test(from[i + 1] ?? '');
      return ends ? '\u03c2' : c;
    })
    .join('');
}

/** The first letter of each word large, the others small; a word ends at white space or a hyphen. */
export function toTitleCase(text: string): string {
  let begins = true;
  let result = '';
  for (const c of toLowerCase(text)) {
    result += begins ? toTitle(c) : c;
    begins = isWhite(c) || c === '-' || c === '\u2010' || c === '\u2011';
  }
  return result;
}

/** Full case folding (CaseFolding.txt, C and F): what texts are compared by where case does not count. */
export const foldCase = (text: string): string => folded(text);

/** Unicode's White_Space property (PropList.txt). */
const white = '\t\n\v\f\r \u0085\u00a0\u1680\u2000-\u200a\u2028\u2029\u202f\u205f\u3000';
const whiteRun = new RegExp(`[${white}]+`, 'g');
const edges = new RegExp(`^[${white}]+|[${white}]+$`, 'g');

const oneWhite = new RegExp(`^[${white}]$`);
export const isWhite = (c: string): boolean => oneWhite.test(c);

/** White space at the ends gone, each run inside one space. */
export function squeeze(text: string): string {
  return needsSqueezing(text) ? text.replace(edges, '').replace(whiteRun, ' ') : text;
}

/** Most texts are ASCII with single spaces: told at a glance. */
function needsSqueezing(text: string): boolean {
  let spaced = true;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c < 0x20 || c > 0x7e || (c === 0x20 && spaced)) return true;
    spaced = c === 0x20;
  }
  return spaced && text.length > 0;
}

/** White space, controls, and what Unicode says to show nothing (Default_Ignorable_Code_Point keeps room for all to come). */
const invisible = /^[\p{White_Space}\p{Cc}\p{Default_Ignorable_Code_Point}\u2800]*$/u;

/** Whether a text shows anything: one without a visible character is blank. */
export function isVisible(text: string): boolean {
  const first = text.charCodeAt(0);
  return (first > 0x20 && first < 0x7f) || !invisible.test(text);
}

/** What two texts share that differ only in case and spaces. */
export const foldedKey = (text: string): string => squeeze(foldCase(text));
