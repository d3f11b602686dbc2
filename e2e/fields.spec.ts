import { paste } from './support/clipboard.ts';
import { expect, expectAccessible, test } from './support/installation.ts';
import { followLink } from './support/pages.ts';

test('a field is made with its options, kept company by another in one act, and undone', async ({ as }) => {
  const page = await as('author');
  await page.goto('/fields/lead');
  await page.getByLabel('New field', { exact: true }).fill('Growing style');
  await page.getByLabel('New field', { exact: true }).press('Enter');
  await expect(page).toHaveURL(/field=growing_style/);
  await page.getByLabel('Type', { exact: true }).selectOption({ label: 'picklist' });
  await page.getByLabel('New option', { exact: true }).fill('Organic');
  await page.getByLabel('New option', { exact: true }).press('Enter');
  await paste(page.getByLabel('New option', { exact: true }), 'Integrated\nConventional\nOrganic');
  await expect(page.getByLabel(/^Option \d$/)).toHaveCount(3);
  await page.getByLabel('ordered by its options', { exact: true }).check();
  await page.getByRole('button', { name: 'Move Conventional up' }).click();
  await expect(page.getByLabel('Option 2', { exact: true })).toHaveValue('Conventional');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'its furthest value' }).click();
  await expect(page).toHaveURL(/field=furthest_growing_style/);
  await page.getByRole('link', { name: 'Furthest growing style, ever reached' }).first().click();
  await expect(page.getByRole('article', { name: 'Rule' })).toContainText('Growing style');
  await page.goBack();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('link', { name: 'Furthest growing style' })).toHaveCount(0);
});

test('renaming a field shows what will be rewritten, and rewrites it in one act', async ({ as }) => {
  const page = await as('author');
  await page.goto('/fields/deal?field=frost_sensors');
  await test.step('who reads a field: also rules of other record types, in the list as beside it', async () => {
    await expect(page.getByRole('listitem').filter({ hasText: /^\s*Stage\s+picklist/ })).toContainText('9 rules');
    await followLink(page, '/desk/deal?field=stage');
    await expect(page.getByRole('article', { name: 'Field' })).toContainText(
      'Open deal value, total of the open deals',
    );
    await page.goBack();
  });
  const name = page.getByLabel('Name of the field', { exact: true });
  await name.fill('Frost sensors if any');
  await expect(page.getByText(/cannot be a name/)).toBeVisible();
  await name.fill('Probes');
  await expect(page.getByText(/texts will be rewritten/)).toBeVisible();
  await expect(page.getByText('ceiling(Probes / 24)')).toBeVisible();
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  await page.goto('/desk/deal/gateways-for-sensors');
  await expect(page.getByRole('textbox', { name: 'Formula of step 1' })).toHaveText('ceiling(Probes / 24)');
  await expect(page.getByRole('article', { name: 'Rule' }).getByLabel('Field', { exact: true }).first()).toHaveValue(
    'Probes',
  );
});

