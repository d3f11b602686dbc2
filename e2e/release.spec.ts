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
  await expect(page.getByRole('link', { name: 'Country table', exact: true })).toHaveAttribute(
    'href',
    '/mappings/country-table',
  );
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

  await test.step('what a release changed can be read for ever, and what putting one back would change', async () => {
    await page.getByRole('link', { name: 'Release 2, live' }).click();
    const changes = page.getByRole('region', { name: 'What the release changes' });
    await expect(changes.getByText('The European limit.')).toBeVisible();
    await expect(changes.getByRole('heading', { name: /changes to release 1$/ })).toBeVisible();
    await expect(changes.getByText('Boundary 200 → 250, where Large begins.')).toBeVisible();
    await expect(changes.getByRole('img', { name: 'Bands before and after' })).toContainText('Release 1');
    await page.getByRole('link', { name: 'Release 1', exact: true }).click();
    await expect(changes.getByRole('heading', { name: 'What it began with' })).toBeVisible();
    await changes.getByRole('link', { name: 'What putting it back would change' }).click();
    await expect(changes.getByText('Boundary 250 → 200, where Large begins.')).toBeVisible();
    await expectAccessible(page);
  });

  await page.getByText('Put this release back').click();
  await page.getByLabel('Why', { exact: true }).fill('Sales was not told.');
  await page.getByRole('button', { name: 'Put release 1 back' }).click();
  await expect(page.getByText('Release 1 is live again.')).toBeVisible();
  await expect(page.getByText('Release 1, put back, live')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Release 1, live' })).toBeVisible();

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
  const changes = page.getByRole('region', { name: 'What the draft changes' }).getByRole('listitem');
  await expect(changes.filter({ hasText: 'Size class, set from employee count.' })).toContainText(
    'Changed last by Tomas Abery',
  );
  await expect(changes.filter({ hasText: 'Region, South Europe for packhouses. New.' })).not.toContainText('last by');
  await installation.query(
    `update draft_parts set body = body - 'condition', version = version + 1 where kind = 'rule'`,
  );
});

test('of very many changes the beginning is told at once, the rest when it is asked for, as long as it is of the same draft', async ({
  as,
  installation,
  expectError,
}) => {
  const addFields = (from: number, to: number) =>
    installation.query(
      `insert into draft_parts (kind, key, position, body)
       select 'field', 'customer.extra-' || n, 1000 + n,
              jsonb_build_object('key', 'extra-' || n, 'name', 'Extra ' || n, 'type', 'text')
         from generate_series($1::int, $2::int) n`,
      [from, to],
    );
  const column = (key: string, name: string) => ({ key, name, type: 'text', match: 'equal' });
  const rows = Array.from({ length: 300 }, (_, i) => ({ plot: `Plot ${i + 1}`, soil: `Soil ${i + 1}` }));
  const table = {
    ...{ key: 'soils', name: 'Soils', purpose: '', hitPolicy: 'unique' },
    ...{ keys: [column('plot', 'Plot')], outputs: [column('soil', 'Soil')], rows },
  };
  await installation.query(`insert into draft_parts (kind, key, position, body) values ('table', 'soils', 1000, $1)`, [
    table,
  ]);
  await addFields(1, 190);
  const page = await as('releaser');
  await page.goto('/release');
  const lines = page.getByRole('region', { name: 'What the draft changes' }).getByRole('listitem');
  const count = Number(/: (\d+) changes$/.exec(await page.getByRole('heading', { level: 1 }).innerText())![1]);
  expect(count).toBeGreaterThan(200);
  await expect(lines).toHaveCount(200);
  const rest = page.getByRole('button', { name: /^show the other/ });
  await addFields(191, 200);
  expectError('/api/release/changes');
  expectError('409');
  await rest.click();
  await expect(page.getByRole('alert')).toContainText('The draft has changed since.');
  await expect(lines).toHaveCount(200);
  await page.reload();
  await expect(page.getByRole('heading', { name: `${count + 10} changes` })).toBeVisible();
  await rest.click();
  await expect(lines).toHaveCount(count + 10);
  await expect(rest).toBeHidden();
  await expect(lines.last()).toContainText(String(count + 10));

  // Nobody releases a row that they could not read.
  const soils = lines.filter({ hasText: /^\d+\s*Soils\. New\./ });
  await expect(soils).toContainText('Soil by Plot, hit policy unique; 300 rows.');
  await expect(soils).not.toContainText('Plot 300: Soil Soil 300.');
  const more = soils.getByRole('button', { name: /more lines of Soils$/ });
  await more.click();
  await expect(soils).toContainText('Plot 206: Soil Soil 206.');
  await more.click();
  await expect(soils).toContainText('Plot 300: Soil Soil 300.');
  await expect(more).toHaveCount(0);
});
