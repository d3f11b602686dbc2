import type { Page, Route } from '@playwright/test';
import { paste } from './support/clipboard.ts';
import { expect, expectAccessible, test } from './support/installation.ts';
import { emailOf } from './support/people.ts';

const rule = '/desk/customer/size-class-from-employee-count';
const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();

test('a change on the bench shows its result at once, with the reason, and stores nothing', async ({ as }) => {
  const page = await as('author');
  await page.goto(rule);
  const bench = page.getByRole('region', { name: 'Bench' });
  await expect(bench.getByText(/sample 1 of 1,200/)).toBeVisible();
  const written = bench.locator('[data-written=size_class] .written');
  for (const [count, name] of [
    ['251', 'Large'],
    ['250', 'Large'],
    ['249', 'Medium'],
    ['9', 'Micro'],
  ] as const) {
    await bench.getByLabel('Employee count', { exact: true }).fill(count);
    await expect(written).toHaveText(name);
  }
  await bench.getByRole('button', { name: /^Why is Size class/ }).click();
  await expect(bench.getByText('From 0, below 10 it is Micro.')).toBeVisible();
  const trace = bench.locator('[data-trace]').filter({ hasText: 'Size class' });
  await expect(trace).toContainText('read 9');
  await expect(trace).toContainText('wrote Small → Micro');
  await expectAccessible(page);
  await bench.getByLabel('Employee count', { exact: true }).fill('many');
  await expect(bench.getByText('many is not a number.')).toBeVisible();
  await bench.getByRole('button', { name: 'Undo my try' }).click();
  await expect(bench.getByText('not triggered')).toBeVisible();
});

test('a try is kept while samples are switched by J and K', async ({ as }) => {
  const page = await as('author');
  await page.goto(rule);
  const bench = page.getByRole('region', { name: 'Bench' });
  await expect(bench.getByText(/sample 1 of 1,200/)).toBeVisible();
  await bench.getByLabel('Employee count', { exact: true }).fill('300');
  await bench.getByRole('heading').first().click();
  await page.keyboard.press('j');
  await expect(bench.getByText(/sample 2 of 1,200/)).toBeVisible();
  await expect(bench.getByLabel('Employee count', { exact: true })).toHaveValue('300');
  await expect(page).toHaveURL(/sample=2/);
  await page.keyboard.press('k');
  await expect(bench.getByText(/sample 1 of/)).toBeVisible();
  // Laid out anew where the window becomes narrow, the bench goes on as it was, and answers.
  for (const [width, count, answer] of [
    [800, '7', 'Micro'],
    [1280, '249', 'Medium'],
  ] as const) {
    await page.setViewportSize({ width, height: 800 });
    await bench.getByLabel('Employee count', { exact: true }).fill(count);
    await expect(bench.locator('[data-written=size_class] .written')).toHaveText(answer);
  }
});

test('fields and bench are made wider and folded away by pointer and keys, and stay as they were left', async ({
  as,
}) => {
  const page = await as('author');
  await page.goto(rule);
  const edge = (of: string) => page.getByRole('separator', { name: `Width of the ${of}` });
  const width = async (pane: string) => (await page.locator(`[data-keypane=${pane}]`).boundingBox())!.width;
  await expect(page.getByRole('region', { name: 'Bench' }).getByText(/sample 1 of 1,200/)).toBeVisible();
  const [fields, bench] = [await width('fields'), await width('bench')];
  await edge('bench').focus();
  await page.keyboard.press('ArrowLeft');
  await expect.poll(() => width('bench')).toBeGreaterThan(bench + 20);
  const box = (await edge('fields').boundingBox())!;
  await page.mouse.move(box.x, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 200, { steps: 3 });
  await page.mouse.up();
  await expect.poll(() => width('fields')).toBeCloseTo(fields + 60, -1);
  await page.keyboard.press('[');
  await expect.poll(() => width('fields')).toBe(0);
  await expect(edge('fields')).toHaveAttribute('aria-valuenow', '0');
  await expectAccessible(page);
  await page.reload();
  await expect.poll(() => width('fields')).toBe(0);
  expect(await width('bench')).toBeGreaterThan(bench + 20);
  // F6 goes past what is folded away; a search for fields brings them back.
  await expect(page.getByRole('region', { name: 'Bench' }).getByText(/sample 1 of 1,200/)).toBeVisible();
  await page.keyboard.press('F6');
  await expect(page.locator('[data-keypane=sheet] :focus')).toBeVisible();
  await page.locator(':focus').blur();
  await page.keyboard.press('/');
  await expect(page.getByLabel('Filter fields', { exact: true })).toBeFocused();
  expect(await width('fields')).toBeCloseTo(fields + 60, -1);
});

