/**
 * Tests of rules: what is proposed and confirmed, what fails and why, what no test notices. On a draft of just the rules
 * that are tested: faults are planted in every rule of a draft, in the whole of the demo's 600.
 */
import { expect, expectAccessible, test } from './support/installation.ts';

const ofRule = '/tests/customer/size-class-from-employee-count';

test.beforeEach(({ installation }) =>
  installation.query(`delete from draft_parts where kind = 'claim' or (kind = 'rule' and key not in
    ('size-class-from-employee-count', 'frost-zone-from-hectares', 'region-from-country', 'deal-title', 'main-contact-starts-as-own'))`),
);

test('a boundary that is moved fails its tests, with the value; a value is accepted after being looked at', async ({
  as,
}) => {
  const page = await as('author');
  await page.goto('/desk/customer/size-class-from-employee-count');
  const boundary = page.getByLabel('Upper boundary of Medium', { exact: true });
  await boundary.fill('300');
  await boundary.press('Enter');
  await expect(page.getByText(/\d of 4 tests fail/)).toBeVisible();
  await page.getByRole('link', { name: /of 4 tests fail/ }).click();
  await expect(page.getByText('250 fails')).toBeVisible();
  await expect(page.getByText('Size class is Medium, not Large.').first()).toBeVisible();
  await page.getByRole('button', { name: 'from a list …' }).click();
  await page
    .getByLabel('Paste rows from a spreadsheet, with their headings', { exact: true })
    .fill('Employee count\tSize class\n299\tMedium\n300\tLarge\nmany\tSmall');
  await expect(page.getByText('Row 3: many is not a number.')).toBeVisible();
  await page
    .getByLabel('Paste rows from a spreadsheet, with their headings', { exact: true })
    .fill('Employee count\tSize class\n299\tMedium\n300\tLarge');
  await page.getByRole('button', { name: 'Make 2 cases of it' }).click();
  await expect(page.getByText('all 2 cases hold')).toBeVisible();
  await page.getByRole('button', { name: 'change it' }).click();
  await page.getByLabel('Size class of case 2', { exact: true }).fill('Small');
  await page.getByLabel('Size class of case 2', { exact: true }).press('Tab');
  await expect(page.getByText('1 of 2 cases fail')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('all 2 cases hold')).toBeVisible();
  await expectAccessible(page);
});

test('tests are proposed with what they add; one is confirmed, one refused; the bench shows one', async ({ as }) => {
  const page = await as('author');
  await page.goto('/tests/customer/frost-zone-from-hectares');
  const proposed = page.getByRole('list', { name: 'Proposed tests', exact: true });
  await expect(page.getByText(/brings? the rule to \d+ % of the planted faults/)).toBeVisible();
  const first = proposed.getByRole('listitem').first();
  await first.getByRole('button').first().click();
  await expect(first.getByText(/^Then .*Frost zone is blank/)).toBeVisible();
  await first.getByRole('button', { name: 'yes, that is right' }).click();
  await expect(page.getByText('Nothing that could be proposed adds to the tests that there are.')).toBeVisible();
  await expect(page.getByRole('region', { name: 'What no test would notice' })).toContainText('would be noticed');
  await page.getByRole('button', { name: /show \d+ more/ }).click();
  const rest = page.getByRole('list', { name: 'Proposed tests that add nothing' });
  const what = (await rest.getByRole('button').first().textContent())!;
  await rest.getByRole('button').first().click();
  await rest.getByRole('button', { name: 'do not propose it again' }).click();
  await expect(rest.getByText(what, { exact: true })).toHaveCount(0);
  await expectAccessible(page, page.getByRole('region', { name: 'Tests', exact: true }));

  await page.getByRole('list', { name: 'Tests, one by one' }).getByRole('link').first().click();
  await page.getByRole('button', { name: 'see it on the bench' }).click();
  const bench = page.getByRole('region', { name: 'Bench' });
  await expect(bench.getByLabel('Planted hectares', { exact: true })).not.toHaveValue('');
});

test('a table is made a family of its rows in one act; a test says what stands beside it and what is expected there', async ({
  as,
}) => {
  const page = await as('author');
  await page.goto('/tests/customer/region-from-country');
  await page.getByRole('button', { name: /^from its table, \d+ rows$/ }).click();
  await expect(page.getByRole('heading', { name: /each row of Country table$/ })).toBeVisible();
  await expect(page.getByText(/of \d+ cases fail/)).toBeVisible();

  await page.goto('/tests/deal/deal-title');
  await page.getByRole('list', { name: 'Tests, one by one' }).getByRole('link').first().click();
  await page.getByRole('button', { name: 'change it' }).click();
  await page.getByLabel('A record beside it', { exact: true }).selectOption({ label: 'Contact' });
  const contact = page.getByRole('region', { name: 'Contact contact-1' });
  await contact
    .getByLabel('A field more of what is of contact-1', { exact: true })
    .selectOption({ label: 'First name' });
  await contact.getByLabel('First name', { exact: true }).fill('Ada Fen');
  await contact.getByLabel('First name', { exact: true }).press('Tab');
  await page.getByLabel('What is expected of a field more', { exact: true }).selectOption({ label: 'Margin' });
  await page.getByLabel('Margin, required', { exact: true }).selectOption({ label: 'may stay blank' });
  await page.getByLabel('What is written on the records beside it', { exact: true }).check();
  await expectAccessible(page, page.getByRole('region', { name: 'Tests', exact: true }));
  await page.getByRole('button', { name: 'done' }).click();
  await expect(page.getByText(/Then .*Margin may stay blank, no other record is written/)).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'First name Ada Fen' })).toBeVisible();
  await expect(page.getByText('It holds.')).toBeVisible();
});

test('a test says who writes, and which record beside it is theirs', async ({ as }) => {
  const page = await as('author');
  await page.goto('/tests/customer/main-contact-starts-as-own');
  await page
    .getByRole('region', { name: 'A new customer begins with the contact of who fills in the form' })
    .getByRole('link', { name: 'open' })
    .click();
  await expect(page.getByText('by Ada Lund (record keeper), who is Lund: it is opened.')).toBeVisible();
  await expect(page.getByText('all 2 cases hold')).toBeVisible();
  await page.getByRole('button', { name: 'change it' }).click();
  const [who, own] = [page.getByLabel('Who writes', { exact: true }), page.getByLabel('Who is', { exact: true })];
  await own.selectOption({ label: 'no contact' });
  await expect(page.getByText('2 of 2 cases fail')).toBeVisible();
  await who.selectOption({ label: 'Mira Tolland' });
  await own.selectOption({ label: 'Lund' });
  await page.getByRole('button', { name: 'done' }).click();
  await expect(page.getByText('by Mira Tolland (record keeper), who is Lund: it is opened.')).toBeVisible();
  await expect(page.getByText('all 2 cases hold')).toBeVisible();
});

test('a claim is broken by a record that the bench shows, or is sure', async ({ as }) => {
  const page = await as('author');
  await page.goto(ofRule);
  await expect(page.getByText('strength: planted faults that some test notices')).toBeVisible({ timeout: 90_000 });
  await page.getByRole('button', { name: 'a new claim' }).click();
  await page.getByLabel('Claim in words', { exact: true }).fill('Every customer has a size class');
  await page.getByRole('textbox', { name: 'What must be true' }).click();
  await page.keyboard.type('Size class != null');
  await page.getByRole('button', { name: 'done' }).click();
  await expect(page.getByText(/^broken: A new customer/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'try it' }).click();
  await expect(page).toHaveURL(/\/desk\/customer/);
});
