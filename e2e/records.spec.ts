import type { Locator, Page } from '@playwright/test';
import { expect, expectAccessible, test, putDraftRight, type Installation } from './support/installation.ts';

const row = (page: Page, field: string) => page.locator(`[data-field=${field}]`);

test('a list that is wider than its window goes sideways under its head, and the names stay', async ({ as }) => {
  const page = await as('keeper');
  await page.setViewportSize({ width: 900, height: 600 });
  await page.goto('/records/deal');
  const [head, first] = [page.getByRole('row').first(), page.getByRole('row').nth(1)];
  const last = page.getByRole('columnheader').last();
  await page
    .getByRole('rowgroup')
    .nth(1)
    .evaluate((rows) => rows.scrollBy({ left: 1000 }));
  await expect(last.getByRole('link')).toBeInViewport({ ratio: 1 });
  const lefts = (row: Locator) => row.evaluate((r) => [...r.children].map((cell) => cell.getBoundingClientRect().left));
  await expect.poll(() => lefts(head)).toEqual(await lefts(first));
  await expect(first.getByRole('link')).toBeInViewport({ ratio: 0.5 });
  // By keys the head goes first.
  await page.getByRole('columnheader').first().getByRole('link').focus();
  await expect.poll(() => lefts(first)).toEqual(await lefts(head));
});

test('the list holds all customers, sorted and filtered, with count and class side by side', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer');
  await expect(page.getByRole('status')).toHaveText('1,200 customers');
  await page.getByRole('link', { name: 'Employee count' }).click();
  await expect(page.getByRole('columnheader', { name: 'Employee count' })).toHaveAttribute('aria-sort', 'ascending');
  await expect(page.getByRole('row').nth(1)).toContainText('0');
  // The arrow that says which way; a long name leaves it its place.
  await expect(page.getByRole('columnheader', { name: 'Employee count' }).locator('svg')).toBeInViewport({ ratio: 1 });
  await page.getByRole('link', { name: 'Employee count' }).click();
  await expect(page.getByRole('row').nth(1)).toContainText('Large');
  await page.getByText('Filter', { exact: true }).click();
  await page.getByRole('button', { name: 'Size class', exact: true }).click();
  await page.getByLabel('Micro', { exact: true }).check();
  await expect(page.getByRole('status')).toHaveText(/^\d+ customers found$/);
  await page.getByRole('button', { name: 'another field' }).click();
  await page.getByRole('button', { name: 'Employee count', exact: true }).click();
  await page.getByLabel('from', { exact: true }).fill('1,000');
  await page.getByLabel('from', { exact: true }).press('Enter');
  await expect(page.getByText('Nothing matches.')).toBeVisible();
  await page.getByLabel('up to', { exact: true }).fill('9');
  await page.getByLabel('up to', { exact: true }).press('Tab');
  await expect(page.getByRole('list', { name: 'Filters' })).toContainText('Employee count from 1,000 up to 9');
  await page.getByRole('button', { name: 'Without the filter on Employee count' }).click();
  await expect(page.getByRole('status')).toHaveText(/^\d+ customers found$/);
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'CSV' }).click()]);
  expect(file.suggestedFilename()).toBe('customers.csv');
  await page.getByPlaceholder('Search by name').fill('no such grower');
  await expect(page.getByText('Nothing matches.')).toBeVisible();
  await page.getByRole('link', { name: 'Show all customers' }).click();
  await expect(page.getByRole('status')).toHaveText('1,200 customers');
  const rows = page.getByRole('rowgroup').nth(1);
  await rows.evaluate((e) => e.scrollTo(0, e.scrollHeight));
  await expect(page.locator('[aria-rowindex="1201"]')).toContainText(/\w/);
  await expectAccessible(page);
});