test('a boundary moves by typing, by keys and by dragging; the bench follows; undo and redo; it is saved', async ({
  as,
}) => {
  const page = await as('author');
  await page.goto(rule);
  const bench = page.getByRole('region', { name: 'Bench' });
  const boundary = page.getByLabel('Upper boundary of Medium', { exact: true });
  await bench.getByLabel('Employee count', { exact: true }).fill('251');
  await expect(bench.locator('[data-written=size_class]')).toContainText('Large');

  await boundary.fill('300');
  await boundary.press('Enter');
  await expect(bench.locator('[data-written=size_class] .written')).toHaveText('Medium');
  await saved(page);

  const stop = page.getByRole('slider', { name: 'Boundary from Medium to Large' });
  await stop.focus();
  await page.keyboard.press('ArrowRight');
  await expect(stop).toHaveAttribute('aria-valuenow', '301');
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(stop).toHaveAttribute('aria-valuenow', '291');
  await page.keyboard.press('Enter');
  await expect(stop).toHaveAttribute('aria-valuetext', '291, belongs to the band below');

  const small = page.getByRole('slider', { name: 'Boundary from Micro to Small' });
  const box = (await small.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 20, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect(small).not.toHaveAttribute('aria-valuenow', '10');

  await page.keyboard.press('Control+z');
  await expect(small).toHaveAttribute('aria-valuenow', '10');
  await page.keyboard.press('Control+Shift+Z');
  await expect(small).not.toHaveAttribute('aria-valuenow', '10');
  for (let i = 0; i < 5; i++) await page.keyboard.press('Control+z');
  await expect(boundary).toHaveValue('250');
  await saved(page);
  await page.reload();
  await expect(boundary).toHaveValue('250');
});

test('bands are split, renamed and removed; a mistake is named beside the rule', async ({ as }) => {
  const page = await as('author');
  await page.goto(rule);
  await page.getByRole('button', { name: 'Split Medium in two' }).click();
  await expect(page.getByLabel('Upper boundary of Medium', { exact: true })).toHaveCount(2);
  await page.getByRole('button', { name: 'Remove the band Medium' }).first().click();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'as a formula' }).click();
  await page.getByLabel('Only if', { exact: true }).fill('Holding kind = "Orchrd"');
  await expect(page.getByText('Holding kind has no option Orchrd. Did you mean Orchard?')).toBeVisible();
  await page.getByLabel('Only if', { exact: true }).fill('Holding kind = "Orchard"');
  await expect(page.getByText('has no option')).toHaveCount(0);
  await page.getByLabel('Only if', { exact: true }).fill('');
  await saved(page);
});

