import { expect, expectAccessible, putDraftRight, test } from './support/installation.ts';

test('the releaser reads what changes and for whom, releases with a note, and puts an earlier release back', async ({
  as,
  installation,
}) => {
  const page = await as('releaser');
  await page.goto('/release');
  const block = page.getByText(/Country table has .* and again in row \d+/);
  await expect(block).toBeVisible();
  await expect(page.getByRole('button', { name: 'Release 2 to everybody' })).toBeDisabled();
  await expect(page.getByRole('link', { name: 'Country table' })).toHaveAttribute('href', '/mappings/country-table');
  await expectAccessible(page);
  await putDraftRight(await as('author'));
  await page.reload();
  await expect(block).toBeHidden();
  await expect(page.getByText('Boundary 200 → 250, where Large begins.')).toBeVisible();
  // Saved with nothing changed, a record stays as it is; a backfill applies the new boundary.
  await expect(page.getByText('No stored value comes out otherwise.')).toBeVisible();
  await page.getByRole('button', { name: 'by a backfill' }).click();
  await page.getByText('Size class', { exact: true }).click();
  await expect(page.getByRole('row', { name: /^Large Medium not agreed \d+$/ })).toBeVisible();
  await page.getByLabel('Note, kept with the release', { exact: true }).fill('The European limit.');
  await page.getByRole('button', { name: 'Release 2 to everybody' }).click();
  await expect(page.getByText('Release 2 is live. Every write is settled under it')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'The draft is what is live' })).toBeVisible();
  await expectAccessible(page);

  await page.getByText('Put an earlier release back').click();
  await page.getByRole('radio', { name: /^Release 1\b/ }).check();
  await page.getByLabel('Why', { exact: true }).fill('Sales was not told.');
  await page.getByRole('button', { name: 'Put release 1 back' }).click();
  await expect(page.getByText('Release 1 is live again.')).toBeVisible();
  await expect(page.getByText('Release 1, put back, live')).toBeVisible();

  const releases = (await installation.query(
    `select number, sha256, encode(sha256(convert_to(snapshot, 'UTF8')), 'hex') as digest from releases order by number`,
  )) as { number: number; sha256: string; digest: string }[];
  expect(releases.map((r) => r.number)).toEqual([1, 2]);
  for (const r of releases) expect(r.digest).toBe(r.sha256);
  await expect(installation.query('update releases set note = $1', ['other'])).rejects.toThrow(/append-only/);
});

test('a draft that changed since it was read is not released, and a broken rule is named', async ({
  as,
  installation,
}) => {
  const page = await as('releaser');
  await page.goto('/release');
  const author = await as('author');
  await author.goto('/desk/customer/size-class-from-employee-count');
  await author.getByRole('button', { name: 'as a formula' }).click();
  await author.getByLabel('Only if', { exact: true }).fill('Holding kind = "Barn"');
  await expect(author.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  await page.getByLabel('Note, kept with the release', { exact: true }).fill('Late.');
  await page.getByRole('button', { name: /Release \d to everybody/ }).click();
  await expect(page.getByRole('alert')).toContainText('The draft has changed since you read it');
  await page.reload();
  await expect(page.getByRole('button', { name: /Release \d to everybody/ })).toBeDisabled();
  await expect(page.getByText('Holding kind has no option Barn.')).toBeVisible();
  await installation.query(
    `update draft_parts set body = body - 'condition', version = version + 1 where kind = 'rule'`,
  );
});