test('a list is filtered by blank alone, and says what its address asks for and it is not filtered by', async ({
  as,
}) => {
  const page = await as('keeper');
  await page.goto('/records/customer');
  await page.getByText('Filter', { exact: true }).click();
  await page.getByRole('button', { name: 'Depot', exact: true }).click();
  await page.getByLabel('blank', { exact: true }).check();
  await expect(page.getByRole('list', { name: 'Filters' })).toContainText('Depot blank');
  await page.goto('/records/customer?only.region_code=north&q=farm');
  await expect(page.getByText('Not filtered by region_code')).toBeVisible();
  await expect(page.getByRole('link', { name: 'CSV' })).toHaveCount(0);
  expect((await page.request.get('/api/records/customer/csv?only.region_code=north')).status()).toBe(400);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'show them so' }).click();
  await expect(page).toHaveURL(/customer\?q=farm$/);
  await expect(page.getByRole('link', { name: 'CSV' })).toBeVisible();
});

test('the released rule acts while typing and again on the server; the class is locked and says why', async ({
  as,
}) => {
  const page = await as('keeper');
  await page.goto('/records/customer/5');
  await page.getByLabel('Employee count', { exact: true }).fill('199');
  await expect(row(page, 'size_class').locator('[data-value]')).toHaveText('Medium');
  await page.getByLabel('Employee count', { exact: true }).fill('200');
  await expect(row(page, 'size_class').locator('[data-value]')).toHaveText('Large');
  await expect(row(page, 'size_class')).toContainText('locked');
  await expect(row(page, 'size_class').getByRole('textbox')).toHaveCount(0);
  await row(page, 'size_class')
    .getByRole('button', { name: /^Why is/ })
    .click();
  await expect(page.getByText('From 200 it is Large.')).toBeVisible();
  await expect(page.getByText('Size class is locked. To change it, change Employee count.')).toBeVisible();
  await expectAccessible(page);
  // Large holdings need a credit limit.
  await page.getByLabel('Credit limit', { exact: true }).fill('9000');
  await page.keyboard.press('Control+s');
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible();
  const history = page.getByRole('region', { name: 'History' });
  await expect(history).toContainText('Mira Tolland, full form');
  await expect(history).toContainText('Size class, set from employee count, release 1');
  await expect(history.getByRole('link', { name: 'release 1' }).first()).toHaveAttribute('href', '/release/1');
  await page.reload();
  await expect(page.getByLabel('Employee count', { exact: true })).toHaveValue('200');
  await expect(row(page, 'size_class').locator('[data-value]')).toHaveText('Large');
});

test('what cannot be stored is said at its field, and nothing is saved', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/6');
  const before = await page.getByLabel('Employee count', { exact: true }).inputValue();
  await page.getByLabel('Employee count', { exact: true }).fill('a dozen');
  await expect(row(page, 'employee_count')).toContainText('a dozen is not a number.');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved.', { exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await expect(page.getByLabel('Employee count', { exact: true })).toHaveValue(before);
});

test('a new customer gets its class; a missing name stops it at its field', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/new?form=short');
  await page.getByLabel('Employee count', { exact: true }).fill('60');
  await expect(row(page, 'size_class').locator('[data-value]')).toHaveText('Medium');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(row(page, 'name')).toContainText('Name has to be filled in.');
  await page.getByLabel('Name', { exact: true }).fill('Otterfold Orchards');
  await page.getByLabel('Name', { exact: true }).blur();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page).toHaveURL(/\/records\/customer\/1201$/);
  await expect(page.getByRole('region', { name: 'History' })).toContainText('Created with');
});

test('a new customer whose save got no answer is there once when it is saved again', async ({
  as,
  expectError,
  installation,
}) => {
  expectError('ERR_FAILED');
  const page = await as('keeper');
  await page.goto('/records/customer/new');
  await page.getByLabel('Name', { exact: true }).fill('Dunlin Packing');
  await page.getByLabel('Credit limit', { exact: true }).fill('100');
  const save = '**/api/records/customer/save';
  await page.route(save, async (route) => {
    await route.fetch();
    await route.abort();
  });
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('The network is away. What you typed is still here.')).toBeVisible();
  await page.unroute(save);
  await page.getByLabel('Employee count', { exact: true }).fill('12');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page).toHaveURL(/\/records\/customer\/\d+$/);
  expect(
    await installation.query(
      `select data ->> 'employee_count' as count, version from records where data ->> 'name' = 'Dunlin Packing'`,
    ),
  ).toEqual([{ count: '12', version: 2 }]);
});