test('two authors see each other’s edits as they are made', async ({ as }) => {
  const [first, second] = [await as('author'), await as('author')];
  await first.goto(rule);
  await second.goto(rule);
  await expect(second.getByText(/sample 1 of/)).toBeVisible();
  await first.getByLabel('Purpose', { exact: true }).fill('Seen by the other.');
  const began = Date.now();
  await expect(second.getByLabel('Purpose', { exact: true })).toHaveValue('Seen by the other.');
  test.info().annotations.push({ type: 'milliseconds until the other saw it', description: `${Date.now() - began}` });
  await expect(second.getByRole('status').last()).toContainText(
    'Tomas Abery changed Size class, set from employee count',
  );
  await first.keyboard.press('Control+z');
  await expect(second.getByLabel('Purpose', { exact: true })).not.toHaveValue('Seen by the other.');

  await test.step('what is being typed stays where the other changes the same value', async () => {
    const ends = [first, second].map((p) => p.getByLabel('Upper boundary of Medium', { exact: true }));
    await ends[1]!.fill('30');
    await ends[0]!.fill('300');
    await ends[0]!.press('Enter');
    const now = second.getByText('It is 300 by now');
    await expect(now).toBeVisible();
    await expect(ends[1]!).toHaveValue('30');
    await ends[1]!.press('Escape');
    await expect(now).toHaveCount(0);
    await expect(ends[1]!).toHaveValue('300');
    await ends[0]!.blur();
    await first.keyboard.press('Control+z');
    await expect(ends[1]!).toHaveValue('250');
  });

  await test.step('also what was done between a page and its hearing of edits is told, and by whom', async () => {
    let hear = () => {};
    const silence = new Promise<void>((done) => (hear = done));
    await second.route('**/api/draft/events?*', (route) => silence.then(() => route.continue()));
    await second.goto(rule);
    await first.getByLabel('Purpose', { exact: true }).fill('Done meanwhile.');
    await expect(first.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
    hear();
    await expect(second.getByLabel('Purpose', { exact: true })).toHaveValue('Done meanwhile.');
    await expect(second.getByRole('status').last()).toContainText('Tomas Abery changed Size class');
    await first.keyboard.press('Control+z');
    await expect(second.getByLabel('Purpose', { exact: true })).not.toHaveValue('Done meanwhile.');
  });
});

test('two authors: a clash is shown side by side and nothing is lost', async ({ as, expectError }) => {
  expectError('409');
  expectError('ERR_INTERNET_DISCONNECTED');
  const [first, second] = [await as('author'), await as('author')];
  await first.goto(rule);
  await second.goto(rule);
  await expect(second.getByText(/sample 1 of/)).toBeVisible();
  await second.context().setOffline(true);
  await second.getByLabel('Purpose', { exact: true }).fill('Written by the second.');
  await expect(second.getByRole('status').filter({ hasText: 'kept here' })).toBeVisible();
  await first.getByLabel('Purpose', { exact: true }).fill('Written by the first.');
  await saved(first);
  await second.context().setOffline(false);
  const clash = second.getByRole('region', { name: 'Two versions of this rule' });
  await expect(clash).toContainText('Written by the first.');
  await expect(clash).toContainText('Written by the second.');
  await clash.getByRole('button', { name: 'Keep my version' }).click();
  await saved(second);
  await expect(first.getByLabel('Purpose', { exact: true })).toHaveValue('Written by the second.');
});

test('without network the change is kept here and saved when it is back, also over a closed tab', async ({
  as,
  expectError,
}) => {
  expectError('ERR_INTERNET_DISCONNECTED');
  const page = await as('author');
  await page.goto(rule);
  await expect(page.getByText(/sample 1 of/)).toBeVisible();
  await page.context().setOffline(true);
  await page.getByLabel('Purpose', { exact: true }).fill('Written on a train.');
  await expect(page.getByRole('status').filter({ hasText: 'kept here' })).toBeVisible();
  const again = await page.context().newPage();
  await page.close();
  await again.context().setOffline(false);
  await again.goto(rule);
  await expect(again.getByLabel('Purpose', { exact: true })).toHaveValue('Written on a train.');
  await saved(again);
  await again.reload();
  await expect(again.getByLabel('Purpose', { exact: true })).toHaveValue('Written on a train.');
});

test('a page that did not come by TLS, in a browser that keeps nothing, has less of it, and saves all the same', async ({
  as,
}) => {
  const page = await as('author');
  await page.addInitScript(() => {
    for (const name of ['randomUUID', 'subtle']) Reflect.deleteProperty(Crypto.prototype, name);
    for (const name of ['locks', 'clipboard']) Reflect.deleteProperty(Navigator.prototype, name);
    const get = (): never => {
      throw new DOMException('Access is denied for this document.', 'SecurityError');
    };
    for (const name of ['localStorage', 'sessionStorage', 'caches']) Object.defineProperty(window, name, { get });
  });
  await page.goto(rule);
  expect(await page.evaluate(() => 'randomUUID' in crypto || 'locks' in navigator)).toBe(false);
  await page.getByLabel('Purpose', { exact: true }).fill('Written within the house.');
  await saved(page);
  await page.reload();
  await expect(page.getByLabel('Purpose', { exact: true })).toHaveValue('Written within the house.');
  await page.goto('/records/customer/1');
  await page.getByLabel('Employee count', { exact: true }).fill('31');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible();
});

test('a draft that is large is read beside its page, and once more where that fails', async ({ as, installation }) => {
  await installation.query(
    `insert into draft_parts (kind, key, position, body)
     select 'table', 'long', 99, jsonb_build_object('key', 'long', 'name', 'Long', 'purpose', '', 'hitPolicy', 'unique',
       'keys', jsonb_build_array(jsonb_build_object('key', 'code', 'name', 'Code')),
       'outputs', jsonb_build_array(jsonb_build_object('key', 'area', 'name', 'Area')),
       'rows', (select jsonb_agg(jsonb_build_object('code', n::text, 'area', 'A' || n % 9)) from generate_series(1, 2000) n))`,
  );
  const page = await as('author');
  let away = true;
  await page.route('**/api/draft/parts', (route) => (away ? route.fulfill({ body: 'no JSON' }) : route.continue()));
  await page.goto(rule);
  await expect(page.getByRole('alert')).toContainText('The draft could not be read.');
  await expectAccessible(page);
  away = false;
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('region', { name: 'Bench' }).getByText(/sample 1 of 1,200/)).toBeVisible();
  await page.getByRole('link', { name: 'Mappings' }).click();
  await page.getByRole('link', { name: /^Long/ }).click();
  const beside = await as('viewer');
  await beside.goto('/mappings/long');
  const areas = [page, beside].map((p) => p.getByRole('grid', { name: 'Rows of Long' }).getByRole('gridcell'));
  for (const [i, name] of ['North', 'South'].entries()) {
    await areas[0]!.nth(1 + 2 * i).click();
    await page.keyboard.type(name);
    await page.keyboard.press('Enter');
    // The one who looks on hears of it, whether the whole table was told or what was done to it.
    for (const area of areas) await expect(area.nth(1 + 2 * i)).toHaveText(name);
  }
  await page.keyboard.press('Control+z');
  for (const area of areas) await expect(area.nth(3)).toHaveText('A2');
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  await page.reload();
  for (const area of areas) await expect(area.nth(1)).toHaveText('North');
  await installation.query(`delete from draft_parts where key = 'long'`);
});

