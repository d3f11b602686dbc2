/** Files of text that somebody chooses: in whatever encoding a spreadsheet program saved them. */
import { fileText } from '@rigid-rule/core/formats';

export interface TextFile {
  readonly text: string;
  /** What to look at, where its encoding was guessed. */
  readonly note?: string;
}

export async function readTextFile(file: Blob): Promise<TextFile> {
  const { text, isGuessed } = fileText(new Uint8Array(await file.arrayBuffer()));
  if (!isGuessed) return { text };
  return { text, note: 'It is not UTF-8 and was read as Western European (Windows-1252): look at the accents.' };
}
