/** The desk as the jobs use it: an empty draft on the demo's fields, and the ways that every job goes. */
import type { Locator, Page } from '@playwright/test';
import { offTheLine, wordsBroken } from './beyond.ts';
import { Hands } from './hands.ts';
import { expect, test as base } from './installation.ts';

export class Desk {
  readonly page: Page;
  readonly hands: Hands;
  readonly sheet: Locator;
  readonly bench: Locator;

  constructor(page: Page) {
    this.page = page;
    this.hands = new Hands(page);
    this.sheet = page.getByRole('article', { name: 'Rule' });
    this.bench = page.getByRole('region', { name: 'Bench' });
  }

  /** A new rule of a kind on a field of the record type on show. */
  async newRule(field: string, kind: string): Promise<void> {
    await this.goToField(field);
    await this.hands.click(
      this.page.getByRole('group', { name: `New rule on ${field}` }).getByRole('button', { name: kind }),
    );
    await expect(this.sheet).toBeVisible();
    await expect(this.sheet.getByText(/^(Outcome|Must or should)$/)).toBeVisible();
  }

  async goToField(field: string): Promise<void> {
    const link = this.page
      .getByRole('list', { name: 'Fields' })
      .getByRole('link', { name: new RegExp(`^${field}\\b`) });
    await this.hands.click(link.first());
    await expect(this.page.getByRole('heading', { name: field, exact: true })).toBeVisible();
  }

  async goToType(name: string): Promise<void> {
    await this.hands.click(
      this.page.getByRole('navigation', { name: 'Record types' }).getByRole('link', { name, exact: true }),
    );
    await expect(this.bench.getByText(/sample 1 of/)).toBeVisible();
  }

  /** Opens what stands folded because it is as usual. */
  async openActs(): Promise<void> {
    await this.hands.click(this.sheet.getByRole('button', { name: /^(wakes on|at every moment|everywhere|whenever)/ }));
  }

  /** A condition row: field, then comparison and value where they are not the usual ones. */
  async condition(field: string, comparison?: string, value?: string): Promise<void> {
    const row = this.sheet;
    await this.hands.choose(row.getByLabel('Add a row', { exact: true }).first(), field);
    if (comparison) await this.hands.choose(row.getByLabel('Comparison', { exact: true }).last(), comparison);
    if (value === undefined) return;
    const input = row.getByLabel('Value', { exact: true }).last();
    if ((await input.evaluate((e) => e.tagName)) === 'SELECT') await this.hands.choose(input, value);
    else await this.hands.fill(input, value);
  }

  /** What is typed or chosen for a field on the bench; not part of the job's effort. */
  async try(field: string, value: string): Promise<void> {
    const input = this.bench.getByLabel(field, { exact: true });
    if ((await input.count()) === 0)
      await this.bench.getByLabel('Change another field', { exact: true }).selectOption({ label: field });
    const tag = await input.evaluate((e) => e.tagName);
    if (tag === 'SELECT') await input.selectOption({ label: value });
    else {
      await input.fill(value);
      await input.blur();
    }
  }

  /** What a rule wrote on the bench, as it is shown. */
  written(key: string): Locator {
    return this.bench.locator(`[data-written=${key}] .written`);
  }

  async control(name: string, option: string): Promise<void> {
    await this.bench.getByLabel(name, { exact: true }).selectOption({ label: option });
  }

  /** Shows the rules that did not act as well. */
  async unfoldTrace(): Promise<void> {
    await this.bench.getByRole('button', { name: /did not act/ }).click();
  }

  /** The trace line of a rule. */
  trace(rule: string): Locator {
    return this.bench.locator('[data-trace]').filter({ hasText: rule });
  }

  /**
   * The other half of a job, not part of its effort: the tests that are proposed for the rule on the sheet, the fewest
   * that bring everything, are confirmed; they notice planted faults, and one fails once the rule goes wrong. Once or
   * twice for each kind of rule: that it holds for every rule of the demo is tested without a browser.
   */
  async prove(): Promise<void> {
    const { page, sheet } = this;
    await sheet.getByRole('link', { name: /^(no test yet|\d+ tests?)/ }).click();
    const proposed = page.getByRole('list', { name: 'Proposed tests', exact: true });
    await expect(proposed).toBeVisible();
    if ((await proposed.getByRole('listitem').count()) > 1)
      await page.getByRole('button', { name: /^all \d+ are right$/ }).click();
    else {
      await proposed.getByRole('button').first().click();
      await proposed.getByRole('button', { name: 'yes, that is right' }).click();
    }
    await expect(page.getByText(/notice [1-9]\d* of \d+ planted faults/)).toBeVisible();
    await page.goBack();
    await sheet.getByRole('switch').uncheck();
    await expect(sheet.getByRole('link', { name: /^\d+ of \d+ tests? fail/ })).toBeVisible();
  }

  async undoTry(): Promise<void> {
    await this.bench.getByRole('button', { name: 'Undo my try' }).click();
  }
}

interface Fixtures {
  /** Signed in as the author, on a draft without rules; `tables` are kept where they are named. */
  desk: (type: string, keep?: { readonly tables?: readonly string[]; readonly samples?: number }) => Promise<Desk>;
}

export const test = base.extend<Fixtures>({
  desk: async ({ as, installation }, use) => {
    const desks: Desk[] = [];
    await use(async (type, { tables = [], samples } = {}) => {
      await installation.query('create table if not exists draft_at_start as table draft_parts');
      await installation.query('delete from draft_parts');
      await installation.query(
        `insert into draft_parts
         select * from draft_at_start where kind not in ('rule', 'test', 'claim', 'table') or (kind = 'table' and key = any($1))`,
        [tables],
      );
      const page = await as('author');
      await page.goto(`/desk/${type}${samples ? `?sample=${samples}` : ''}`);
      const desk = new Desk(page);
      await expect(desk.bench.getByText(/sample \d+ of/)).toBeVisible();
      desks.push(desk);
      return desk;
    });
    for (const { page } of desks) {
      expect(await wordsBroken(page)).toEqual([]);
      expect(await offTheLine(page)).toEqual([]);
    }
  },
});

export { expect };
