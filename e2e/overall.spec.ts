import { readFile } from 'node:fs/promises';
import { textsBeyond } from './support/beyond.ts';
import { expect, expectAccessible, test } from './support/installation.ts';

test('findings: the three faults of the demo are told, repaired, taken back, accepted with a reason', async ({
  as,
}) => {
  const page = await as('author');
  await page.goto('/findings');
  for (const fault of [
    'has Georgia in row 17 and again in row 18',
    'Between the bands from 5, below 40 and from 50 there is a gap.',
    'both write Region; both can hold at once',
  ])
    await expect(page.getByText(fault)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'take out row 18' }).click();
  await expect(page.getByText('has Georgia in row 17')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.getByText('has Georgia in row 17')).toBeVisible();
  await page.getByRole('button', { name: /^Accept: Between the bands/ }).click();
  await page.getByLabel('Why this is right as it is', { exact: true }).fill('Nobody plants between 40 and 50.');
  await page.getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(page.getByText('Between the bands')).toHaveCount(0);
  await page.getByRole('button', { name: '1 accepted' }).click();
  await expect(page.getByText('Accepted: Nobody plants between 40 and 50.')).toBeVisible();
  await page.getByRole('button', { name: 'open it again' }).click();
  await page.getByRole('button', { name: /open$/ }).click();
  await expect(page.getByText('Between the bands')).toBeVisible();
});

test('a draft that was looked through before opens with what was found then, until its reader signs out', async ({
  as,
}) => {
  const page = await as('author');
  const [gap, both] = ['Between the bands from 5', 'both write Region; both can hold at once'];
  const analyses = () => page.evaluate(async () => (await (await caches.open('rigid-rule-analyses')).keys()).length);
  await page.evaluate(() => caches.delete('rigid-rule-analyses'));
  await page.goto('/findings');
  for (const fault of [gap, both]) await expect(page.getByText(fault)).toBeVisible();
  await expect.poll(analyses).toBe(1);
  // What is kept is changed behind the page's back, to see that it is what the page shows.
  await page.evaluate(async () => {
    const kept = await caches.open('rigid-rule-analyses');
    const [key] = await kept.keys();
    const analysis = (await (await kept.match(key!))!.json()) as { findings: { sentence: string }[] };
    const findings = analysis.findings.filter((f) => !f.sentence.includes('both write Region'));
    await kept.put(key!, Response.json({ ...analysis, findings }));
  });
  await page.reload();
  await expect(page.getByText(gap)).toBeVisible();
  await expect(page.getByText(both)).toHaveCount(0);
  // Another draft is looked through anew.
  await page
    .getByRole('button', { name: /^take out row \d+$/i })
    .first()
    .click();
  await expect(page.getByText(both)).toBeVisible();
  // What the page still asks for while it is left would be refused, and told as an error.
  await page.waitForLoadState('networkidle');
  await page.getByLabel(/^You:/).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page).toHaveURL(/\/sign-in/);
  await expect.poll(() => page.evaluate(() => caches.keys())).toEqual([]);
});

test('map: what decides a field and what it decides, by pointer, by keys and as a list', async ({ as }) => {
  const page = await as('author');
  await page.goto('/map');
  await expect(page).toHaveURL(/\/map\/customer$/);
  await page.goto('/map/deal');
  await expectAccessible(page);
  const drawing = page.getByRole('group', { name: /^Drawing/ });
  const list = page.getByRole('complementary', { name: 'List' });
  await drawing.getByRole('link', { name: 'Expected value', exact: true }).hover();
  await expect(list).toContainText('Upstream: what decides it');
  await expect(list).toContainText('Amount, standard when surveyed');
  await expect(list).not.toContainText('Cover, from the watch flag');
  await drawing.getByRole('link', { name: 'Amount', exact: true }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator(':focus')).toHaveAttribute('aria-label', /^Rule \d+, .*reads .*Amount/);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/desk\/deal\//);
  await page.goBack();
  await expect(page).toHaveURL(/\/map\/deal/);
});

test('map: a circle is drawn in red and told', async ({ as }) => {
  const page = await as('author');
  await page.goto('/desk/deal/margin');
  await page.getByRole('textbox', { name: 'Formula of step 1' }).fill('Amount - Cost + Expected value');
  await page.goto('/desk/deal/expected-value');
  await page.getByRole('textbox', { name: 'Formula of step 1' }).fill('Amount * Margin');
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  await page.goto('/map/deal');
  await expect(page.getByText('a circle of 2 rules')).toBeVisible();
  await expect(page.getByRole('heading', { name: /^Rules \d+, \d+ run in a circle$/ })).toBeVisible();
});

test('document: every rule in sentences, and the same as Markdown', async ({ as }) => {
  const page = await as('viewer');
  await page.goto('/document#deal');
  const document = page.getByRole('article', { name: 'Rulebook' });
  await expect(document).toContainText(
    'Region and Currency come from Country table, looked up by Home country. Cleared when Home country is blank, has no row or several. Locked.',
  );
  await expectAccessible(page);
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Markdown' }).click(),
  ]);
  const markdown = await readFile(await file.path(), 'utf8');
  expect(file.suggestedFilename()).toMatch(/\.md$/);
  for (const heading of await document.getByRole('heading', { level: 3 }).allTextContents())
    expect(markdown.replaceAll('\\', '')).toContain(`### ${heading}`);
});

test('a word that is longer than its place is broken there, wherever it is told', async ({ as }) => {
  const word = 'Donaudampfschifffahrtselektrizitätenhauptbetriebswerkbauunterbeamtengesellschaft';
  const page = await as('author');
  await page.goto('/desk/customer/frost-zone-from-hectares');
  await page.getByLabel('Name of the rule', { exact: true }).fill(`Frost ${word}`);
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  for (const path of ['/desk/customer', '/findings', '/release', '/document']) {
    await page.goto(path);
    await expect(page.getByText(word).filter({ visible: true }).first(), path).toBeVisible();
    expect(await textsBeyond(page), path).toEqual([]);
  }
});

test('record types stand side by side while they are few; of many one is chosen', async ({ as, installation }) => {
  const page = await as('author');
  await page.goto('/map');
  const types = page.getByRole('navigation', { name: 'Record types' });
  await expect(types.getByRole('link', { name: 'Deal', exact: true })).toBeVisible();
  const edits = Array.from({ length: 12 }, (_, i) => {
    const body = {
      key: `kind-${i}`,
      name: `Kind of parcel ${i}`,
      plural: `Kinds of parcel ${i}`,
      title: [],
      forms: [],
    };
    const operations = [{ op: 'add', path: '', value: body }];
    return { kind: 'record type', key: body.key, version: 0, position: 1000 + i, operations };
  });
  const made = await page.evaluate(
    async ([own, body]) => {
      const headers = { ...own, 'content-type': 'application/json' };
      return (await fetch('/api/draft/edits', { method: 'POST', headers, body })).status;
    },
    [await installation.headersOf('author'), JSON.stringify({ page: 'another', edits })] as const,
  );
  expect(made).toBe(200);
  await types.getByLabel('Record type', { exact: true }).selectOption('Deal');
  await expect(page).toHaveURL(/\/map\/deal$/);
  await expect(page.getByRole('heading', { level: 1, name: 'What writes what, on Deal' })).toBeVisible();
});
