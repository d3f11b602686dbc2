/** What stood in a newcomer's way, each of it met as they meet it. */
import type { Page } from '@playwright/test';
import { listsBeyond, offTheLine, wordsBroken } from './support/beyond.ts';
import { paste } from './support/clipboard.ts';
import { Hands } from './support/hands.ts';
import { expect, test } from './support/installation.ts';
import { followLink } from './support/pages.ts';

const status = (page: Page) => page.locator('footer').getByRole('status');
const rule = '/desk/customer/size-class-from-employee-count';

test('a first rule: a new field with options, three bands, tried on the bench', async ({ as }, info) => {
  const page = await as('author');
  await page.goto('/fields/customer');
  const hands = new Hands(page);
  await hands.fill(page.getByLabel('New field', { exact: true }), 'Herd size');
  await hands.press('Enter');
  await hands.choose(page.getByLabel('Type', { exact: true }), 'picklist');
  await hands.click(page.getByLabel('New option', { exact: true }));
  for (const option of ['Few', 'Some', 'Many']) {
    await hands.type(option);
    await hands.press('Enter');
  }
  await hands.click(page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: 'Rules' }));
  await hands.click(page.getByRole('list', { name: 'Fields' }).getByRole('link', { name: /^Herd size/ }));
  await hands.click(
    page.getByRole('group', { name: 'New rule on Herd size' }).getByRole('button', { name: 'Categorize' }),
  );
  await hands.fill(page.getByLabel('Upper boundary of Few', { exact: true }), '20');
  await hands.fill(page.getByLabel('Upper boundary of Some', { exact: true }), '200');
  await hands.press('Enter');
  await hands.fill(page.getByRole('region', { name: 'Bench' }).getByLabel('Employee count', { exact: true }), '40');
  await expect(page.locator('[data-written=herd_size] .written')).toHaveText('Some');
  hands.done(info, 'first rule of a newcomer', 90);

  await test.step('its lowest and highest band are open or closed, and out of range can be reached', async () => {
    await page.getByRole('button', { name: 'no lower limit,' }).click();
    await expect(page.getByLabel('Lower boundary of Few', { exact: true })).toHaveValue('0');
    await page.getByRole('button', { name: ', no upper limit' }).click();
    const top = page.getByLabel('Upper boundary of Many', { exact: true });
    await top.fill('lots');
    await top.press('Enter');
    await expect(page.getByText('lots is not a number.')).toBeVisible();
    await top.fill('1000');
    await top.press('Enter');
    await page.getByRole('region', { name: 'Bench' }).getByLabel('Employee count', { exact: true }).fill('5000');
    await expect(page.locator('[data-written=herd_size]')).toHaveCount(0);
    await top.fill('');
    await top.press('Enter');
    await expect(page.locator('[data-written=herd_size] .written')).toHaveText('Many');
  });
  await test.step('no name is ever left blank, and what is undone is said, also after a reload', async () => {
    const name = page.getByLabel('Name of the rule', { exact: true });
    await name.fill('');
    await expect(page.getByText(/^Enter a name: it stays Herd size/)).toBeVisible();
    await name.blur();
    await expect(name).toHaveValue('Herd size, by classes');
    await expect(status(page)).toContainText('Saved');
    await page.reload();
    await expect(page.getByLabel('Upper boundary of Some', { exact: true })).toHaveValue('200');
    await page.keyboard.press('Control+z');
    await expect(status(page)).toContainText('Undone: take the upper limit away');
    await expect(page.getByLabel('Upper boundary of Many', { exact: true })).toHaveValue('1,000');
  });
});

test('the desk by keys, and a try that is kept once and found again', async ({ as }) => {
  const page = await as('author');
  await page.goto(rule);
  const bench = page.getByRole('region', { name: 'Bench' });
  await test.step('the first boundary is two keys from the rule, the value on the bench one more', async () => {
    await page.locator('#ledger-filter').focus();
    await page.keyboard.type('size class');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('F6');
    await expect(page.getByRole('slider', { name: 'Boundary from Micro to Small' })).toBeFocused();
    await page.keyboard.press('F6');
    await expect(bench.getByLabel('Employee count', { exact: true })).toBeFocused();
    await page.keyboard.press('Shift+F6');
    await expect(page.getByRole('slider', { name: 'Boundary from Micro to Small' })).toBeFocused();
  });
  await test.step('what is no value is never kept; a try is kept once, by what it shows', async () => {
    const count = bench.getByLabel('Employee count', { exact: true });
    await count.fill('many');
    await bench.getByRole('button', { name: 'Keep as test' }).click();
    await expect(bench.getByText('Not kept: what Employee count holds is no value of it yet.')).toBeVisible();
    await count.fill('100');
    await bench.getByRole('button', { name: 'Keep as test' }).click();
    await expect(bench.getByText('Kept as “Employee count 100: Size class Medium”.')).toBeVisible();
    await bench.getByRole('button', { name: 'Keep as test' }).click();
    await expect(
      bench.getByText('Not kept: the test “Employee count 100: Size class Medium” is the same.'),
    ).toBeVisible();
  });
  await test.step('it is found by the palette, typed at once, and opens on the bench', async () => {
    await bench.getByRole('button', { name: 'Undo my try' }).click();
    await page.keyboard.press('Control+k');
    await page.keyboard.type('count 100: size');
    await expect(page.getByPlaceholder(/^Field, rule/)).toHaveValue('count 100: size');
    await page.getByRole('option', { name: /Employee count 100: Size class Medium/ }).click();
    await expect(bench.getByText('a kept test')).toBeVisible();
    await expect(page.locator('[data-written=size_class] .written')).toHaveText('Medium');
  });
  await test.step('records are found by title', async () => {
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder(/^Field, rule/).fill('Alder Moor');
    await page.getByRole('option', { name: /Alder Moor Vineyard Customer/ }).click();
    await expect(page).toHaveURL(/\/records\/customer\/\d+$/);
  });
});

