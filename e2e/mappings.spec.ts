import type { Locator, Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { paste } from './support/clipboard.ts';
import { expect, expectAccessible, test } from './support/installation.ts';

const cell = (grid: Locator, row: number, column: number) =>
  grid.locator(`[aria-rowindex="${row + 1}"] [role=gridcell]`).nth(column);
const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();

test('cells are typed, checked as they are typed, filled, cleared and undone', async ({ as }) => {
  const page = await as('author');
  await page.goto('/mappings/country-table');
  const grid = page.getByRole('grid');
  await expect(page.getByText(/without a row, \d+ of 1,200 records/)).toBeVisible();
  await expectAccessible(page);
  await cell(grid, 1, 1).click();
  // A word that an input method begins is composed where it will stand: there is an input by the time that its key is done.
  const isComposedIn = await page.evaluate(() => {
    const begins = { key: 'Process', keyCode: 229, bubbles: true };
    document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', begins));
    return document.activeElement?.matches('[role=grid] input');
  });
  expect(isComposedIn).toBe(true);
  await page.keyboard.type('Sout Europe');
  // The Enter that chooses a word of an input method commits nothing, whichever way the browser tells of it.
  for (const of of [{ isComposing: true }, { keyCode: 229 }])
    await page.evaluate(
      (given) =>
        document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, ...given })),
      of,
    );
  await expect(grid.locator('input')).toHaveValue('Sout Europe');
  await page.keyboard.press('Enter');
  await expect(cell(grid, 1, 1)).toHaveAttribute('aria-invalid', 'true');
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('status').filter({ hasText: 'did you mean South Europe' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(cell(grid, 1, 1)).not.toHaveAttribute('aria-invalid', 'true');
  await cell(grid, 1, 2).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Delete');
  await expect(cell(grid, 3, 2)).toHaveText('');
  await cell(grid, 1, 2).click();
  await page.keyboard.type('ESP');
  await page.keyboard.press('Enter');
  await cell(grid, 1, 2).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await expect(cell(grid, 2, 2)).toHaveText('ESP');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await expect(cell(grid, 3, 2)).toHaveText('EUR');
  await saved(page);
});

test('a paste is tried out line by line before it is taken', async ({ as }) => {
  const page = await as('author');
  await page.goto('/mappings/country-table');
  const grid = page.getByRole('grid');
  await paste(
    grid,
    'Country\tIts region\tUsual terms\nIreland\tNorth Europe\t30 days\nMorocco\tAfrica\t14 days\nBrasil\tSouth America\t30 days',
  );
  const preview = page.getByRole('region', { name: 'What would change' });
  await expect(preview).toContainText('1 row added');
  await expect(preview).toContainText('Usual terms 14 days 30 days');
  await expect(preview).toContainText('Brasil is not an option of Home country');
  await expectAccessible(page);
  await preview.getByRole('button', { name: 'Take 2 lines' }).click();
  await expect(preview).toContainText('The other lines were taken. This one was refused.');
  await expect(preview).toContainText('Brasil');
  await preview.getByRole('button', { name: 'Close' }).click();
  await expect(preview).toHaveCount(0);
  await expect(grid.getByRole('gridcell', { name: 'Morocco' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(grid.getByRole('gridcell', { name: 'Morocco' })).toHaveCount(0);
});

for (const kind of ['CSV', 'XLSX', 'DMN'] as const)
  test(`a table goes out as ${kind} and comes back as it was`, async ({ as }) => {
    const page = await as('author');
    await page.goto('/mappings/source-table');
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: `Download as ${kind}` }).click(),
    ]);
    const buffer = await readFile(await file.path());
    await page
      .getByLabel('File to read rows from', { exact: true })
      .setInputFiles({ name: file.suggestedFilename(), mimeType: '', buffer });
    const preview = page.getByRole('region', { name: 'What would change' });
    await expect(preview).toContainText('12 rows the same');
    await expect(preview.getByRole('button', { name: 'Take 0 lines' })).toBeDisabled();
  });

