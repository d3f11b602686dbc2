/** npm run screenshots: one picture of each main view, from the demo data. */
import { expect, test } from './support/installation.ts';

const folder = 'docs/screenshots';

test('pictures of the main views', async ({ page, as }) => {
  await page.goto('/sign-in');
  await page.screenshot({ path: `${folder}/sign-in.png` });

  const author = await as('author');
  await author.goto('/desk/customer/size-class-from-employee-count?sample=4');
  await author.getByRole('region', { name: 'Bench' }).getByLabel('Employee count', { exact: true }).fill('251');
  await author.getByRole('button', { name: /^Why is Size class/ }).click();
  await expect(author.getByText('From 250 it is Large.')).toBeVisible();
  await author.screenshot({ path: `${folder}/desk.png`, animations: 'disabled' });
  await author.emulateMedia({ colorScheme: 'dark' });
  await author.screenshot({ path: `${folder}/desk-dark.png`, animations: 'disabled' });

  const releaser = await as('releaser');
  await releaser.goto('/release');
  await expect(releaser.getByText('end with another value')).toBeVisible();
  await releaser.screenshot({ path: `${folder}/release.png` });

  const keeper = await as('keeper');
  await keeper.goto('/records/customer?sort=employee_count&desc=1');
  await expect(keeper.getByRole('row').nth(1)).toContainText('Large');
  await keeper.screenshot({ path: `${folder}/records.png` });
  await keeper.goto('/records/customer/5');
  await keeper.getByLabel('Employee count').fill('251');
  await keeper.locator('[data-field=size_class]').getByRole('button', { name: /^Why/ }).click();
  await keeper.screenshot({ path: `${folder}/record.png` });
});
