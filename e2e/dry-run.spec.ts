/** Dry runs and drift: what a draft does to samples and to live records, who they are, and what is agreed of it. */
import { expect, expectAccessible, test } from './support/installation.ts';

test('a dry run shows what moves and who; a change is agreed, and a releaser reads by whom', async ({ as }) => {
  const page = await as('author');
  await page.goto('/dry-run/customer?field=size_class');
  await expect(page.getByText(/records in \d/)).toBeVisible();
  await page.getByRole('button', { name: /^Size class: .* from Large to Medium/ }).press('Enter');
  await expect(page.getByText(/customers, Large → Medium/)).toBeVisible();
  await expect(page.getByText(/have Employee count 2\d\d to 2\d\d/)).toBeVisible();
  await page.getByLabel(/^agree to all/).check();
  await expect(page.getByText(/^Agreed by Tomas Abery, up to/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'look for differences' }).click();
  await expect(page.getByText(/made up to show differences/)).toBeVisible();
  // What was worked out is found again as it was.
  await page.getByRole('link', { name: 'Findings', exact: true }).click();
  await expect(page).toHaveURL(/findings/);
  await page.goBack();
  await expect(page.getByText(/records in \d/)).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'as CSV' }).click();
  expect((await download).suggestedFilename()).toBe('customer-size_class-Large-Medium.csv');

  const releaser = await as('releaser');
  await releaser.goto('/release');
  await expect(releaser.getByText('at the next save: each saved')).toBeVisible();
  await releaser.getByRole('button', { name: 'by a backfill' }).click();
  await expect(releaser.getByText('agreed by Tomas Abery').first()).toBeAttached();
  await expect(releaser.getByText('Made-up records that differ')).toBeVisible();
});