test('the bar of the application is one line in which nothing covers anything, at any width', async ({ as }) => {
  const page = await as('author');
  await page.goto('/release');
  const bar = page.getByRole('banner');
  for (const width of [1600, 1280, 1180, 1024, 960, 919, 800, 640, 390]) {
    await page.setViewportSize({ width, height: 800 });
    const boxes = await bar.evaluate((header) =>
      [...header.querySelectorAll('a, nav > i, span, button, summary')]
        .filter((e) => e.checkVisibility() && e.getBoundingClientRect().width > 1)
        .map((e) => ({ says: e.textContent.trim(), ...e.getBoundingClientRect().toJSON() })),
    );
    expect(boxes.length, `what stands in the bar at ${width} pixels`).toBeGreaterThan(3);
    const wrong = boxes.filter((b, i) => {
      const next = boxes[i + 1];
      return b.height > 32 || b.right > width || (next && next.left < b.right - 0.5 && next.says !== '' && i > 0);
    });
    expect(wrong, `covered or on two lines at ${width} pixels`).toEqual([]);
  }
});

test('a press counts where the page moves under it, and not where the pointer moves off', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/new');
  const save = page.getByRole('button', { name: 'Save' });
  const place = await save.boundingBox();
  await page.getByLabel('Employee count', { exact: true }).fill('300');
  const title = page.getByRole('heading', { level: 1 });
  const press = async (andMoveBy: number) => {
    const { x, y } = (await save.boundingBox())!;
    await page.mouse.move(x + 10, y + 10);
    await page.mouse.down();
    await title.evaluate((h) => (h.style.marginBottom = '600px'));
    await page.mouse.move(x + 10 + andMoveBy, y + 10);
    await page.mouse.up();
    await title.evaluate((h) => (h.style.marginBottom = ''));
  };
  await press(-60);
  await expect(page.getByText('1 value typed')).toBeVisible();
  await press(0);
  await expect(page.getByText(/\d problems stop the save: Name, /)).toBeVisible();
  // What rules say takes lines, and Save stands where it stood.
  expect(await save.boundingBox()).toEqual(place);
});

/** What of a page cannot be reached, or only through a slit, in the window as it is. */
const outOfReach = (page: Page) =>
  page.evaluate(() => {
    const { scrollHeight, scrollWidth } = document.documentElement;
    const scrolls = [...document.querySelectorAll('main *')].filter((e) => {
      const { overflowX, overflowY } = getComputedStyle(e);
      return [overflowX, overflowY].some((o) => o === 'auto' || o === 'scroll') && e.clientWidth > 60;
    });
    const says = (e: Element) => `${e.tagName} ${e.getAttribute('aria-label') ?? e.className}`;
    return {
      beyond: [scrollHeight - innerHeight, scrollWidth - innerWidth],
      // Nobody reads through a slit, and a page is not read sideways; tables and drawings may be.
      slits: scrolls.filter((e) => e.clientHeight < 110 && e.scrollHeight > e.clientHeight + 40).map(says),
      // What stands in a column begins where its head does, also where a scroll bar takes its part.
      askew: [...document.querySelectorAll('[role=table], [role=grid], table')].flatMap((table) => {
        const rows = [...table.querySelectorAll('[role=row], tr')].filter((row) => row.clientHeight > 4);
        const isHead = (row: Element) => row.querySelector('[role=columnheader], thead th') !== null;
        const lefts = (row?: Element) => [...(row?.children ?? [])].map((cell) => cell.getBoundingClientRect().left);
        const [heads, cells] = [rows.find(isHead), rows.find((row) => !isHead(row))].map(lefts);
        if (heads?.length !== cells?.length) return [];
        return cells!.flatMap((left, i) => (Math.abs(left - heads![i]!) > 1 ? [`column ${i + 1}`] : []));
      }),
      sideways: scrolls.filter((e) => e.querySelector('h1') && e.scrollWidth > e.clientWidth).map(says),
    };
  });

