import { expect, test } from '../support/desk.ts';

test('C1 size class in four bands', async ({ desk }, info) => {
  const d = await desk('customer');
  await d.newRule('Size class', 'Categorize');
  await d.hands.choose(d.sheet.getByLabel('What decides', { exact: true }), 'Employee count');
  for (const [band, limit] of [
    ['Micro', '10'],
    ['Small', '50'],
    ['Medium', '250'],
  ] as const)
    await d.hands.fill(d.sheet.getByLabel(`Upper boundary of ${band}`, { exact: true }), limit);
  await d.hands.press('Enter');
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'locked');
  d.hands.done(info, 'C1 size class in four bands');

  await d.control('New or existing', 'new, blank');
  // Commission Recommendation 2003/361/EC, article 2: fewer than 10, 50, 250 persons.
  for (const [count, size] of [
    ['250', 'Large'],
    ['249', 'Medium'],
    ['50', 'Medium'],
    ['49', 'Small'],
    ['10', 'Small'],
    ['9', 'Micro'],
    ['0', 'Micro'],
  ] as const) {
    await d.try('Employee count', count);
    await expect(d.written('size_class')).toHaveText(size);
  }
  await test.step('a way round it is found, and closed in one act', async () => {
    await d.openActs();
    await d.sheet.getByRole('checkbox', { name: 'API' }).uncheck();
    const findings = d.sheet.getByRole('region', { name: 'Findings' });
    await expect(findings).toContainText('not through API');
    await findings.getByRole('button', { name: 'let the rule act there too' }).click();
    await expect(d.sheet.getByRole('checkbox', { name: 'API' })).toBeChecked();
  });
  await d.prove();
});

test('C2 what a stage sets', async ({ desk }, info) => {
  const d = await desk('deal');
  await d.newRule('Amount', 'Derive');
  await d.condition('Stage', undefined, 'Surveyed');
  await d.hands.formula('Formula of step 1', '8500');
  await d.newRule('Expected value', 'Derive');
  await d.condition('Stage', undefined, 'Withdrawn');
  await d.hands.formula('Formula of step 1', '0');
  d.hands.done(info, 'C2 what a stage sets');

  await d.control('New or existing', 'new, blank');
  await d.try('Stage', 'Surveyed');
  await expect(d.written('amount')).toHaveText('€8,500.00');
  await d.try('Stage', 'Withdrawn');
  await expect(d.written('expected_value')).toHaveText('€0.00');
  await expect(d.written('amount')).toHaveCount(0);
  await d.try('Stage', 'Proposal');
  await expect(d.bench.locator('[data-written]')).toHaveCount(0);
});