test('sample sets: from a file, made up, from live records masked; a viewer makes none', async ({
  as,
  expectError,
  installation,
}) => {
  const page = await as('author');
  await page.goto('/dry-run');
  await page.getByRole('button', { name: 'sample sets …' }).click();
  const sets = page.getByRole('region', { name: 'Sample sets' });
  const idOf = async (name: string) =>
    ((await (await page.request.get('/api/sample-sets')).json()) as { sets: { id: number; name: string }[] }).sets.find(
      (s) => s.name === name,
    )!.id;
  await sets.locator('#set-file').setInputFiles({
    name: 'holdings.csv',
    mimeType: 'text/csv',
    // As spreadsheet programs save it: not UTF-8.
    buffer: Buffer.from('Name,Heads,Size class,Reviewed on\nFén,12,Small,3/5/2026\nMoss,many,Large,\n', 'latin1'),
  });
  await sets.getByLabel('Field of Heads', { exact: true }).selectOption({ label: 'Employee count' });
  await expect(sets.getByText(/1 does not fit; row 2: many/)).toBeVisible();
  await expect(sets.getByText(/was read as Western European \(Windows-1252\): look at the accents/)).toBeVisible();
  // Days as people here write them; the first rows show what was read.
  await expect(sets.getByLabel('Numbers and dates in the file are written', { exact: true })).toHaveValue('own');
  await expect(sets.getByRole('cell', { name: '3 May 2026', exact: true })).toBeVisible();
  // The set is made and the network goes away: it is filled once it is back, and none is made beside it.
  expectError('ERR_FAILED');
  await page.route('**/api/sample-sets/*/fill', (route) => route.abort());
  await sets.getByRole('button', { name: 'Take them in' }).click();
  await expect(sets.getByText('The network is away.')).toBeVisible();
  await page.unroute('**/api/sample-sets/*/fill');
  await sets.getByRole('button', { name: 'Take them in' }).click();
  await expect(
    sets.getByText('2 records are in the set; 1 value that is none of its field was left blank.'),
  ).toBeVisible();
  // A link is found by the title of what it means, among the records of the same set.
  await sets.getByLabel('Into', { exact: true }).selectOption({ label: 'holdings' });
  await sets.getByLabel('Record type', { exact: true }).selectOption({ label: 'Contacts' });
  await sets.locator('#set-file').setInputFiles({
    name: 'people.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Last name,Customer\nLund,Moss\nHolt,Nobody\n'),
  });
  await sets.getByRole('button', { name: 'Take them in' }).click();
  await expect(sets.getByText(/2 records are in the set/)).toBeVisible();
  const held = async (type: string) =>
    (
      (await (await page.request.get(`/api/samples/${type}?set=${await idOf('holdings')}`)).json()) as {
        samples: { id: number; data: Record<string, string> }[];
      }
    ).samples;
  const moss = (await held('customer')).find((s) => s.data['name'] === 'Moss')!;
  expect((await held('customer')).map((s) => s.data['name'])).toContain('Fén');
  expect((await held('customer'))[0]!.data['reviewed_on']).toBe('2026-05-03');
  expect((await held('contact'))[0]!.data).toMatchObject({ last_name: 'Lund', customer: String(moss.id) });
  await sets.getByRole('button', { name: 'made up from fields and rules' }).click();
  await sets.getByLabel('Into', { exact: true }).selectOption({ label: 'a new set' });
  await sets.getByLabel('Name', { exact: true }).fill('Made up');
  await sets.getByLabel('How many', { exact: true }).fill('200');
  await sets.getByRole('button', { name: 'Make them up' }).click();
  await expect(sets.getByText('200 records were made up from seed 1.')).toBeVisible();
  await sets.getByRole('button', { name: 'from live records' }).click();
  await sets.getByLabel('Name', { exact: true }).fill('Masked');
  await sets.getByLabel('At most', { exact: true }).fill('50');
  await sets.getByRole('button', { name: 'Copy them' }).click();
  await expect(sets.getByText('Live records were copied, masked; the audit log says so.')).toBeVisible();
  await expectAccessible(page);
  const id = await idOf('Masked');
  const live = (await (await page.request.get('/api/records/customer/rows?offset=0&limit=1')).json()) as {
    rows: { data: { name: string } }[];
  };
  const masked = (await (await page.request.get(`/api/samples/customer?set=${id}`)).json()) as {
    samples: { data: { name: string } }[];
  };
  expect(masked.samples).toHaveLength(50);
  expect(masked.samples.map((s) => s.data.name)).not.toContain(live.rows[0]!.data.name);
  await sets.getByRole('button', { name: 'Take the set Made up away' }).click();
  await expect(sets.getByText('Made up is gone.')).toBeVisible();
  // The set that is chosen here is the one on the bench.
  await page.getByLabel('Samples', { exact: true }).selectOption({ label: 'Masked' });
  await page.getByRole('link', { name: 'Rules', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Bench' }).getByText(/sample 1 of 50/)).toBeVisible();

  const viewer = await as('viewer');
  await viewer.goto('/dry-run');
  await expect(viewer.getByText(/records in \d/)).toBeVisible();
  await expect(viewer.getByRole('button', { name: 'sample sets …' })).toHaveCount(0);
  const refused = await viewer.request.post('/api/sample-sets', {
    headers: await installation.headersOf('viewer'),
    data: { name: 'X', source: 'imported' },
  });
  expect(refused.status()).toBe(403);
});

/** What is looked at record by record is looked at for as long as there are records. */
const onlyCustomers = `delete from records where type <> 'customer'`;

test('drift: live records against the live rules, found by a job, by field, with a list and a file', async ({
  as,
  installation,
}) => {
  await installation.query(onlyCustomers);
  const page = await as('releaser');
  const viewer = await as('viewer');
  await viewer.goto('/drift');
  await expect(viewer.getByText('Authors and releasers have all records looked at.')).toBeVisible();
  await page.goto('/drift');
  await page.getByRole('button', { name: 'Look for drift' }).click();
  await expect(page.getByText(/records looked at, by release 1,\s+asked for by Ines Okafor/)).toBeVisible({
    timeout: 90_000,
  });
  const fields = page.getByRole('list', { name: 'Fields' });
  await fields.getByRole('link', { name: /^Size class customers/ }).click();
  await expect(page.getByRole('heading', { name: /^Size class: \d+ stored otherwise/ })).toBeVisible();
  await expect(page.getByRole('row').nth(1)).toContainText('Size class, set from employee count');
  await expectAccessible(page);
  const csv = await page.request.get('/api/drift/csv?type=customer&field=size_class');
  expect((await csv.text()).split('\r\n').length).toBeGreaterThan(3);
  await viewer.reload();
  await expect(viewer.getByRole('heading', { name: /stored otherwise/ })).toBeVisible();
  await expect(viewer.getByRole('button', { name: 'Look again' })).toHaveCount(0);
});

test('a dry run on live records is begun by hand, followed, stopped, found again, and stores nothing', async ({
  as,
  installation,
}) => {
  await installation.query(onlyCustomers);
  const page = await as('author');
  const stored = () =>
    installation.query(
      'select type, md5(string_agg(data::text, id::text order by id)) from records group by type order by type',
    );
  const before = await stored();
  await page.goto('/dry-run/customer?field=size_class');
  await page.getByLabel('Samples', { exact: true }).selectOption({ label: 'live records, read only' });
  await page.getByRole('button', { name: 'Look at live records' }).click();
  await page.getByRole('button', { name: 'stop', exact: true }).click();
  await expect(page.getByText(/^Stopped at \d+ %/)).toBeVisible();
  await page.getByRole('button', { name: 'run it again' }).click();
  await page.getByRole('link', { name: 'Findings', exact: true }).click();
  await expect(page).toHaveURL(/findings/);
  await page.goBack();
  await expect(page.getByText(/live records, asked for by Tomas Abery/)).toBeVisible({ timeout: 90_000 });
  await page.getByRole('button', { name: /^Size class: .* from Large to Medium/ }).press('Enter');
  await expect(page.getByText(/customers, Large → Medium/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('table').getByRole('link').first().click();
  await expect(page).toHaveURL(/\/records\/customer\/\d+/);
  expect(await stored()).toEqual(before);
  const viewer = await as('viewer');
  await viewer.goto('/dry-run');
  await expect(viewer.getByRole('option', { name: 'live records, read only' })).toHaveCount(0);
  expect((await viewer.request.get('/api/live-dry-run')).status()).toBe(403);
});