test('fields are moved by keys, and retired with a word on who names them', async ({ as }) => {
  const page = await as('author');
  await page.goto('/fields/visit');
  const rows = page.getByRole('region', { name: 'Fields of Visits' }).getByRole('listitem');
  const first = (await rows.first().getByRole('link').first().textContent())!.trim();
  await rows.first().getByRole('link').first().focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect(rows.nth(1)).toContainText(first);
  await page.goto('/fields/visit?field=visit_date');
  await page.getByRole('button', { name: 'Retire this field' }).click();
  await expect(page.getByText(/1 rule names it and will be left out/)).toBeVisible();
  await page.getByRole('button', { name: 'Retire Visit date' }).click();
  await expect(rows.filter({ hasText: 'Visit date' })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(rows.filter({ hasText: 'Visit date' })).toHaveCount(1);
});

test('a record type is made, with a first field and a short form', async ({ as }) => {
  const page = await as('author');
  await page.goto('/fields/customer');
  await page.getByLabel('New record type', { exact: true }).fill('Packhouse');
  await page.getByLabel('New record type', { exact: true }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Packhouses' })).toBeVisible();
  await page.getByRole('button', { name: 'add a short form' }).click();
  await expect(page.getByLabel('Name of form 2', { exact: true })).toHaveValue('short form');
  await expectAccessible(page);
  await page.goto('/desk/packhouse');
  await expect(page.getByText('No rule looks at packhouses yet.')).toBeVisible();
});

test('what was made just now is there when its page is loaded before it is saved', async ({ as, expectError }) => {
  expectError('api/draft/edits');
  expectError('Failed to load resource');
  const page = await as('author');
  await page.goto('/fields/customer');
  await page.route('**/api/draft/edits', (route) => route.abort());
  await page.getByLabel('New record type', { exact: true }).fill('Cold store');
  await page.getByLabel('New record type', { exact: true }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Cold stores' })).toBeVisible();
  await page.goto('/desk/cold_store');
  await expect(page.getByText('No rule looks at cold stores yet.')).toBeVisible();
  await page.unroute('**/api/draft/edits');
  await page.reload();
  await expect(page.getByText('No rule looks at cold stores yet.')).toBeVisible();
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
});

test('an address of what the draft has not says so, and shows nothing else in its place', async ({ as }) => {
  const page = await as('author');
  await page.goto('/desk/warehouse/size_class');
  await expect(page.getByText('There is no record type warehouse')).toBeVisible();
  for (const [address, said] of [
    ['/fields/warehouse', 'There is no record type warehouse'],
    ['/map/warehouse', 'There is no record type warehouse'],
    ['/dry-run/warehouse', 'There is no record type warehouse'],
    ['/desk/customer/no-such-rule', 'There is no rule no-such-rule'],
    ['/tests/customer/no-such-rule', 'There is no rule no-such-rule'],
    ['/fields/customer?field=gone', 'There is no field gone'],
    ['/tests/customer?test=gone', 'There is no test gone'],
    ['/mappings/prices', 'There is no mapping table prices'],
  ] as const) {
    await followLink(page, address);
    await expect(page.getByText(said), address).toBeVisible();
  }
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Open Mappings' }).click();
  await expect(page.getByRole('grid')).toBeVisible();
});

test('a viewer reads the fields and changes none', async ({ as }) => {
  const page = await as('viewer');
  await page.goto('/fields/customer?field=size_class');
  await expect(page.getByLabel('Name of the field', { exact: true })).toBeDisabled();
  await expect(page.getByLabel('New field', { exact: true })).toHaveCount(0);
  await expect(page.getByText('Size class, set from employee count').first()).toBeVisible();
});

test('what cannot be read is said where it was typed, stays there, and changes nothing', async ({ as }) => {
  const page = await as('author');
  let edits = 0;
  page.on('request', (r) => (edits += r.url().endsWith('/api/draft/edits') ? 1 : 0));
  await page.goto('/fields/customer?field=employee_count');
  for (const [label, typed, said] of [
    ['Least', 'abc', 'abc is not a number.'],
    ['Decimals', '2.5', '2.5 is not a whole number.'],
    ['Locale of the organisation, BCP 47', 'e', 'e is not a locale such as en-GB.'],
  ] as const) {
    const input = page.getByLabel(label, { exact: true });
    const before = await input.inputValue();
    await input.fill(typed);
    await input.blur();
    await expect(input).toHaveAccessibleDescription(said);
    await expect(input).toHaveValue(typed);
    await input.press('Escape');
    await expect(input).toHaveValue(before);
    await expect(page.getByText(said)).toHaveCount(0);
  }
  await page.getByLabel('Most', { exact: true }).fill('-2,000,000');
  await expect.poll(() => edits).toBe(1);
  await page.getByLabel('Most', { exact: true }).blur();
  await expect(page.getByLabel('Most', { exact: true })).toHaveValue('−2,000,000');
  await page.goto('/findings');
  await expect(page.getByText(/Employee count can hold no number/).first()).toBeVisible();
});
