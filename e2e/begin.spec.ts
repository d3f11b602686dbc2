import { expect, expectAccessible, test, withEmptyInstallation } from './support/installation.ts';
import { watch } from './support/pages.ts';

test('an installation without demo: the first person begins, every area works, and a first rule acts on a first record', async ({
  browser,
}) => {
  await withEmptyInstallation(async ({ origin, begin }) => {
    const errors: string[] = [];
    const context = await browser.newContext({ baseURL: origin });
    const page = await context.newPage();
    watch(page, errors);
    await page.goto('/sign-in');
    await expect(page.getByText('Nobody can sign in yet')).toBeVisible();
    await page.goto(begin);
    await expectAccessible(page);
    await page.getByLabel('Name', { exact: true }).fill('Ada Lind');
    await page.getByLabel('Email', { exact: true }).fill('ada@lind.example');
    await page.getByLabel(/^Password/).fill('too short');
    await page.getByLabel(/^Password/).fill('long enough for this');
    await page.getByRole('button', { name: 'Begin' }).click();
    await expect(page.getByRole('heading', { name: 'Which records do your rules act on?' })).toBeVisible();
    await expectAccessible(page);
    for (const area of ['Rules', 'Mappings', 'Findings', 'Release', 'Records', 'Settings', 'Fields']) {
      await page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: area }).click();
      await expect(page.getByRole('heading').first()).toBeVisible();
    }
    await page.getByLabel('Name of one such record', { exact: true }).fill('Customer');
    await page.getByRole('button', { name: 'Make the record type' }).click();
    await expect(page.getByRole('heading', { name: 'Customers' })).toBeVisible();
    await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
    await page.goto('/desk');
    await expect(page).toHaveURL(/\/desk\/customer$/);
    await expect(page.getByRole('link', { name: /^Name/ }).first()).toBeVisible();
    // The address is good for one person only.
    errors.length = 0;
    const second = await context.request.get(begin);
    expect(second.status()).toBe(404);
    expect(errors).toEqual([]);
    await context.close();
  });
});

test('people are added, sign in with the password that is shown once, and change it', async ({
  as,
  page,
  expectError,
}) => {
  expectError('ERR_FAILED');
  const author = await as('author');
  await author.goto('/settings');
  await expectAccessible(author);
  await author.getByLabel('Name', { exact: true }).fill('Pia Holm');
  await author.getByLabel('Email', { exact: true }).fill('pia@quillhaven.example');
  await author.getByRole('combobox', { name: 'Role', exact: true }).selectOption('record keeper');
  const add = author.getByRole('button', { name: 'Add', exact: true });
  await author.route('**/settings?/addPerson*', (route) => route.abort());
  await add.click();
  await expect(author.getByRole('alert')).toHaveText(/^The network is away: whether this was done is not known/);
  await expect(author.getByLabel('Name', { exact: true })).toHaveValue('Pia Holm');
  await author.unrouteAll();
  // Pressed twice, as buttons are: a second answer would say that she is there already, and no password.
  await add.dblclick();
  const password = await author.getByTestId('password').innerText();
  await page.goto('/sign-in');
  await page.getByLabel('Email', { exact: true }).fill('pia@quillhaven.example');
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page).toHaveURL(/\/records\//);
  await page.goto('/settings');
  await page.getByLabel('Current password', { exact: true }).fill(password);
  await page.getByLabel(/^New one/).fill('a password of her own');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByText('Your password is changed')).toBeVisible();
  await expect(page.getByText('this one')).toBeVisible();
});
