import { expect, test } from '../support/desk.ts';

test('K1 gateways with frost sensors', async ({ desk }, info) => {
  const d = await desk('deal');
  await d.newRule('Gateways', 'Validate');
  await d.condition('Frost sensors', 'is filled');
  await d.newRule('Gateways', 'Derive');
  await d.condition('Frost sensors', 'is filled');
  await d.condition('Gateways', 'is blank');
  await d.hands.formula('Formula of step 1', 'ceiling(Frost sensors / 24)');
  d.hands.done(info, 'K1 gateways with frost sensors');

  await d.control('New or existing', 'new, blank');
  for (const [sensors, gateways] of [
    ['1', '1'],
    ['24', '1'],
    ['25', '2'],
  ] as const) {
    await d.try('Frost sensors', sensors);
    await expect(d.written('gateways')).toHaveText(gateways);
  }
  await test.step('given ones are kept; sensors cleared again ask for nothing', async () => {
    await d.try('Gateways', '5');
    await expect(d.written('gateways')).toHaveCount(0);
    await d.undoTry();
    await expect(d.bench.getByText('Gateways has to be filled in.')).toHaveCount(0);
  });
  await d.prove();
});

test('K2 only the kits that are sold in the country', async ({ desk }, info) => {
  const d = await desk('lead');
  await d.newRule('Kit interest', 'Validate');
  await d.hands.choose(d.sheet.getByLabel('Limit the options of a field', { exact: true }), 'Kit interest');
  await d.hands.choose(d.sheet.getByLabel('What limits Kit interest', { exact: true }), 'Home country');
  for (const option of ['Drip line', 'Sprinkler', 'Soil probe set'])
    await d.hands.tick(d.sheet.getByLabel(`Norway: ${option}`, { exact: true }), false);
  await d.hands.fill(
    d.sheet.getByLabel('Message when Kit interest is not on offer', { exact: true }),
    'Not sold there.',
  );
  d.hands.done(info, 'K2 kits sold in the country');

  await d.control('New or existing', 'new, blank');
  await d.try('Full name', 'Ada Morrow');
  await d.try('Home country', 'Norway');
  const kits = d.bench.getByLabel('Kit interest', { exact: true });
  await d.bench.getByLabel('Change another field', { exact: true }).selectOption({ label: 'Kit interest' });
  await expect(kits.locator('option', { hasText: 'Drip line' })).toHaveCount(0);
  await d.try('Home country', 'Spain');
  await d.try('Kit interest', 'Drip line');
  await d.try('Home country', 'Norway');
  await expect(d.bench.getByText('Not sold there.').first()).toBeVisible();
  await d.sheet
    .getByLabel('When the value is no longer on offer', { exact: true })
    .selectOption({ label: 'is cleared' });
  await expect(d.bench.getByText('Not sold there.')).toHaveCount(0);
});

test('K3 discounts within the limit of the size class', async ({ desk }, info) => {
  const d = await desk('deal', { tables: ['discount-limits'] });
  const most = 'Discount limits[Size = record.Customer.Size class][1].Most';
  await d.newRule('Discount', 'Validate');
  await d.hands.click(d.sheet.getByRole('button', { name: 'add a check' }));
  await d.hands.choose(d.sheet.getByLabel('Field that message 1 stands on', { exact: true }), 'Discount');
  await d.hands.formula('What has to hold, 1', `Discount <= ${most}`);
  await d.hands.fill(d.sheet.getByLabel('Message 1', { exact: true }), 'More than may be given: ask Ines.');
  d.hands.done(info, 'K3 discounts within a limit');

  await d.hands.click(d.sheet.getByRole('button', { name: 'add a check' }));
  await d.hands.choose(d.sheet.getByLabel('How strictly check 2 holds', { exact: true }), 'should hold: warns');
  await d.hands.formula('What has to hold, 2', `Discount <= ${most} / 2`);
  await d.hands.fill(d.sheet.getByLabel('Message 2', { exact: true }), 'More than half of it.');
  await d.try('Discount', '99%');
  await expect(d.bench.getByText('More than may be given: ask Ines.').first()).toBeVisible();
  await expect(d.bench.getByText('More than half of it.').first()).toBeVisible();
  await d.try('Discount', '0.1%');
  await expect(d.bench.getByText('More than may be given: ask Ines.')).toHaveCount(0);
});