test('a file that cannot be read whole is refused with the reason, and nothing of it is taken', async ({ as }) => {
  const page = await as('author');
  await page.goto('/mappings/source-table');
  const give = (name: string, text: string | Buffer) =>
    page
      .getByLabel('File to read rows from', { exact: true })
      .setInputFiles({ name, mimeType: '', buffer: typeof text === 'string' ? Buffer.from(text) : text });
  const alert = page.getByRole('alert');
  await give('a.csv', 'Lead source,Its priority\r\n"Phone');
  await expect(alert).toContainText('Line 2: Quoted field unterminated');
  await give('b.csv', 'colour,shape\r\nred,round\r\n');
  await expect(alert).toContainText('names none of the columns Lead source, Its priority');
  await give('c.dmn', '<a/>');
  await expect(alert).toContainText('Definitions');
  await give('d.xlsx', Buffer.from('504b030400', 'hex'));
  await expect(alert).toContainText('The workbook cannot be read');
  await give('d.xls', Buffer.from('d0cf11e0a1b11ae1', 'hex'));
  await expect(alert).toContainText('save it as .xlsx');
  const preview = page.getByRole('region', { name: 'What would change' });
  await expect(preview).toHaveCount(0);
  await give('e.csv', Buffer.from('Lead source,Its priority\r\nCafé,High\r\n', 'latin1'));
  await expect(preview).toContainText('was read as Western European (Windows-1252): look at the accents');
  await expect(preview).toContainText('Café');
  await expect(preview.getByRole('button', { name: 'Drop 12 rows' })).toBeVisible();
  await preview.getByLabel('Keep the rows that it does not name', { exact: true }).check();
  await expect(preview.getByRole('button', { name: 'Take 0 lines' })).toBeDisabled();
  // What is wrong with the file as a whole is said once.
  await give('f.csv', 'Its priority\r\nNow\r\nSoon\r\n');
  await expect(preview.getByText('The column Lead source is missing.')).toHaveCount(1);
});

test('rows are found and sorted; columns are named, bound and added; rows are added and taken out', async ({ as }) => {
  const page = await as('author');
  await page.goto('/mappings/source-table');
  const grid = page.getByRole('grid');
  await page.getByLabel('Find in the rows', { exact: true }).fill('later');
  await expect(page.getByText(/\d of 12 rows/)).toBeVisible();
  await page.getByLabel('Find in the rows', { exact: true }).fill('');
  await grid.getByRole('button', { name: 'Lead source' }).click();
  await grid.getByRole('button', { name: 'Lead source' }).click();
  await expect(cell(grid, 1, 0)).toHaveText('Web form');
  const columns = page.getByRole('region', { name: 'Columns' });
  await columns.getByRole('button', { name: 'add an output' }).click();
  await expect(grid.getByRole('columnheader', { name: 'Value' })).toBeVisible();
  await columns.getByLabel('Name of the column Value', { exact: true }).fill('Days to answer');
  await columns.getByRole('button', { name: 'Rename', exact: true }).click();
  await columns.getByLabel('What Days to answer holds', { exact: true }).selectOption({ label: 'number' });
  await cell(grid, 1, 2).click();
  await page.keyboard.type('3');
  await page.keyboard.press('Enter');
  await expect(cell(grid, 1, 2)).toHaveText('3');
  await page.getByRole('button', { name: 'add a row' }).click();
  await expect(page.getByText('13 rows', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'take the row out' }).click();
  await expect(page.getByText('12 rows', { exact: true })).toBeVisible();
  await saved(page);
});

test('a table keeper changes the rows of her table and nothing else', async ({ as, expectError, installation }) => {
  const page = await as('tables');
  await page.goto('/mappings/country-table');
  const grid = page.getByRole('grid');
  await cell(grid, 1, 2).click();
  await page.keyboard.type('XXX');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.reload();
  await expect(cell(grid, 1, 2)).toHaveText('XXX');
  await expect(page.getByLabel('Name of the table', { exact: true })).toBeDisabled();
  await page.goto('/mappings/source-table');
  await expect(page.getByRole('button', { name: 'add a row' })).toHaveCount(0);
  expectError('403');
  const refused = await page.evaluate(
    async (own) => {
      const edits = [
        { kind: 'table', key: 'source-table', version: 1, operations: [{ op: 'replace', path: '/rows', value: [] }] },
        { kind: 'table', key: 'country-table', version: 2, operations: [{ op: 'replace', path: '/name', value: 'X' }] },
        { kind: 'rule', key: 'margin', version: 1, operations: [{ op: 'replace', path: '/on', value: false }] },
      ];
      return Promise.all(
        edits.map(async (edit) => {
          const headers = { ...own, 'content-type': 'application/json' };
          return (
            await fetch('/api/draft/edits', {
              method: 'POST',
              headers,
              body: JSON.stringify({ page: '', edits: [edit] }),
            })
          ).status;
        }),
      );
    },
    await installation.headersOf('tables'),
  );
  expect(refused).toEqual([403, 403, 403]);
});
