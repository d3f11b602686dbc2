import { expect, test } from '../support/desk.ts';

test('D1 main contact and credit terms on a blank customer form', async ({ desk }, info) => {
  const d = await desk('customer');
  await d.newRule('Main contact', 'Default');
  await d.hands.choose(d.sheet.getByLabel('Usual value', { exact: true }), 'the contact of who fills it in');
  await d.hands.click(d.page.getByRole('list', { name: 'Fields' }).getByRole('link', { name: /^Credit terms/ }));
  await d.hands.click(
    d.page.getByRole('group', { name: 'New rule on Credit terms' }).getByRole('button', { name: 'Default' }),
  );
  await d.hands.choose(d.sheet.getByLabel('Usual value', { exact: true }), '30 days');
  d.hands.done(info, 'D1 main contact and credit terms');

  await d.control('New or existing', 'new, blank');
  await d.control('Moment', 'opening');
  await d.control('Who writes', 'Mira Tolland');
  await expect(d.written('main_contact')).toHaveText('Mira Tolland');
  await expect(d.written('credit_terms')).toHaveText('30 days');
  await test.step('who has no contact of their own leaves it blank, and the trace says why', async () => {
    await d.control('Who writes', 'a program');
    await expect(d.written('main_contact')).toHaveCount(0);
    await expect(d.trace('Main contact')).toContainText('no effect');
  });
  await test.step('existing customers are left alone, and what a person cleared stays so', async () => {
    await d.control('New or existing', 'existing');
    await d.try('Credit terms', 'blank');
    await expect(d.written('credit_terms')).toHaveCount(0);
  });
  await d.prove();
});

test('D2 carriage terms when the kit is collected', async ({ desk }, info) => {
  const d = await desk('deal');
  await d.newRule('Carriage terms', 'Derive');
  await d.condition('Delivery method', undefined, 'Collected at depot');
  await d.hands.formula('Formula of step 1', '"Nothing due"');
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'the later stays');
  d.hands.done(info, 'D2 carriage terms when collected');

  await d.try('Delivery method', 'Own van');
  await expect(d.written('carriage_terms')).toHaveCount(0);
  await d.try('Delivery method', 'Collected at depot');
  await expect(d.written('carriage_terms')).toHaveText('Nothing due');
  await test.step('people may choose otherwise afterwards', async () => {
    await d.try('Carriage terms', 'Paid by us');
    await expect(d.trace('Carriage terms')).toContainText('it was typed after what woke the rule');
    await expect(d.bench.getByLabel('Carriage terms', { exact: true })).toHaveValue('paid-by-us');
  });
});
