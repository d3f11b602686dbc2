import { test } from './support/installation.ts';
test('look', async ({ as }) => {
  const page = await as('author');
  page.on('pageerror', (e) => console.log('ERR', e.stack?.slice(0, 900)));
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto('/dry-run');
  await page.getByText(/records in \d/).waitFor({ timeout: 60000 });
  await page.getByRole('button', { name: 'look for differences' }).click();
  await page.getByText('made up to show').waitFor({ timeout: 60000 });
  await page.screenshot({ path: '/tmp/x/t1.png' });
  await page.getByRole('button', { name: 'sample sets …' }).click();
  await page.screenshot({ path: '/tmp/x/t2.png' });
  await page.goto('/release');
  await page.getByText('at the next save: each').waitFor({ timeout: 60000 });
  await page.screenshot({ path: '/tmp/x/t3.png' });
});