test('everything is found by Ctrl K, and the keys are listed by ?', async ({ as }) => {
  const page = await as('author');
  await page.goto('/desk/customer');
  await page.getByRole('heading', { name: 'Customers' }).click();
  await test.step('what is typed before the palette has come, Enter included, is its own', async () => {
    const held: Route[] = [];
    let typed = false;
    await page.route('**/_app/immutable/**', (route) => (typed ? route.continue() : void held.push(route)));
    await page.keyboard.press('Control+k');
    await page.keyboard.type('employee count');
    await page.keyboard.press('Enter');
    expect(held.length).toBeGreaterThan(0);
    typed = true;
    for (const route of held) await route.continue();
    await expect(page).toHaveURL(/field=employee_count/);
    await page.unroute('**/_app/immutable/**');
    await page.goBack();
  });
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Field, rule, option, record, area or act').fill('planted');
  await expectAccessible(page, page.getByRole('dialog'));
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/field=planted_hectares/);
  await expect(page.getByRole('heading', { name: 'Planted hectares' })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('next sample record');
  await expectAccessible(page, page.getByRole('dialog'));
  await page.keyboard.press('Escape');
  await page.goBack();
  await expect(page).toHaveURL(/\/desk\/customer$/);
});

test('a viewer reads the rule and tries it, but changes nothing', async ({ as }) => {
  const page = await as('viewer');
  await page.goto(rule);
  await expect(page.getByRole('slider')).toHaveCount(0);
  await expect(page.getByLabel('Purpose', { exact: true })).not.toBeEditable();
  await page.getByRole('region', { name: 'Bench' }).getByLabel('Employee count', { exact: true }).fill('300');
  await expect(page.locator('[data-written=size_class] .written')).toHaveText('Large');
  await expectAccessible(page, page.getByRole('article', { name: 'Rule' }));
});

