import { expect, test } from '../support/desk.ts';

test('N1 a credit stop is told to each contact', async ({ desk }, info) => {
  const d = await desk('customer');
  await d.newRule('Credit stop', 'Validate');
  await d.condition('Credit stop', 'is yes');
  await d.openActs();
  await d.hands.choose(
    d.sheet.getByLabel('How often it acts', { exact: true }),
    'only when the condition starts to hold',
  );
  await d.hands.click(d.sheet.getByRole('button', { name: 'add a notification' }));
  await d.hands.choose(d.sheet.getByLabel('Who is told by notification 1', { exact: true }), 'Contacts.Email');
  await d.hands.formula('Subject of notification 1', '{Name} is on hold');
  d.hands.done(info, 'N1 credit stop is told to the contacts');

  await d.try('Credit stop', 'yes');
  await expect(d.trace('Credit stop')).toContainText(/ran|no effect/);
  await d.try('Credit stop', 'no');
  await expect(d.bench.getByText('Would be sent')).toHaveCount(0);
  await d.prove();
});

test('N2 what is sent when a deal is commissioned', async ({ desk }, info) => {
  const d = await desk('deal');
  await d.newRule('Stage', 'Validate');
  await d.condition('Stage', undefined, 'Commissioned');
  await d.condition('Stage', 'has changed');
  await d.hands.click(d.sheet.getByRole('button', { name: 'add a notification' }));
  await d.hands.choose(d.sheet.getByLabel('Who is told by notification 1', { exact: true }), 'Contact.Email');
  await d.hands.formula('Subject of notification 1', 'Your kit is running');
  await d.hands.click(d.sheet.getByRole('button', { name: 'add a notification' }));
  await d.hands.choose(d.sheet.getByLabel('Channel of notification 2', { exact: true }), 'a task');
  await d.hands.fill(d.sheet.getByLabel('Days until task 2 is due', { exact: true }), '14');
  await expect(d.sheet.getByRole('textbox', { name: 'To of notification 2' })).toHaveText('Owner');
  await d.hands.formula('Subject of notification 2', 'Look in');
  d.hands.done(info, 'N2 what is sent on commissioning');

  await d.sheet.getByLabel('Text of notification 1', { exact: true }).fill('{Title}');
  await d.sheet.getByLabel('Text of notification 2', { exact: true }).fill('{Title}');
  await d.try('Owner', 'Mira Tolland');
  await d.try('Stage', 'Enquiry');
  await d.try('Stage', 'Commissioned');
  await expect(d.bench.getByText('Would be sent')).toBeVisible();
  await expect(d.bench).toContainText('mira@quillhaven.example');
  await test.step('another field: asleep or condition false, told apart', async () => {
    await d.undoTry();
    await d.try('Amount', '4321');
    await expect(d.bench.getByText('not triggered')).toBeVisible();
    await expect(d.bench.getByText('Would be sent')).toHaveCount(0);
  });
});
