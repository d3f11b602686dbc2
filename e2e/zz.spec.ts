import { test } from './support/installation.ts';
test('look', async ({ as }) => {
  const page = await as('author');
  page.on('pageerror', (e) => console.log('ERR', e.stack?.slice(0, 900)));
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto('/tests/customer/frost-zone-from-hectares');
  await page.getByRole('link', { name: 'open' }).first().waitFor({ timeout: 60000 });
  await page.getByRole('link', { name: 'open', exact: true }).first().click();
  await page.waitForTimeout(1500);
  console.log(page.url());
  await page.screenshot({ path: '/tmp/x/t3.png' });
  await page.getByRole('button', { name: 'change it' }).click();
  await page.waitForTimeout(500);
  await page.screenshot({ path: '/tmp/x/t4.png' });
});
