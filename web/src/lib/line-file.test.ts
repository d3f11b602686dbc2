import { describe, expect, it } from 'vitest';
import writeWorkbook from 'write-excel-file/universal';
import { readLineFile } from './line-file.ts';

const text = (value: string) => ({ value, type: String });
const moment = (iso: string, format = 'yyyy-mm-dd hh:mm') => ({ value: new Date(iso), type: Date, format });
const workbook = async (data: Parameters<typeof writeWorkbook>[0], name = 'a.xlsx') =>
  new File([await writeWorkbook(data as never).toBlob()], name);

describe('a workbook is read', () => {
  it('with days, moments and numbers as they stand, without the lines that are empty', async () => {
    const file = await workbook([
      [text('Name'), text('Seen'), text('Count'), text('Stop')],
      [
        text('Ada'),
        moment('2026-03-05T00:00:00Z', 'yyyy-mm-dd'),
        { value: 0.5, type: Number },
        { value: true, type: Boolean },
      ],
      [],
      [text(' Bo, "x" '), moment('2026-03-05T14:30:00Z'), { value: -12, type: Number }, null],
    ] as never);
    expect(await readLineFile(file)).toEqual({
      lines: [
        ['Name', 'Seen', 'Count', 'Stop'],
        ['Ada', '2026-03-05', '0.5', 'true'],
        [expect.stringContaining('Bo, "x"'), '2026-03-05T14:30:00', '-12', ''],
      ],
      numbers: [1, 2, 4],
    });
  });

  it('of several sheets the first that holds anything, and says so', async () => {
    const sheets = [[], [[text('Town')], [text('Dorn')]], [[text('Prices')]]];
    const file = new File(
      [
        await writeWorkbook(
          sheets.map((data, i) => ({ data, sheet: ['Cover', 'Towns', 'Prices'][i]! })) as never,
        ).toBlob(),
      ],
      'a.xlsx',
    );
    expect(await readLineFile(file)).toMatchObject({
      lines: [['Town'], ['Dorn']],
      note: 'Of its 2 sheets only the first, Towns, was read.',
    });
  });

  it('whatever it is named', async () => {
    const file = await workbook([[text('Town')]] as never, 'export.csv');
    expect(await readLineFile(file)).toMatchObject({ lines: [['Town']] });
  });
});

const bytes = (...given: readonly (string | number)[]): File =>
  new File(
    [Uint8Array.from(given.flatMap((g) => (typeof g === 'string' ? [...g].map((c) => c.charCodeAt(0)) : [g])))],
    'a.xlsx',
  );

it('a text is read as one, whatever it is named', async () => {
  const file = bytes('Town;Trees\r\n\r\nDorn;1,5\r\n');
  expect(await readLineFile(file)).toEqual({
    lines: [
      ['Town', 'Trees'],
      ['Dorn', '1,5'],
    ],
    numbers: [1, 3],
    isText: true,
  });
});

// First bytes by the published formats: MS-CFB 2.2, ISO 32000-1 7.5.2, RTF 1.9.1, OpenDocument 1.2 part 3, 3.3; from memory.
it.each([
  [
    'a workbook of an older Excel',
    bytes(0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1, 0, 0),
    'before 2007, or one with a password',
  ],
  ['a PDF', bytes('%PDF-1.7\n'), 'It is a PDF'],
  ['a text document', bytes('{\\rtf1\\ansi x}'), 'save its lines as CSV'],
  [
    'an OpenDocument file',
    bytes('PK', 3, 4, '0'.repeat(26), 'mimetypeapplication/vnd.oasis.opendocument.spreadsheet'),
    'OpenDocument',
  ],
  ['a ZIP that is no workbook', bytes('PK', 3, 4, '0'.repeat(60)), 'The workbook cannot be read'],
  ['a picture', bytes(0x89, 'PNG\r\n', 0x1a, '\n', 0, 0, 0, 13), 'neither a text nor a workbook'],
  ['CSV that breaks off', bytes('Town\r\n"Do'), 'Line 2: Quoted field unterminated'],
])('%s is refused in words', async (_, file, said) => {
  await expect(readLineFile(file)).rejects.toThrow(said);
});