/** What of a page would not be on paper, and what colour that is. */
const onPaper = (page: Page) =>
  page.evaluate(() => ({
    cut: [document.documentElement, ...document.querySelectorAll('body, body > div, main, main *')]
      .filter((e) => getComputedStyle(e).overflowY !== 'visible' && e.scrollHeight > e.clientHeight + 4)
      .filter((e) => e.clientHeight > 100 && e.clientWidth > 100)
      .map((e) => `${e.tagName} ${e.getAttribute('aria-label') ?? e.className}`),
    paper: getComputedStyle(document.body).backgroundColor,
  }));

test('on every area nothing scrolls behind the panes in any window, and all is printed on white', async ({ as }) => {
  const page = await as('author');
  const narrow = [rule, '/records/customer', '/records/customer/1', '/release', '/mappings', '/settings', '/document'];
  const others = ['/findings', '/tests/customer', '/dry-run/customer', '/fields/customer', '/map/customer', '/drift'];
  // Of lists of records and rows of a table what is drawn is printed; all of them are for a file.
  const drawnInPart = ['/records/customer', '/mappings'];
  await page.goto('/');
  for (const path of [...others, ...narrow]) {
    await page.setViewportSize({ width: 1280, height: 480 });
    await page.emulateMedia({ media: 'screen', colorScheme: 'dark' });
    await followLink(page, path);
    await expect(page.getByRole('heading').first()).toBeAttached();
    // The second: a window of 1280 by 800 in which all is twice as large. The third: a phone.
    for (const [width, height] of [
      [1280, 480],
      [640, 400],
      ...(narrow.includes(path) ? ([[390, 800]] as const) : []),
    ] as const) {
      await page.setViewportSize({ width, height });
      await expect
        .poll(
          async () => ({
            ...(await outOfReach(page)),
            broken: await wordsBroken(page),
            off: await offTheLine(page),
            lists: await listsBeyond(page),
          }),
          {
            message: `${path} at ${width} by ${height}`,
          },
        )
        .toEqual({ beyond: [0, 0], slits: [], askew: [], sideways: [], broken: [], off: [], lists: [] });
    }
    if (drawnInPart.includes(path)) continue;
    await page.setViewportSize({ width: 1280, height: 480 });
    await page.emulateMedia({ media: 'print', colorScheme: 'dark' });
    await expect
      .poll(() => onPaper(page), { message: `${path} on paper` })
      .toEqual({ cut: [], paper: 'rgb(255, 255, 255)' });
  }
  // From a phone's menu to another area.
  await page.emulateMedia({ media: 'screen' });
  await page.setViewportSize({ width: 390, height: 800 });
  await page.getByText('Rules', { exact: true }).first().click();
  await page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: 'Records' }).click();
  await expect(page).toHaveURL(/\/records\/customer$/);
});

test('a form: nothing typed is nothing to leave, another form keeps what was typed, trouble is gone to', async ({
  as,
}) => {
  const page = await as('keeper');
  await page.goto('/records/customer/new');
  page.once('dialog', () => {
    throw new Error('an untouched form asked whether to leave it');
  });
  await page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New customer' }).click();
  await page.getByLabel('Employee count', { exact: true }).fill('300');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toBeFocused();
  await expect(page.getByText(/\d problems stop the save: .*Name/)).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Carried Orchards');
  await page.getByRole('link', { name: 'short form' }).click();
  await expect(page).toHaveURL(/form=short/);
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Carried Orchards');
  await page.getByRole('link', { name: 'full form' }).click();
  await expect(page.getByLabel('Employee count', { exact: true })).toHaveValue('300');
  // What was typed is written anew once it is left: the browser's own redo would add to it.
  await page.getByLabel('Credit limit', { exact: true }).click();
  await page.keyboard.type('12345');
  await page.keyboard.press('Tab');
  await page.getByLabel('Credit limit', { exact: true }).focus();
  for (const key of ['Control+z', 'Control+Shift+z']) await page.keyboard.press(key);
  await expect(page.getByLabel('Credit limit', { exact: true })).toHaveValue('€12,345');
});

test('an untouched table takes its columns with its rows, and shows what was refused', async ({ as }) => {
  const page = await as('author');
  await page.goto('/mappings');
  await page.getByLabel('New mapping', { exact: true }).fill('Terms by place');
  await page.getByLabel('New mapping', { exact: true }).press('Enter');
  const pasteLines = () =>
    paste(page.getByRole('grid'), 'Home country\tSize class\tDays\nFrance\tSmall\t30\nAtlantis\tSmall\t14');
  await pasteLines();
  await page.getByRole('button', { name: 'Leave all' }).click();
  await expect(page.getByLabel('Name of the column Key', { exact: true })).toBeVisible();
  await pasteLines();
  const keys = page.getByRole('group', { name: 'What is looked up by' });
  await keys.getByLabel('Size class', { exact: true }).check();
  await page.getByRole('button', { name: 'Take 1 line' }).click();
  await expect(page.getByText('The other lines were taken.')).toBeVisible();
  await expect(page.getByRole('region', { name: 'What would change' })).toContainText('Atlantis, Small');
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Make Size class an output' }).click();
  await expect(page.getByRole('button', { name: 'Make Size class a key' })).toBeVisible();
});
