/**
 * Sets of hundreds of thousands of records: kept as the text in which they came, a tenth of what they take as objects, and
 * read one at a time. A line is the id, a tab and the record as JSON; lines come in order of id.
 */
import type { RecordData } from '../document/document.ts';
import { keyOfStored, soughtKeys, type MatchMode } from '../values/match-keys.ts';
import type { FoundRecord, RecordQuery, RecordSource } from './record-source.ts';

const newline = 10;
const tab = 9;
const decoder = new TextDecoder();

/** Places of records by key: mostly one, which takes a third of what a list of one takes. */
type Index = ReadonlyMap<string, number | readonly number[]>;

/** The records of one type. */
class Packed {
  private readonly remembered: number;
  private readonly pieces: Uint8Array[] = [];
  /** By record: its id, the piece that it stands in, and from where to where. */
  private readonly ids: number[] = [];
  private readonly piece: number[] = [];
  private readonly from: number[] = [];
  private readonly to: number[] = [];
  /** A line that goes on in the next piece. */
  private rest: Uint8Array = new Uint8Array();
  /** Records read last, by where their places fall: what is related to many is read over and over. */
  private readonly recent: { readonly at: number; readonly record: FoundRecord }[] = [];
  private readonly indexes = new Map<MatchMode, Map<string, Index>>();

  constructor(remembered: number) {
    this.remembered = remembered;
  }

  get count(): number {
    return this.ids.length;
  }

  take(bytes: Uint8Array): void {
    const first = bytes.indexOf(newline);
    if (first < 0 || this.rest.length === 0) return this.takeLines(joined(this.rest, bytes));
    // Only the line that was cut is copied, not all that came with its end.
    this.takeLines(joined(this.rest, bytes.subarray(0, first + 1)));
    this.takeLines(bytes.subarray(first + 1));
  }

  private takeLines(piece: Uint8Array): void {
    let start = 0;
    for (let end = piece.indexOf(newline); end >= 0; end = piece.indexOf(newline, start)) {
      const after = piece.indexOf(tab, start);
      this.ids.push(Number(decoded(piece, start, after)));
      this.piece.push(this.pieces.length);
      this.from.push(after + 1);
      this.to.push(end);
      start = end + 1;
    }
    this.rest = piece.slice(start);
    if (start > 0) this.pieces.push(piece);
  }

  at(i: number): FoundRecord {
    const known = this.recent[i % this.remembered];
    return known?.at === i ? known.record : this.read(i);
  }

  /** The same of one that others lead to, which is remembered: records that are gone through one by one come once. */
  related(i: number): FoundRecord {
    const record = this.at(i);
    const slot = i % this.remembered;
    if (this.recent[slot]?.at !== i) this.recent[slot] = { at: i, record };
    return record;
  }

  private read(i: number): FoundRecord {
    const text = decoded(this.pieces[this.piece[i]!]!, this.from[i]!, this.to[i]!);
    return { id: String(this.ids[i]), data: JSON.parse(text) as RecordData };
  }

  /** Place of the record of an id; -1 where there is none. */
  find(id: string): number {
    const wanted = Number(id);
    let [low, high] = [0, this.ids.length - 1];
    while (low <= high) {
      const middle = (low + high) >> 1;
      const found = this.ids[middle]!;
      if (found === wanted) return String(found) === id ? middle : -1;
      if (found < wanted) low = middle + 1;
      else high = middle - 1;
    }
    return -1;
  }

  index(field: string, mode: MatchMode): Index {
    const ofMode = this.indexes.get(mode) ?? new Map<string, Index>();
    this.indexes.set(mode, ofMode);
    const known = ofMode.get(field);
    if (known) return known;
    const index = new Map<string, number | number[]>();
    for (let i = 0; i < this.count; i++) {
      const key = keyOfStored(mode, this.at(i).data[field]);
      if (key === null) continue;
      const there = index.get(key);
      if (Array.isArray(there)) there.push(i);
      else index.set(key, there === undefined ? i : [there, i]);
    }
    ofMode.set(field, index);
    return index;
  }
}

/** A copy is decoded: not every host decodes what several threads share. */
const decoded = (bytes: Uint8Array, from: number, to: number): string => decoder.decode(bytes.slice(from, to));

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  if (a.length === 0) return b;
  const both = new Uint8Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}

export class PackedRecords implements RecordSource {
  private readonly types = new Map<string, Packed>();
  private readonly remembered: number;

  /** `remembered`: how many records of a type are kept as objects as well, those that were read last. */
  constructor(remembered = 1024) {
    this.remembered = remembered;
  }

  /** The next bytes of the lines of a record type, cut anywhere. */
  take(recordType: string, bytes: Uint8Array): void {
    const own = this.types.get(recordType) ?? new Packed(this.remembered);
    this.types.set(recordType, own);
    own.take(bytes);
  }

  count(recordType: string): number {
    return this.types.get(recordType)?.count ?? 0;
  }

  /** The `i`th record of a type, in order of id, from 0. */
  at(recordType: string, i: number): FoundRecord {
    return this.types.get(recordType)!.at(i);
  }

  answer(ask: RecordQuery): readonly FoundRecord[] {
    const own = this.types.get(ask.recordType);
    if (!own) return [];
    if (ask.kind === 'record') {
      const i = own.find(ask.id);
      return i < 0 ? [] : [own.related(i)];
    }
    const [mode, keys]: [MatchMode, readonly string[]] =
      ask.kind === 'children' ? ['exact', [ask.id]] : [ask.mode, soughtKeys(ask.mode, ask.value)];
    const index = own.index(ask.field, mode);
    for (const key of keys) {
      const found = index.get(key);
      if (found !== undefined)
        return typeof found === 'number' ? [own.related(found)] : found.map((i) => own.related(i));
    }
    return [];
  }
}

/** The line of a record. `json`: its data as JSON, without line breaks. */
export const packedLine = (id: number, json: string): string => `${id}\t${json}\n`;
