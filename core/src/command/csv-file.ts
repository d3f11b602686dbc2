/** A CSV file read in pieces, so that memory does not grow with it, and looked through for mistakes before any of it is used. */
import Papa from 'papaparse';
import { separatorsOf } from '../formats/table-csv.ts';

/** Text in pieces, from the beginning each time it is asked for. */
export type Pieces = () => AsyncIterable<string>;

/** A record longer than this, in characters, has a quotation mark that is never closed. */
const longestRecord = 16_000_000;

interface Batch {
  /** Records in order, without those that have no content. */
  readonly rows: readonly (readonly string[])[];
}

interface Separators {
  readonly delimiter: string;
  readonly newline: string;
}

/** Records by the piece. A quotation mark that is never closed takes the rest of the file; `csvProblem` finds it first. */
export async function* csvRows(pieces: Pieces): AsyncGenerator<Batch> {
  let rest = '';
  let parser: { parse(text: string, at: number, ignoreLast: boolean): Papa.ParseResult<string[]> } | undefined;
  const parsed = (text: string, more: boolean): Papa.ParseResult<string[]> => {
    parser ??= new (Papa.Parser as unknown as new (config: Separators) => NonNullable<typeof parser>)(
      separatorsOf(text),
    );
    return parser.parse(text, 0, more);
  };
  const filled = (rows: readonly string[][]): Batch => ({
    rows: rows.filter((r) => r.length > 1 || r[0]?.trim() !== ''),
  });
  for await (const piece of pieces()) {
    const text = rest === '' && parser === undefined ? piece.replace(/^\ufeff/, '') : rest + piece;
    const { data, meta } = parsed(text, true);
    rest = text.slice(meta.cursor);
    if (rest.length > longestRecord) return;
    if (data.length > 0) yield filled(data);
  }
  if (rest !== '') yield filled(parsed(rest, false).data);
}

export interface CsvProblem {
  /** Counted from 1, in lines and characters. */
  readonly line: number;
  readonly column: number;
  readonly problem: string;
}

/** The first mistake in a file: quotation marks, names of columns that stand twice, cells beyond the last column. */
export async function csvProblem(pieces: Pieces): Promise<CsvProblem | undefined> {
  const reader = new PlaceReader();
  for await (const piece of pieces()) {
    const problem = reader.read(piece);
    if (problem) return problem;
  }
  return reader.end();
}

const comma = 44;
const quote = 34;
const lf = 10;
const cr = 13;

/** RFC 4180 by the character: where each cell begins, and whether the quotation marks around it come in pairs. */
class PlaceReader {
  private delimiter = comma;
  private started = false;
  private state: 'start' | 'plain' | 'quoted' | 'closed' = 'start';
  private line = 1;
  private column = 1;
  private cell = 0;
  private begin = { line: 1, column: 1 };
  private head: string[] | undefined = [];
  private headPlaces: { line: number; column: number }[] = [];
  private columns = 0;
  private text = '';
  private afterReturn = false;

  read(piece: string): CsvProblem | undefined {
    let text = piece;
    if (!this.started) {
      text = text.replace(/^\ufeff/, '');
      this.delimiter = separatorsOf(text).delimiter.charCodeAt(0);
      this.started = text !== '';
    }
    for (let i = 0; i < text.length; i++) {
      const problem = this.take(text.charCodeAt(i), text, i);
      if (problem) return problem;
    }
    return undefined;
  }

  private take(c: number, text: string, at: number): CsvProblem | undefined {
    const afterReturn = this.afterReturn;
    this.afterReturn = c === cr;
    if (c === lf && afterReturn) {
      if (this.state === 'quoted' && this.head) this.text += '\n';
      return undefined;
    }
    if (this.state === 'start') this.begin = { line: this.line, column: this.column };
    let problem: CsvProblem | undefined;
    if (this.state === 'quoted') {
      if (c === quote) this.state = 'closed';
      else if (this.head) this.text += text[at]!;
    } else if (c === this.delimiter) problem = this.endCell();
    else if (c === lf || c === cr) problem = this.endRecord();
    else if (c === quote && this.state === 'start') this.state = 'quoted';
    else if (c === quote && this.state === 'closed') {
      this.state = 'quoted';
      if (this.head) this.text += '"';
    } else if (this.state === 'closed')
      problem = { line: this.line, column: this.column, problem: 'something stands behind the closing quotation mark' };
    else {
      this.state = 'plain';
      if (this.head) this.text += text[at]!;
    }
    if (c === lf || c === cr) {
      this.line++;
      this.column = 1;
    } else this.column++;
    return problem;
  }

  private endCell(): CsvProblem | undefined {
    this.state = 'start';
    this.cell++;
    if (this.head) {
      this.head.push(this.text);
      this.headPlaces.push(this.begin);
      this.text = '';
      return undefined;
    }
    return this.cell === this.columns + 1
      ? {
          ...this.begin,
          problem: `the header names ${this.columns} column${this.columns === 1 ? '' : 's'}; there is none for this cell`,
        }
      : undefined;
  }

  private endRecord(): CsvProblem | undefined {
    // A line without content is no record.
    const empty = this.state === 'start' && this.cell === 0;
    if (this.state === 'start') this.begin = { line: this.line, column: this.column };
    if (empty) return undefined;
    const problem = this.endCell();
    if (this.head) {
      this.columns = this.cell;
      const { head } = this;
      this.head = undefined;
      const twice = head.findIndex(
        (name, i) => name.trim() !== '' && head.slice(0, i).some((n) => n.trim() === name.trim()),
      );
      this.cell = 0;
      if (twice >= 0) return { ...this.headPlaces[twice]!, problem: `the column ${head[twice]!.trim()} stands twice` };
    }
    this.cell = 0;
    return problem;
  }

  end(): CsvProblem | undefined {
    if (this.state === 'quoted') return { ...this.begin, problem: 'the quotation mark is never closed' };
    return this.endRecord();
  }
}