test('what is typed while a new record is being saved goes on, on the page of the record', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/new');
  await page.getByLabel('Name', { exact: true }).fill('Whimbrel Nursery');
  await page.getByLabel('Credit limit', { exact: true }).fill('100');
  let answer = (): void => undefined;
  const held = new Promise<void>((done) => (answer = done));
  await page.route('**/api/records/customer/save', async (route) => {
    await held;
    await route.continue();
  });
  await page.getByRole('button', { name: 'Save' }).click();
  await page.getByLabel('Employee count', { exact: true }).fill('260');
  await page.getByLabel('Employee count', { exact: true }).blur();
  answer();
  await expect(page).toHaveURL(/\/records\/customer\/\d+$/);
  await expect(page.getByLabel('Employee count', { exact: true })).toHaveValue('260');
  await expect(page.getByText('1 value typed')).toBeVisible();
  await expect(row(page, 'size_class').locator('[data-value]')).toHaveText('Large');
});

test('two people on one record: the second sees what the first saved and loses nothing', async ({
  as,
  expectError,
}) => {
  expectError('409');
  const [first, second] = [await as('keeper'), await as('releaser')];
  await first.goto('/records/customer/7');
  await second.goto('/records/customer/7');
  await first.getByLabel('Postcode', { exact: true }).fill('1111');
  await first.getByRole('button', { name: 'Save' }).click();
  await expect(first.getByText('Saved.', { exact: true })).toBeVisible();
  await second.getByLabel('Employee count', { exact: true }).fill('12');
  await second.getByRole('button', { name: 'Save' }).click();
  await expect(second.getByRole('alert')).toContainText('1111');
  await second.getByRole('button', { name: 'Continue with their version' }).click();
  await second.getByRole('button', { name: 'Save' }).click();
  await expect(second.getByText('Saved.', { exact: true })).toBeVisible();
  await expect(second.getByLabel('Postcode', { exact: true })).toHaveValue('1111');
});

/** A table with more rows than go along with a form, and a rule that asks it with the name. */
async function addLongTable({ query }: Installation): Promise<void> {
  await query(`insert into draft_parts (kind, key, position, body)
    select 'table', 'parcels', 98, jsonb_build_object('key', 'parcels', 'name', 'Parcels', 'purpose', '', 'hitPolicy', 'unique',
      'keys', jsonb_build_array(jsonb_build_object('key', 'code', 'name', 'Code')),
      'outputs', jsonb_build_array(jsonb_build_object('key', 'area', 'name', 'Area')),
      'rows', (select jsonb_agg(jsonb_build_object('code', lpad(n::text, 6, '0'), 'area', 'Area ' || n)) from generate_series(1, 2000) n))`);
  const leave = { do: 'leave' };
  const outcome = {
    source: { by: 'table', table: 'parcels', keys: { code: 'Name' } },
    onto: '',
    outputs: [{ target: 'ledger_code', value: 'area' }],
    ...{ blank: leave, none: leave, several: leave },
  };
  const own = { key: 'parcel', name: 'Ledger code by parcel', position: 999, kind: 'map', winner: 'later', outcome };
  await query(
    `insert into draft_parts (kind, key, position, body)
     select 'rule', 'parcel', 999, body || $1 from draft_parts where kind = 'rule' and key = 'name-word-count'`,
    [JSON.stringify({ ...own, notify: [] })],
  );
}

test('a release that went live meanwhile and says otherwise is confirmed; its long tables are asked as one types', async ({
  as,
  installation,
  expectError,
}) => {
  expectError('409');
  const keeper = await as('keeper');
  await keeper.goto('/records/customer/8');
  await keeper.getByLabel('Employee count', { exact: true }).fill('220');
  await expect(row(keeper, 'size_class').locator('[data-value]')).toHaveText('Large');
  const author = await as('author');
  await putDraftRight(author);
  await author.goto('about:blank');
  await addLongTable(installation);
  const releaser = await as('releaser');
  await releaser.goto('/release');
  await releaser.getByLabel('Note, kept with the release', { exact: true }).fill('The European limit.');
  await releaser.getByRole('button', { name: 'Release 2 to everybody' }).click();
  await expect(releaser.getByText('Release 2 is live. Every write is settled under it')).toBeVisible();
  await keeper.getByRole('button', { name: 'Save' }).click();
  await expect(keeper.getByRole('alert')).toContainText('Release 2 went live since you opened this form.');
  await expect(keeper.getByRole('alert')).toContainText('Medium');
  await keeper.getByRole('button', { name: 'Save it so' }).click();
  await expect(keeper.getByText('Saved.', { exact: true })).toBeVisible();
  await keeper.reload();
  await expect(row(keeper, 'size_class').locator('[data-value]')).toHaveText('Medium');
  await keeper.goto('/records/customer/7');
  const name = keeper.getByLabel('Name', { exact: true });
  for (const parcel of ['000001', '000012', '001203']) {
    await name.fill(parcel);
    await name.press('Tab');
  }
  await expect(keeper.getByLabel('Ledger code', { exact: true })).toHaveValue('Area 1203');
});

