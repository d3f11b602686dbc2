/** npm run screenshots: one picture of each main view, from the demo data. */
import type { Page } from '@playwright/test';
import { paste } from './support/clipboard.ts';
import { expect, test } from './support/installation.ts';

async function take(page: Page, name: string): Promise<void> {
  // What is worked out beside the page is shown as well.
  await expect(page.getByText('are being worked out')).toHaveCount(0);
  await page.screenshot({ path: `docs/screenshots/${name}.png`, animations: 'disabled' });
}

test('pictures of the main views', async ({ page, as }) => {
  await page.goto('/sign-in');
  await take(page, 'sign-in');

  const author = await as('author');
  const bench = author.getByRole('region', { name: 'Bench' });
  await author.goto('/desk/customer/size-class-from-employee-count?sample=4');
  await bench.getByLabel('Employee count', { exact: true }).fill('251');
  await bench.getByRole('button', { name: /^Why is Size class/ }).click();
  await expect(author.getByText('From 250 it is Large.')).toBeVisible();
  await take(author, 'desk');
  await author.emulateMedia({ colorScheme: 'dark' });
  await take(author, 'desk-dark');
  await author.emulateMedia({ colorScheme: 'light' });

  await author.goto('/desk/contact/name-split');
  await bench.getByLabel('New or existing', { exact: true }).selectOption({ label: 'new, blank' });
  await bench.getByLabel('Last name', { exact: true }).fill('Ada  van Morrow ');
  await bench.getByLabel('Last name', { exact: true }).blur();
  await expect(author.locator('[data-written=first_name]')).toContainText('Ada');
  await take(author, 'derive');

  await author.goto('/fields/deal?field=stage');
  await expect(author.getByLabel('Option 1', { exact: true })).toHaveValue('Enquiry');
  await take(author, 'fields');

  await author.goto('/mappings/country-table');
  const grid = author.getByRole('grid');
  await expect(author.getByText(/without a row/).first()).toBeVisible();
  await paste(
    grid,
    'Country\tIts region\tIts currency\tUsual terms\nIreland\tNorth Europe\tEUR\t30 days\nMorocco\tAfrica\tMAD\t14 days\nBrasil\tSouth America\tBRL\t30 days\nItaly\tSouth Europe\tEUR\t30 days\nUruguay\tSouthern America\tUYU\t14 days',
  );
  await expect(author.getByRole('region', { name: 'What would change' })).toBeVisible();
  await take(author, 'mappings');

  await author.goto('/findings');
  await expect(author.getByText('has Georgia in row 17')).toBeVisible();
  await take(author, 'findings');
  await author.goto('/map/deal?field=expected_value');
  await expect(author.getByText('Upstream: what decides it')).toBeVisible();
  await take(author, 'map');
  await author.goto('/document#region-from-country');
  await expect(author.getByRole('article', { name: 'Rulebook' })).toBeVisible();
  await take(author, 'document');

  await author.goto('/tests/customer/size-class-from-employee-count');
  await expect(author.getByText('strength: planted faults that some test notices')).toBeVisible({ timeout: 90_000 });
  await take(author, 'tests');
  await author.goto('/tests/deal');
  await expect(author.getByText(/places? (is|are) not reached yet/)).toBeVisible();
  await expect(author.getByText('strength: planted faults that some test notices')).toBeVisible({ timeout: 120_000 });
  await take(author, 'coverage');
  await author.goto('/dry-run/customer?field=size_class');
  await expect(author.getByText(/have Employee count 2\d\d to 2\d\d/)).toBeVisible();
  await take(author, 'dry-run');

  const releaser = await as('releaser');
  await releaser.goto('/drift');
  await releaser.getByRole('button', { name: 'Look for drift' }).click();
  await expect(releaser.getByText(/records looked at/)).toBeVisible({ timeout: 90_000 });
  await take(releaser, 'drift');
  await releaser.goto('/release');
  await expect(releaser.getByText('at the next save: each saved')).toBeVisible();
  await releaser.getByRole('button', { name: 'by a backfill' }).click();
  await take(releaser, 'release');

  const keeper = await as('keeper');
  await keeper.goto('/records/customer?sort=employee_count&desc=1');
  await expect(keeper.getByRole('row').nth(1)).toContainText('Large');
  await take(keeper, 'records');
  await keeper.goto('/records/customer/5');
  await keeper.getByLabel('Employee count', { exact: true }).fill('251');
  await keeper.locator('[data-field=size_class]').getByRole('button', { name: /^Why/ }).click();
  await expect(keeper.getByRole('status').filter({ hasText: 'written by rules' })).toBeVisible();
  await take(keeper, 'record');
});