test('a way round the rule is found beside it, and put right in one act that can be undone', async ({ as }) => {
  const page = await as('author');
  await page.goto(rule);
  const bulk = page.getByRole('checkbox', { name: 'bulk change' });
  const findings = page.getByRole('region', { name: 'Findings' });
  await bulk.uncheck();
  await expect(findings).toContainText('not through bulk change: there any value gets in');
  await expectAccessible(page, findings);
  await findings.getByRole('button', { name: 'let the rule act there too' }).click();
  await expect(bulk).toBeChecked();
  await expect(findings).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(bulk).not.toBeChecked();
  await saved(page);
});

test('a rule is duplicated, switched off and found by it, copied onto another record type, and removed', async ({
  as,
}) => {
  const page = await as('author');
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto('/desk/customer/name-word-count');
  const sheet = page.getByRole('article', { name: 'Rule' });
  await sheet.getByRole('button', { name: 'duplicate' }).click();
  await expect(page).toHaveURL(/name_word_count_from_the_name_copy$/);
  await sheet.getByRole('switch').uncheck();
  await page.getByLabel('Show only', { exact: true }).selectOption({ label: 'switched off' });
  await expect(page.getByRole('list', { name: 'Fields' }).getByRole('link')).toHaveText([
    /^Name word count/,
    /from the name, copy/,
  ]);
  await page.getByLabel('Show only', { exact: true }).selectOption({ label: 'all' });
  await sheet.getByRole('button', { name: 'copy', exact: true }).click();
  await expect(sheet.getByRole('button', { name: /^copied/ })).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  await page.getByRole('navigation', { name: 'Record types' }).getByRole('link', { name: 'Contact' }).click();
  await page.getByRole('heading', { name: 'Contacts' }).click();
  await paste(page, text);
  await expect(page).toHaveURL(/\/desk\/contact\/name_word_count_from_the_name_copy/);
  await expect(
    sheet.getByText(/There is no field or value named Name|no field name_word_count/i).first(),
  ).toBeVisible();
  await sheet.getByRole('button', { name: 'remove', exact: true }).click();
  await expect(page).toHaveURL(/\/desk\/contact\?field=/);
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('a condition is two views of one text: rows and formula, and switching changes nothing', async ({ as }) => {
  const page = await as('author');
  await page.goto('/desk/deal/margin');
  const sheet = page.getByRole('article', { name: 'Rule' });
  await sheet.getByLabel('Add a row', { exact: true }).selectOption({ label: 'Stage' });
  await sheet.getByLabel('Value', { exact: true }).selectOption({ label: 'Won' });
  await sheet.getByLabel('Add a row', { exact: true }).selectOption({ label: 'Amount' });
  await sheet.getByRole('button', { name: 'as a formula' }).click();
  const formula = sheet.getByRole('textbox', { name: 'Only if' });
  await expect(formula).toHaveText('Stage = "Won" and not(is blank(Amount))');
  await sheet.getByRole('button', { name: 'as rows' }).click();
  await expect(sheet.getByLabel('Comparison', { exact: true })).toHaveCount(2);
  await sheet.getByRole('button', { name: 'as a formula' }).click();
  await expect(formula).toHaveText('Stage = "Won" and not(is blank(Amount))');
  await formula.fill('Stage = "Won" or sum([Amount, Cost]) > 5');
  await expect(sheet.getByText('Stage = "Won" or sum([Amount, Cost]) > 5', { exact: true })).toBeVisible();
  await expectAccessible(page, sheet);
});

test('a formula is completed by names, options and functions, and told wrong as it is typed', async ({ as }) => {
  const page = await as('author');
  await page.goto('/desk/deal/margin');
  const editor = page.getByRole('textbox', { name: 'Formula of step 1' });
  const offered = page.getByRole('listbox', { name: 'Completions' });
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('if Stage = "W');
  await expect(offered.getByRole('option', { name: /^Won/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Expec');
  await offered.getByRole('option', { name: /^Expected value/ }).click();
  await expect(editor).toHaveText('Expected value');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Amuont - Cost');
  await expect(page.getByText(/no field or value named Amuont.*Did you mean Amount/)).toBeVisible();
});

test('a pasted rule that is none is refused where the rule would stand, until it is closed', async ({
  as,
  installation,
}) => {
  const page = await as('author');
  await page.goto('/desk/customer/size-class-from-employee-count');
  const pasted = { format: 'rigid-rule/rule/1', rule: { key: 'x' } };
  await paste(page, JSON.stringify(pasted));
  const refused = page.getByRole('alert').filter({ hasText: 'This rule was not pasted.' });
  await expect(refused).toBeVisible();
  // Whatever others do meanwhile to what is on show.
  const ref = { kind: 'field', key: 'customer.size_class' };
  const headers = await installation.headersOf('author');
  const rename = async (name: string): Promise<void> => {
    const [stored] = (await installation.query('select version from draft_parts where kind = $1 and key = $2', [
      ref.kind,
      ref.key,
    ])) as { version: number }[];
    const operations = [{ op: 'replace', path: '/name', value: name }];
    const edits = [{ ...ref, ...stored!, operations, id: crypto.randomUUID() }];
    const answer = await page.request.post('/api/draft/edits', { headers, data: { page: 'another', edits } });
    expect(answer.ok()).toBe(true);
  };
  await rename('Class of size');
  await expect(page.getByRole('link', { name: /^Class of size\b/ })).toBeVisible();
  await expect(refused).toBeVisible();
  await refused.getByRole('button', { name: 'Close' }).click();
  await expect(refused).toHaveCount(0);
  await rename('Size class');
});

test('an edit of somebody who may edit no more is refused, and left as it was', async ({
  as,
  installation,
  expectError,
}) => {
  expectError('403');
  const page = await as('author');
  await page.goto('/desk/customer/size-class-from-employee-count');
  const upper = page.getByRole('article', { name: 'Rule' }).getByLabel('Upper boundary of Small', { exact: true });
  const before = await upper.inputValue();
  const becomes = (role: string) =>
    installation.query(`update users set role = $1 where email = $2`, [role, emailOf('author')]);
  await becomes('viewer');
  await upper.fill('70');
  await upper.press('Enter');
  const refused = page.getByRole('alert').filter({ hasText: 'Not taken, kept here' });
  await expect(refused.getByRole('button', { name: 'undo it' })).toBeVisible();
  // Kept where it was made, also by who can change nothing there any more.
  await page.reload();
  await refused.getByRole('button', { name: 'leave it as it was' }).click();
  await expect(refused).toHaveCount(0);
  const bands = page.getByRole('article', { name: 'Rule' }).getByRole('table');
  await expect(bands.getByText('70')).toHaveCount(0);
  await expect(bands.getByText(`below ${before}`).or(bands.getByText(before)).first()).toBeVisible();
  await page.reload();
  await expect(bands.first()).toBeVisible();
  await expect(refused).toHaveCount(0);
  await becomes('author');
});

test('rules whose order is free are put in order by keys; a fixed place says why', async ({ as }) => {
  const page = await as('author');
  await page.goto('/desk/deal');
  const list = page.getByRole('list', { name: 'Rules in the order in which they run' });
  const names = async () => (await list.getByRole('link').allTextContents()).map((t) => t.trim());
  await expect(list.getByRole('link').first()).toBeVisible();
  const before = await names();
  const second = list.getByRole('link').nth(1);
  await second.focus();
  await second.press('Alt+ArrowUp');
  const said = page.locator('p[role=status]').filter({ hasText: /runs/ });
  await expect(said).toContainText(/runs as number 1|runs before/);
  // The last rule of the demo's deals reads what others write: it can never run first.
  const fixed = list
    .locator('li')
    .filter({ hasText: /after .*\(/ })
    .last();
  const address = (await fixed.getByRole('link').getAttribute('href'))!;
  const link = list.locator(`a[href="${address}"]`);
  const place = (await names()).indexOf((await link.textContent())!.trim());
  await link.focus();
  for (let i = 0; i < place; i++) await link.press('Alt+ArrowUp');
  await expect(said).toContainText('runs before');
  await page.keyboard.press('Escape');
  for (let i = 0; i < 40 && (await names()).join() !== before.join(); i++) {
    await page.getByRole('heading', { name: 'Deals' }).click();
    await page.keyboard.press('Control+z');
  }
  expect(await names()).toEqual(before);
  await expectAccessible(page, list);
});

test('undo takes back one author’s edit and leaves the other’s; where it cannot, it says so', async ({ as }) => {
  const [one, two] = [await as('author'), await as('author')];
  for (const page of [one, two]) await page.goto('/desk/customer/size-class-from-employee-count');
  const purpose = (page: Page) => page.getByLabel('Purpose', { exact: true });
  const name = (page: Page) => page.getByLabel('Name of the rule', { exact: true });
  const oldPurpose = await purpose(one).inputValue();
  const oldName = await name(one).inputValue();
  await purpose(one).fill('Told by the first');
  await purpose(one).blur();
  await expect(purpose(two)).toHaveValue('Told by the first');
  await name(two).fill('Renamed by the second');
  await name(two).blur();
  await expect(name(one)).toHaveValue('Renamed by the second');
  await one.getByRole('region', { name: 'Bench' }).getByRole('heading').first().click();
  await one.keyboard.press('Control+z');
  await expect(purpose(one)).toHaveValue(oldPurpose);
  await expect(name(one)).toHaveValue('Renamed by the second');
  await expect(purpose(two)).toHaveValue(oldPurpose);
  // The second takes the same thing over: the first can do it again no more, and is told, where it was typed as well.
  await purpose(two).fill('Told by the second');
  await purpose(two).blur();
  await expect(purpose(one)).toHaveValue('Told by the second');
  await purpose(one).focus();
  await one.keyboard.press('Control+y');
  await expect(one.getByRole('status').last()).toContainText('cannot be done again');
  await expect(purpose(one)).toHaveValue('Told by the second');
  await purpose(two).fill(oldPurpose);
  await name(two).fill(oldName);
  await name(two).blur();
  await expect(name(one)).toHaveValue(oldName);
});

test('without network nobody is led away from their work; where the server is away its page comes once it is back', async ({
  as,
  expectError,
}) => {
  for (const part of ['ERR_INTERNET_DISCONNECTED', 'ERR_FAILED']) expectError(part);
  const page = await as('author');
  await page.goto('/findings');
  const areas = page.getByRole('navigation', { name: 'Areas' });
  await areas.getByRole('link', { name: 'Mappings' }).click();
  await expect(page).toHaveURL(/\/mappings/);
  const stays = page.getByText('The network is away: that page cannot be shown now, and this one stays.');
  await page.context().setOffline(true);
  await areas.getByRole('link', { name: 'Release' }).click();
  await expect(stays).toBeVisible();
  await expect(page).toHaveURL(/\/mappings/);
  // What needs nothing of the server can be gone to.
  await areas.getByRole('link', { name: 'Findings' }).click();
  await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
  await expect(stays).toHaveCount(0);
  await page.goBack({ waitUntil: 'commit' });
  await expect(page).toHaveURL(/\/mappings/);
  await expect(page.getByRole('grid')).toBeVisible();
  await page.context().setOffline(false);
  const data = '**/__data.json*';
  await page.route(data, (route) => route.abort());
  await areas.getByRole('link', { name: 'Release' }).click();
  await expect(page.getByRole('heading', { name: 'The network is away' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Try again now' }).click();
  await expect(page.getByRole('heading', { name: 'The network is away' })).toBeVisible();
  // It looks on its own.
  await page.unroute(data);
  await expect(page.getByRole('heading', { name: /^Release 2/ })).toBeVisible();
});

test('what was edited while the network was away is there after the tab was closed, and is sent', async ({
  as,
  expectError,
}) => {
  expectError('api/draft/edits');
  expectError('Failed to load resource');
  const page = await as('author');
  await page.goto('/desk/customer/size-class-from-employee-count');
  const purpose = page.getByLabel('Purpose', { exact: true });
  const old = await purpose.inputValue();
  await page.route('**/api/draft/edits', (route) => route.abort());
  await purpose.fill('Written on a train');
  await purpose.blur();
  await expect(page.getByRole('status').last()).toContainText('The network is away');
  await page.reload();
  await expect(purpose).toHaveValue('Written on a train');
  await page.unroute('**/api/draft/edits');
  await expect(page.getByRole('status').last()).toContainText(/Saved \d/);
  await page.reload();
  await expect(purpose).toHaveValue('Written on a train');
  await purpose.fill(old);
  await purpose.blur();
  await expect(page.getByRole('status').last()).toContainText(/Saved \d/);
});

test('where the system chooses the colours, drawings, marks and edges are there and can be told apart', async ({
  as,
}) => {
  const page = await as('author');
  await page.emulateMedia({ forcedColors: 'active' });
  await page.goto(rule);
  await expect(page.getByRole('region', { name: 'Bench' }).getByText(/sample 1 of 1,200/)).toBeVisible();
  await expectAccessible(page);
  const colours = (scheme: 'light' | 'dark') =>
    page.emulateMedia({ forcedColors: 'active', colorScheme: scheme }).then(() =>
      page.evaluate(() => {
        const of = (selector: string, property: 'fill' | 'stroke' | 'backgroundColor' | 'color') =>
          getComputedStyle(document.querySelector(selector)!)[property];
        return {
          behind: getComputedStyle(document.body).backgroundColor,
          edge: of('[role=separator]', 'backgroundColor'),
          band: of('svg[aria-label=Bands] .band', 'fill'),
          boundary: of('svg[aria-label=Bands] .stop path', 'stroke'),
          bars: of('svg[aria-label=Bands] rect', 'fill'),
          dot: of('[aria-label=Rule] .rounded-full', 'backgroundColor'),
        };
      }),
    );
  for (const scheme of ['light', 'dark'] as const) {
    const { behind, ...drawn } = await colours(scheme);
    expect(
      Object.entries(drawn).filter(([, colour]) => colour === behind),
      scheme,
    ).toEqual([]);
  }
});

test('boundaries, conditions and sentences take and show numbers as the organisation writes them', async ({ as }) => {
  const page = await as('author');
  await page.goto('/fields/customer?field=credit_limit');
  const locale = page.getByLabel('Locale of the organisation, BCP 47', { exact: true });
  await locale.fill('de-DE');
  await locale.press('Enter');
  await saved(page);
  await page.goto(rule);
  const sheet = page.getByRole('article', { name: 'Rule' });
  const bench = page.getByRole('region', { name: 'Bench' });
  const boundary = sheet.getByLabel('Upper boundary of Medium', { exact: true });
  await boundary.fill('1.500');
  await boundary.press('Enter');
  await expect(boundary).toHaveValue('1.500');
  await expect(sheet.locator('[data-said]')).toContainText('Large from 1.500');
  const written = bench.locator('[data-written=size_class] .written');
  for (const [count, name] of [
    ['1.499', 'Medium'],
    ['1500', 'Large'],
  ] as const) {
    await bench.getByLabel('Employee count', { exact: true }).fill(count);
    await expect(written).toHaveText(name);
  }
  await sheet.getByLabel('Add a row', { exact: true }).selectOption({ label: 'Planted hectares' });
  await sheet.getByLabel('Comparison', { exact: true }).selectOption({ label: 'is above' });
  const value = sheet.getByLabel('Value', { exact: true });
  await expect(value).toHaveValue('0');
  await value.fill('2,5');
  await expect(value).toHaveValue('2,5');
  await sheet.getByRole('button', { name: 'as a formula' }).click();
  await expect(sheet.getByRole('textbox', { name: 'Only if' })).toHaveText('Planted hectares > 2.5');
  await saved(page);
});