test('a field shows what is stored, and says what was typed where a rule overruled it', async ({
  as,
  installation,
}) => {
  const page = await as('keeper');
  const [deal] = (await installation.query(
    `select id from records where type = 'deal' and data->>'carriage_terms' is null and data->>'delivery_method' is null
        and data->>'title' is null order by id`,
  )) as { id: string }[];
  await page.goto(`/records/deal/${deal!.id}`);
  // One without a name is none that is being made.
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`Deal ${deal!.id}`);
  const [method, terms] = [
    page.getByLabel('Delivery method', { exact: true }),
    page.getByLabel('Carriage terms', { exact: true }),
  ];
  await method.selectOption('Carrier');
  await terms.selectOption('Paid by customer');
  await expect(terms.locator('option:checked')).toHaveText('Paid by customer');
  await method.selectOption('Collected at depot');
  await expect(terms.locator('option:checked')).toHaveText('Nothing due');
  await expect(row(page, 'carriage_terms').getByText('You typed Paid by customer.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible();
  await expect(terms.locator('option:checked')).toHaveText('Nothing due');
  const [stored] = (await installation.query(
    `select data->>'carriage_terms' as terms from records where type = 'deal' and id = ${deal!.id}`,
  )) as { terms: string }[];
  expect(stored!.terms).toBe('nothing-due');
});

test('a blank form opens with what rules give, to be cleared by who wants to', async ({ as, installation }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/new');
  const terms = page.getByLabel('Credit terms', { exact: true });
  await expect(terms.locator('option:checked')).toHaveText('30 days');
  await page.getByLabel('Name', { exact: true }).fill('Cleared Orchards');
  await terms.selectOption('blank');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page).toHaveURL(/\/records\/customer\/\d+$/);
  const [stored] = (await installation.query(
    `select data->>'credit_terms' as terms from records where type = 'customer' and data->>'name' = 'Cleared Orchards'`,
  )) as { terms: string | null }[];
  expect(stored!.terms).toBeNull();
});

test('a name that no record has is said when it is left; the only one of a name is taken', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/contact/2');
  const customer = page.getByLabel('Customer', { exact: true });
  await customer.fill('Nobody at all');
  await page.getByLabel('Last name', { exact: true }).focus();
  await expect(page.getByText('No customer of this name.')).toBeVisible();
  await page.getByLabel('Last name', { exact: true }).fill('Moorland');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await expect(customer).not.toHaveValue('Nobody at all');
  await expect(page.getByText('No customer of this name.')).toBeHidden();
});

test('a viewer reads a record and changes nothing', async ({ as }) => {
  const page = await as('viewer');
  await page.goto('/records/customer/9');
  await expect(page.getByRole('textbox')).toHaveCount(0);
  await expect(page.getByText('were set by a rule.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save' })).toHaveCount(0);
});

test('the list of a link is loaded when its input is turned to, and what is typed until then goes on in it', async ({
  as,
}) => {
  const page = await as('keeper');
  await page.goto('/records/customer/new');
  const contact = page.getByLabel('Main contact', { exact: true });
  let come: () => void = () => undefined;
  const held = new Promise<void>((done) => (come = done));
  await page.route('**/_app/immutable/**/*.js', async (route) => {
    await held;
    await route.continue();
  });
  const asked = page.waitForRequest('**/_app/immutable/**/*.js');
  await contact.focus();
  await asked;
  await page.keyboard.press('ControlOrMeta+A');
  await page.keyboard.type('Quenti');
  await page.keyboard.press('ArrowLeft');
  come();
  const list = page.getByRole('listbox');
  await expect(list.getByRole('option').first()).toContainText('Quenti');
  await expect(contact).toBeFocused();
  await page.keyboard.type('x');
  await expect(contact).toHaveValue('Quentxi');
});

