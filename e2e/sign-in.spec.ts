import type { Page } from '@playwright/test';
import { expect, expectAccessible, signIn, test, type Person } from './support/installation.ts';
import { watch } from './support/pages.ts';

test('a visitor is led to sign in and then to where they wanted to go', async ({ page }) => {
  await page.goto('/records/customer/5');
  await expect(page).toHaveURL(/\/sign-in\?next=/);
  await expectAccessible(page);
  await page.getByRole('button', { name: /Mira Tolland/ }).click();
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page).toHaveURL(/\/records\/customer\/5$/);
});

test('a wrong password says so, keeps the email, and after eight nobody gets in for a while', async ({
  page,
  expectError,
}) => {
  expectError('401');
  await page.goto('/sign-in');
  for (let i = 0; i < 9; i++) {
    await page.getByLabel('Email', { exact: true }).fill('jorik@quillhaven.example');
    await page.getByLabel('Password', { exact: true }).fill(`guess ${i}`);
    const answered = page.waitForResponse((r) => r.request().method() === 'POST');
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await answered;
    await expect(page.getByRole('alert')).toContainText(i < 8 ? 'do not belong together' : 'Too many sign-ins');
  }
  await expect(page.getByLabel('Email', { exact: true })).toHaveValue('jorik@quillhaven.example');
});

test.describe('each role', () => {
  const homes: readonly (readonly [Person, RegExp])[] = [
    ['author', /\/desk\/customer\/size-class/],
    ['releaser', /\/release$/],
    ['keeper', /\/records\/customer$/],
    ['tables', /\/mappings$/],
  ];
  for (const [who, home] of homes)
    test(`${who} begins where the work is`, async ({ as }) => {
      const page = await as(who);
      await page.goto('/');
      await expect(page).toHaveURL(home);
    });

  const refused: readonly (readonly [Person, string, object])[] = [
    ['keeper', '/api/draft/edits', {}],
    ['releaser', '/api/draft/edits', {}],
    ['author', '/release?/release', {}],
    ['keeper', '/release?/release', {}],
    ['keeper', '/settings?/create', {}],
  ];
  for (const [who, path] of refused)
    test(`${who} may not post to ${path}`, async ({ as, installation }) => {
      const page = await as(who);
      const form = path.includes('?/');
      const answer = await page.request.post(path, {
        headers: { ...(await installation.headersOf(who)), accept: 'application/json' },
        ...(form ? { form: { note: 'x', name: 'x' } } : { data: {} }),
      });
      const body = (await answer.json()) as { status?: number; type?: string };
      expect(body.status ?? answer.status()).toBe(403);
    });

  test('nobody acts from another site, whatever the content type', async ({ as }) => {
    const page = await as('keeper');
    for (const contentType of ['application/json', 'text/plain']) {
      const answer = await page.request.post('/api/records/customer/save', {
        headers: { origin: 'http://evil.example', 'content-type': contentType },
        data: '{}',
      });
      expect(answer.status()).toBe(403);
    }
  });
});

test('the session cookie is out of reach of scripts; signing out ends it, and who goes back finds nothing', async ({
  page,
  context,
}) => {
  await signIn(page, 'releaser');
  const [cookie] = await context.cookies();
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Lax' });
  const held = page.getByLabel('Employee count', { exact: true });
  await page.goto('/records/customer/1');
  await expect(held).toBeVisible();
  // A browser may show a page as it was left, without asking for it: it asks whether it still may.
  await context.clearCookies();
  await page.evaluate(() => dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true })));
  await expect(page).toHaveURL(/\/sign-in/);
  await context.addCookies([cookie!]);
  await page.goto('/records/customer/1');
  // What the page still asks for while it is left would be refused, and told as an error.
  await page.waitForLoadState('networkidle');
  await page.getByLabel(/^You:/).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page).toHaveURL(/\/sign-in/);
  await page.goBack();
  await expect(page).toHaveURL(/\/sign-in/);
  await expect(held).toHaveCount(0);
  await context.addCookies([cookie!]);
  await page.goto('/records');
  await expect(page).toHaveURL(/\/sign-in/);
});

test('the policy lets no foreign script run, and nothing is translated on its way to the eye', async ({
  page,
  baseURL,
}) => {
  const answer = await page.request.get(`${baseURL}/sign-in`);
  const policy = answer.headers()['content-security-policy']!;
  for (const part of ["default-src 'self'", "object-src 'none'", "frame-ancestors 'none'", "base-uri 'none'"])
    expect(policy).toContain(part);
  expect(policy).toMatch(/script-src 'self' 'nonce-/);
  expect(policy).not.toContain('unsafe-eval');
  expect(await answer.text()).toMatch(/<html [^>]*translate="no"/);
});

test('an address that leads nowhere says so and leads back', async ({ as, expectError }) => {
  expectError('404');
  const page = await as('author');
  for (const path of ['/records/customer/999999', '/nowhere']) {
    await page.goto(path);
    await expect(page.getByRole('heading', { name: 'Nothing is drawn here' })).toBeVisible();
  }
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Go to where your work begins' }).click();
  await expect(page).toHaveURL(/\/desk\//);
});

test.describe('whose page it is', () => {
  const employees = (page: Page) => page.getByLabel('Employee count', { exact: true });

  test('signing out covers the other tabs; who signs in again finds them as they were', async ({ page }) => {
    await signIn(page, 'author');
    await page.goto('/records/customer/1');
    await employees(page).fill('77');
    const other = await page.context().newPage();
    watch(other, []);
    await other.goto('/settings');
    await other.getByLabel(/^You:/).click();
    await other.getByRole('button', { name: 'Sign out' }).click();
    const cover = page.getByRole('dialog', { name: 'You are signed out' });
    await expect(cover).toBeVisible();
    await expectAccessible(page);
    await page.keyboard.press('Escape');
    await page.keyboard.press('Escape');
    await expect(cover).toBeVisible();
    await signIn(other, 'author');
    await expect(cover).toHaveCount(0);
    await expect(employees(page)).toHaveValue('77');
  });

  test('nothing is done in the name of who signed in after a page was opened', async ({
    as,
    expectError,
    installation,
  }) => {
    expectError('401');
    const [author, keeper] = [await as('author'), await as('keeper')];
    const cookies = await author.context().cookies();
    await author.goto('/settings');
    await author.getByLabel('Name of the program that will use it', { exact: true }).fill('Ledger');
    const page = await author.context().newPage();
    await page.goto('/records/customer/1');
    await employees(page).fill('77');
    const writes = () => installation.query('select count(*)::int as n from record_writes');
    const before = await writes();
    // Its tabs hear nothing of who signs in, as where another program of the same machine holds the session.
    await author.context().addCookies(await keeper.context().cookies());
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('Somebody else has signed in here')).toBeVisible();
    await author.getByRole('button', { name: 'Make a token' }).click();
    await expect(author.getByText('Somebody else has signed in here')).toBeVisible();
    expect(await writes()).toEqual(before);
    // What was typed is there, and is saved by who typed it.
    await author.context().addCookies(cookies);
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('Saved.', { exact: true })).toBeVisible();
    expect(await writes()).not.toEqual(before);
  });
});
