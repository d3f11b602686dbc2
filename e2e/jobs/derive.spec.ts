import { expect, test } from '../support/desk.ts';

test('V1 reviewed on, the day on which the phone changed', async ({ desk }, info) => {
  const d = await desk('customer');
  await d.newRule('Reviewed on', 'Derive');
  await d.hands.formula('Formula of step 1', 'today()');
  await d.condition('Phone', 'has changed');
  d.hands.done(info, 'V1 reviewed on when the phone changes');

  await d.bench.getByLabel('Clock', { exact: true }).fill('2026-05-03T09:00');
  await d.try('Phone', '+49 30 555 0123');
  await expect(d.written('reviewed_on')).toHaveText('3 May 2026');
  await test.step('another field changes: nothing; the phone set back: nothing', async () => {
    await d.undoTry();
    await d.try('Ledger code', 'XX-0001');
    await expect(d.written('reviewed_on')).toHaveCount(0);
    await expect(d.bench.getByText('not triggered')).toBeVisible();
  });
});

test('V2 deal title from the customer and the kind', async ({ desk }, info) => {
  const d = await desk('deal');
  await d.newRule('Title', 'Derive');
  await d.hands.click(d.sheet.getByRole('button', { name: 'write as a text with fields' }));
  await d.hands.formula('Text of step 1', '{Customer.Name}, {Deal kind}');
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'locked');
  d.hands.done(info, 'V2 title from customer and kind');

  await expect(d.sheet.getByText(/Customer\.Name/).first()).toBeVisible();
  await d.try('Deal kind', 'Service plan');
  await expect(d.written('title')).toHaveText(/^.+, Service plan$/);
  await test.step('the name on the customer itself counts too', async () => {
    const name = d.bench.locator('.line').filter({ hasText: 'Customer' }).getByRole('button');
    await name.click();
    await d.bench.getByLabel('Name', { exact: true }).fill('Otterfold Orchards');
    await d.bench.getByLabel('Name', { exact: true }).blur();
    await expect(d.written('title')).toHaveText('Otterfold Orchards, Service plan');
  });
});

test('V3 full names in the last-name field are split', async ({ desk }, info) => {
  const d = await desk('contact');
  await d.newRule('First name', 'Derive');
  await d.condition('First name', 'is blank');
  await d.condition('Customer', 'is blank');
  await d.openActs();
  for (const moment of ['editing', 'updating']) await d.hands.tick(d.sheet.getByLabel(moment, { exact: true }), false);
  await d.hands.formula('Formula of step 1', 'words(Last name)[1]');
  await d.hands.click(d.sheet.getByRole('button', { name: 'add a step' }));
  await d.hands.choose(d.sheet.getByLabel('Step 2 writes', { exact: true }), 'Last name');
  await d.hands.formula('Formula of step 2', 'substring after(squeeze(Last name), " ")');
  d.hands.done(info, 'V3 full names are split');

  await d.sheet
    .getByLabel('What a blank result of step 2 does', { exact: true })
    .selectOption({ label: 'leaves it as it is' });
  await d.control('New or existing', 'new, blank');
  for (const [typed, first, last] of [
    ['Ada  Morrow', 'Ada', 'Morrow'],
    ['Ada van Morrow ', 'Ada', 'van Morrow'],
  ] as const) {
    await d.try('Last name', typed);
    await expect(d.written('first_name')).toHaveText(first);
    await expect(d.written('last_name')).toHaveText(last);
  }
  await test.step('existing contacts are left alone', async () => {
    await d.control('New or existing', 'existing');
    await expect(d.written('first_name')).toHaveCount(0);
  });
  await d.prove();
});

test('V4 word count of the name', async ({ desk }, info) => {
  const d = await desk('customer');
  await d.newRule('Name word count', 'Derive');
  await d.hands.formula('Formula of step 1', 'count(words(Name))');
  await d.openActs();
  await d.hands.tick(d.sheet.getByLabel('on request', { exact: true }));
  d.hands.done(info, 'V4 word count of the name');

  for (const [name, count] of [
    ['Fen', '1'],
    ['Fen  Orchards', '2'],
    ['Fen Side Orchards', '3'],
  ] as const) {
    await d.try('Name', name);
    await expect(d.written('name_word_count')).toHaveText(count);
  }
  await d.undoTry();
  await d.control('Moment', 'on request');
  await expect(d.written('name_word_count')).toBeVisible();
});

test('V5 answered at, when the answer last changed', async ({ desk }, info) => {
  const d = await desk('contact');
  await d.newRule('Answered at', 'Derive');
  await d.condition('Invitation answer', 'has changed');
  await d.hands.formula('Formula of step 1', 'now()');
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'locked');
  d.hands.done(info, 'V5 answered at');

  await d.try('Firm as given', 'Fen Orchards');
  await expect(d.written('answered_at')).toHaveCount(0);
  for (const answer of ['Coming', 'Perhaps']) {
    await d.try('Invitation answer', answer);
    if ((await d.bench.getByText('You changed').count()) > 0) await expect(d.trace('Answered at')).toBeVisible();
  }
  await expect(d.written('answered_at')).toBeVisible();
  await test.step('a contact that comes without an answer', async () => {
    await d.undoTry();
    await d.control('New or existing', 'new, blank');
    await d.try('Last name', 'Morrow');
    await expect(d.written('answered_at')).toHaveCount(0);
  });
});