test('a name that is being typed stays where a rule changes the value meanwhile, and says so', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/3');
  page.once('dialog', (dialog) => void dialog.accept());
  let answer: () => void = () => undefined;
  const held = new Promise<void>((done) => (answer = done));
  await page.route('**/api/related', async (route) => {
    await held;
    await route.continue();
  });
  const area = page.getByLabel('Service area', { exact: true });
  await area.fill('');
  await page.getByLabel('Postcode', { exact: true }).fill('8497');
  await area.pressSequentially('Yar');
  answer();
  await expect(row(page, 'service_area')).toContainText('It is Saltgate Inland by now; Escape takes that.');
  await expect(area).toHaveValue('Yar');
  await page.keyboard.press('Escape');
  await expect(area).toHaveValue('Saltgate Inland');
});

test('a name that is looked up while the form is left changes nothing any more', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/30');
  let answer: () => void = () => undefined;
  const held = new Promise<void>((done) => (answer = done));
  await page.route('**/api/lookup/**', async (route) => {
    await held;
    await route.continue();
  });
  page.once('dialog', (dialog) => void dialog.accept());
  await page.getByLabel('Main contact', { exact: true }).fill('Quentin Ark');
  await page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: 'Settings' }).click();
  await expect(page).toHaveURL(/\/settings/);
  const late = page.waitForResponse('**/api/lookup/**');
  answer();
  await (await late).finished();
});

test('what is typed is left only by who says so, who is asked once, with or without network', async ({
  as,
  expectError,
}) => {
  expectError('ERR_INTERNET_DISCONNECTED');
  const page = await as('keeper');
  await page.goto('/settings');
  await page.goto('/records/customer/31');
  const name = page.getByLabel('Name', { exact: true });
  const areas = page.getByRole('navigation', { name: 'Areas' });
  const settings = areas.getByRole('link', { name: 'Settings' });
  let [asked, answer] = [0, false];
  page.on('dialog', (dialog) => {
    asked++;
    void (answer ? dialog.accept() : dialog.dismiss());
  });
  await name.fill('Not saved yet');
  for (const offline of [true, false]) {
    await page.context().setOffline(offline);
    await settings.click();
    await expect(name).toHaveValue('Not saved yet');
    await expect(page).toHaveURL(/\/customer\/31/);
  }
  expect(asked).toBe(2);
  answer = true;
  await page.context().setOffline(true);
  await areas.getByRole('link', { name: 'Fields' }).click();
  await expect(page.getByText('The network is away: that page cannot be shown now, and this one stays.')).toBeVisible();
  await expect(name).toHaveValue('Not saved yet');
  expect(asked).toBe(3);
  await page.context().setOffline(false);
  await settings.click();
  await expect(page).toHaveURL(/\/settings/);
  expect(asked).toBe(4);
});

test('what is read from right to left takes its own direction and leaves the order around it', async ({ as }) => {
  const page = await as('keeper');
  await page.goto('/records/customer/11');
  const name = page.getByLabel('Name', { exact: true });
  for (const value of ['בוסתן הצפון (12).', 'כרם המערב, 7.']) {
    await name.fill(value);
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('Saved.', { exact: true })).toBeVisible();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(value);
  }
  await expect(name).toHaveValue('כרם המערב, 7.');
  const change = page.getByRole('region', { name: 'History' }).getByRole('listitem').first();
  const leftOf = (text: string) =>
    change.getByText(text).evaluate((element) => {
      const range = document.createRange();
      range.selectNodeContents(element);
      return range.getBoundingClientRect().left;
    });
  expect(await leftOf('בוסתן')).toBeLessThan(await leftOf('כרם'));
  // The last stop of a sentence that is read from right to left is at its left.
  const stop = await name.evaluate((input: HTMLInputElement) => getComputedStyle(input).unicodeBidi);
  expect(stop).toBe('plaintext');
});
