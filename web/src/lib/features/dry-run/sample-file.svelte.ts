/** A file whose rows become sample records: what is in it, which field each column is, and how it is read. */
import type { RecordType } from '@rigid-rule/core/document';
import { shownValue, typedValue } from '$lib/features/fields';
import { readLineFile } from '$lib/line-file.ts';
import { ownWriting } from '$lib/organisation.svelte.ts';
import { writtenAs, type Written } from '$lib/written-lines.ts';
import { bothWays, cellValue, matchColumns, neutrally, readRecords, type ColumnMatch } from './columns.ts';

interface Surroundings {
  /** What its rows are. */
  readonly type: () => RecordType | undefined;
  /** Fields of columns that were taken in before, by heading. */
  readonly remembered: () => Readonly<Record<string, string>>;
  /** Ids by title, in small letters, of the records of each type that the fields of `type` link to. */
  readonly titlesFor: (type: RecordType) => Promise<Titles>;
}

/** Ids by title, by record type. */
type Titles = ReadonlyMap<string, ReadonlyMap<string, string>>;

interface Lines {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly note: string | undefined;
  /** Of a workbook cells are known, whatever they look like. */
  readonly isText: boolean;
}

const mostRows = 200_000;
/** Rows that are looked at before all are taken in. */
export const mostLookedAt = 2000;

export class SampleFile {
  lines = $state.raw<Lines>();
  columns = $state.raw<readonly ColumnMatch[]>([]);
  /** As somebody told that it is written. */
  private told = $state<Written>();
  private titles = $state.raw<Titles>(new Map());
  private latest: File | undefined;
  private readonly around: Surroundings;

  constructor(around: Surroundings) {
    this.around = around;
  }

  private readonly first = $derived(this.lines?.rows.slice(0, mostLookedAt) ?? []);
  private readonly seems = $derived.by((): Written | undefined => {
    const type = this.around.type();
    if (!type || !this.lines || !this.lines.isText) return undefined;
    return writtenAs(bothWays(this.first, this.columns, type, typedValue));
  });
  /** How it is written, where that makes a difference: as it was told, or as more of it fits. */
  readonly written = $derived(this.seems && (this.told ?? this.seems));
  private readonly reader = $derived((this.told ?? this.seems) === 'own' ? typedValue : neutrally);
  /** What comes of the rows that are looked at before. */
  readonly preview = $derived.by(() => {
    const type = this.around.type();
    return type && this.lines ? readRecords(this.first, this.columns, type, this.reader, this.idOfTitle) : undefined;
  });

  /**
   * Reads another file; one that was chosen meanwhile is read instead. True: it is there.
   * @throws {Error} in words, where it cannot be read.
   */
  async read(chosen: File): Promise<boolean> {
    this.latest = chosen;
    const { lines, note, isText = false } = await readLineFile(chosen);
    const titles = await this.titlesNow();
    if (this.latest !== chosen) return false;
    const [header = [], ...rows] = lines;
    if (rows.length > mostRows) throw new Error(`At most ${ownWriting(mostRows)} rows fit in a set.`);
    this.titles = titles;
    this.lines = { header, rows, note, isText };
    this.told = undefined;
    this.match();
    return true;
  }

  /** Its rows are of another type: what their columns are, and what they link to, is found anew. */
  async retype(): Promise<void> {
    this.match();
    this.titles = await this.titlesNow();
  }

  /** For the type that is asked for once they are here. */
  private async titlesNow(): Promise<Titles> {
    const type = this.around.type();
    const titles = type ? await this.around.titlesFor(type) : new Map();
    return this.around.type() === type ? titles : this.titlesNow();
  }

  /** Finds the field of each column, by its heading and by what is in it. */
  private match(): void {
    const type = this.around.type();
    if (type && this.lines)
      this.columns = matchColumns(this.lines.header, this.lines.rows, type, this.around.remembered(), [
        neutrally,
        typedValue,
      ]);
  }

  setField(column: number, field: string | undefined): void {
    this.columns = this.columns.with(column, { ...this.columns[column]!, field, because: 'as before' });
  }

  tell(written: Written): void {
    this.told = written;
  }

  /** A cell as it was read; undefined where it holds no value of its field. */
  readAs(text: string, key: string | undefined): string | undefined {
    const field = this.around.type()?.fields.find((f) => f.key === key);
    if (!field || text.trim() === '' || field.recordType) return text;
    const read = cellValue(field, text, this.reader);
    return 'value' in read ? shownValue(field, read.value) : undefined;
  }

  /** All its rows as records of `type`, and the fields of its columns by heading. */
  records(type: RecordType) {
    const columns = Object.fromEntries(this.columns.flatMap((c) => (c.field ? [[c.heading, c.field]] : [])));
    return { ...readRecords(this.lines!.rows, this.columns, type, this.reader, this.idOfTitle), columns };
  }

  forget(): void {
    this.lines = undefined;
  }

  private readonly idOfTitle = (key: string, title: string): string | undefined =>
    this.titles.get(key)?.get(title.trim().toLowerCase());
}