test('V6 previous and furthest stage, and what moving costs', async ({ desk }, info) => {
  const d = await desk('deal');
  await d.newRule('Previous stage', 'Derive');
  await d.condition('Stage', 'has changed');
  await d.hands.formula('Formula of step 1', 'previous.Stage');
  await d.newRule('Furthest stage', 'Derive');
  await d.hands.formula('Formula of step 1', 'furthest(previous.Furthest stage, Stage)');
  d.hands.done(info, 'V6 previous and furthest stage');

  await d.newRule('Cost', 'Derive');
  await d.sheet.getByRole('button', { name: 'as a formula' }).click();
  await d.hands.formula('Only if', 'moved back(Stage) and previous.Stage = "Proposal" and Stage = "Surveyed"');
  await d.hands.formula('Formula of step 1', '750');
  const stages = { Enquiry: 'enquiry', Surveyed: 'surveyed', Proposal: 'proposal', Won: 'won' } as const;
  const stored = await d.bench.getByLabel('Stage', { exact: true }).inputValue();
  const [other] = Object.entries(stages).filter(([, key]) => key !== stored)[0]!;
  await d.try('Stage', other);
  await expect(d.written('previous_stage')).toBeVisible();
  await test.step('an edit that does not touch the stage leaves the previous one', async () => {
    await d.undoTry();
    await d.try('Amount', '4321');
    await expect(d.written('previous_stage')).toHaveCount(0);
  });
});

test('V7 the stage before a lead was dropped', async ({ desk }, info) => {
  const d = await desk('lead');
  await d.newRule('Stage before dropped', 'Derive');
  await d.condition('Stage', undefined, 'Dropped');
  await d.openActs();
  await d.hands.choose(
    d.sheet.getByLabel('How often it acts', { exact: true }),
    'only when the condition starts to hold',
  );
  await d.hands.formula('Formula of step 1', 'previous.Stage');
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'locked');
  d.hands.done(info, 'V7 stage before dropped');

  await d.control('New or existing', 'new, blank');
  await d.try('Stage', 'Dropped');
  await expect(d.trace('Stage before dropped')).toContainText('no effect');
});

test('V8 cover from the watch flag', async ({ desk }, info) => {
  const d = await desk('deal');
  await d.newRule('Cover', 'Derive');
  await d.condition('Watch flag', 'has changed');
  await d.hands.formula('Formula of step 1', 'if Watch flag then "Extended" else "Basic"');
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'the later stays');
  d.hands.done(info, 'V8 cover from the watch flag');

  await d.control('New or existing', 'new, blank');
  await d.try('Watch flag', 'yes');
  await expect(d.written('cover')).toHaveText('Extended');
  await test.step('chosen by hand on a new deal with the flag off: it stands', async () => {
    await d.try('Watch flag', 'no');
    await d.try('Cover', 'Extended');
    await expect(d.written('cover')).toHaveCount(0);
  });
});

test('V9 the standard amount of a soil probe', async ({ desk }, info) => {
  const d = await desk('visit');
  await d.newRule('Visit amount', 'Derive');
  await d.condition('Visit kind', undefined, 'Soil probe');
  await d.hands.formula('Formula of step 1', '140');
  await d.openActs();
  await d.hands.choose(
    d.sheet.getByLabel('How often it acts', { exact: true }),
    'only when the condition starts to hold',
  );
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'it stays');
  d.hands.done(info, 'V9 standard amount of a soil probe');

  await d.control('New or existing', 'new, blank');
  await d.try('Visit kind', 'Soil probe');
  await expect(d.written('visit_amount')).toHaveText('€140.00');
  await test.step('the three choices answer side by side', async () => {
    for (const [repeat, word] of [
      ['every write', 'ran'],
      ['whenever it wakes', 'ran'],
    ] as const) {
      await d.sheet.getByLabel('How often it acts', { exact: true }).selectOption({ label: repeat });
      await expect(d.trace('Visit amount')).toContainText(word);
    }
  });
});

test('V10 open deal value and expected value', async ({ desk }, info) => {
  const d = await desk('customer', { tables: ['stage-odds'] });
  await d.newRule('Open deal value', 'Derive');
  await d.hands.formula('Formula of step 1', 'sum(Deals[Stage < "Won"].Amount)');
  await d.hands.choose(d.sheet.getByLabel('If someone entered a value', { exact: true }), 'locked');
  await d.goToType('Deal');
  await d.newRule('Expected value', 'Derive');
  await d.hands.formula('Formula of step 1', 'Amount * Stage odds[Deal stage = record.Stage][1].Odds');
  d.hands.done(info, 'V10 open deal value, expected value');

  await d.try('Amount', '1000');
  await d.try('Stage', 'Won');
  await expect(d.written('expected_value')).toBeVisible();
  await expect(d.bench.locator('[data-follower]').first()).toContainText('Open deal value');
  await d.prove();
});
