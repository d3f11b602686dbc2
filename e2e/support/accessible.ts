/** What axe finds wrong on a page, in light and in dark. */
import type { Locator, Page } from '@playwright/test';
import type { AxeResults, ElementContext, RunOnly, RunOptions } from 'axe-core';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect } from './expect.ts';

interface Axe {
  run(context: ElementContext, options: RunOptions): Promise<AxeResults>;
}

const everyRule: RunOnly = {
  type: 'tag',
  values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
};
const ofColour: RunOnly = { type: 'rule', values: ['color-contrast', 'link-in-text-block'] };

/**
 * WCAG 2.2 AA as far as axe can tell, in light; in dark only what a colour scheme can change. `within`: only that part,
 * for a dialog over a page that is out of reach meanwhile, and for what is new on a page that another test looks at.
 */
export async function expectAccessible(page: Page, within?: Locator): Promise<void> {
  // What is no text is never shown as one.
  expect(await page.locator('body').innerText()).not.toMatch(/\[object \w+\]|\bNaN\b/);
  const part = within ? '[data-looked-at]' : 'html';
  await within?.evaluate((element) => element.setAttribute('data-looked-at', ''));
  for (const scheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' });
    let found = await violationsOf(page, part, scheme);
    // A page that was still being drawn anew is looked at once more; what stays is a fault.
    if (found.length > 0) found = await violationsOf(page, part, scheme);
    expect(found, scheme).toEqual([]);
  }
  await page.emulateMedia({ colorScheme: 'light' });
  await within?.evaluate((element) => element.removeAttribute('data-looked-at'));
}

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** The page looks at itself: there are no frames within pages. What it looks with is handed to it once. */
async function violationsOf(page: Page, within: string, scheme: 'light' | 'dark'): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(axe);
  return page.evaluate(
    async ([within, runOnly]) => {
      await new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)));
      const { axe } = globalThis as unknown as { readonly axe: Axe };
      // Only what is wrong is described.
      const { violations } = await axe.run(within, { resultTypes: ['violations'], preload: false, runOnly });
      return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`);
    },
    [within, scheme === 'light' ? everyRule : ofColour] as const,
  );
}
