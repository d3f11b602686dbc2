/** Two web servers on one database are one installation: nobody can tell through which of them somebody else works. */
import { expect, putDraftRight, test } from './support/installation.ts';

const rule = '/desk/customer/size-class-from-employee-count';

test('edits, a release, its rules, forms, and the end of a session reach people on another node', async ({
  as,
  asOn,
  installation,
  expectError,
}) => {
  expectError('409');
  await installation.withNode(async (other) => {
    const here = await as('author');
    const there = await asOn(other, 'author');
    await test.step('an edit is seen as it is made, both ways', async () => {
      await here.goto(rule);
      await there.goto(rule);
      await here.getByLabel('Purpose', { exact: true }).fill('Written here.');
      await expect(there.getByLabel('Purpose', { exact: true })).toHaveValue('Written here.');
      await there.getByLabel('Purpose', { exact: true }).fill('Written there.');
      await expect(here.getByLabel('Purpose', { exact: true })).toHaveValue('Written there.');
    });

    await here.goto('/settings');
    await here.getByLabel('Name of the program that will use it', { exact: true }).fill('Two doors');
    await here.getByRole('button', { name: 'Make a token' }).click();
    const token = (await here.getByTestId('token').textContent())!;
    /** A customer made through a node: the release that acted, and the class that it gave. */
    const made = async (origin: string) => {
      const headers = { authorization: `Bearer ${token}` };
      const data = { name: `Moor ${Math.random()}`, employee_count: 220, credit_limit: 4000 };
      const answer = await here.request.post(`${origin}/api/v1/records/customer`, { headers, data });
      const { release, data: record } = (await answer.json()) as { release: number; data: { size_class: string } };
      return [answer.status(), release, record.size_class];
    };
    expect([await made(installation.origin), await made(other)]).toEqual([
      [201, 1, 'large'],
      [201, 1, 'large'],
    ]);

    await test.step('a release through one is the law of both, at once', async () => {
      await putDraftRight(there);
      const releaser = await asOn(other, 'releaser');
      await releaser.goto('/release');
      await releaser.getByLabel('Note, kept with the release', { exact: true }).fill('The European limit.');
      await releaser.getByRole('button', { name: 'Release 2 to everybody' }).click();
      await expect(releaser.getByText('Release 2 is live.')).toBeVisible();
      expect([await made(installation.origin), await made(other)]).toEqual([
        [201, 2, 'medium'],
        [201, 2, 'medium'],
      ]);
    });

    await test.step('a record saved through one is refused as changed through the other, and nothing is lost', async () => {
      const [mine, theirs] = [await as('keeper'), await asOn(other, 'keeper')];
      await mine.goto('/records/customer/7');
      await theirs.goto('/records/customer/7');
      const count = (page: typeof mine) => page.getByLabel('Employee count', { exact: true });
      await count(mine).fill('31');
      await mine.getByRole('button', { name: 'Save' }).click();
      await expect(mine.getByText('Saved.', { exact: true })).toBeVisible();
      await count(theirs).fill('32');
      await theirs.getByRole('button', { name: 'Save' }).click();
      await expect(theirs.getByText(/meanwhile/).first()).toBeVisible();
      await expect(count(theirs)).toHaveValue('32');
    });

    await test.step('who ends the other sessions through one is signed out of the other', async () => {
      await here.goto('/settings');
      await here.getByRole('button', { name: 'End all others' }).click();
      await expect(here.getByRole('button', { name: 'End all others' })).toHaveCount(0);
      await there.goto(rule);
      await expect(there).toHaveURL(/sign-in/);
    });
  });
});
