/** What axe finds wrong on a page, in light and in dark. */
import type { Locator, Page } from '@playwright/test';
import type { AxeResults, ElementContext, RunOnly, RunOptions } from 'axe-core';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { wordsBroken } from './beyond.ts';
import { expect } from './expect.ts';

interface Axe {
  run(context: ElementContext, options: RunOptions): Promise<AxeResults>;
}

const everyRule: RunOnly = {
  type: 'tag',
  values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
};
const ofColour = ['color-contrast', 'link-in-text-block'];

interface Look {
  /** Colours are looked at on the first of what is marked up alike. */
  readonly of: 'all' | 'first alike';
  readonly runOnly: RunOnly;
  readonly rules?: RunOptions['rules'];
}
const colours: Look = { of: 'first alike', runOnly: { type: 'rule', values: ofColour } };
const allElse: Look = {
  of: 'all',
  runOnly: everyRule,
  rules: Object.fromEntries(ofColour.map((rule) => [rule, { enabled: false }])),
};
const looksIn: Readonly<Record<'light' | 'dark', readonly Look[]>> = { light: [allElse, colours], dark: [colours] };

/**
 * WCAG 2.2 AA as far as axe can tell, in light; in dark only what a colour scheme can change. `within`: only that part,
 * for a dialog over a page that is out of reach meanwhile, and for what is new on a page that another test looks at.
 */
export async function expectAccessible(page: Page, within?: Locator): Promise<void> {
  // What is no text is never shown as one.
  expect(await page.locator('body').innerText()).not.toMatch(/\[object \w+\]|\bNaN\b/);
  expect(await wordsBroken(page), 'words broken over two lines').toEqual([]);
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
    async ([within, looks]) => {
      await new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)));
      const { axe } = globalThis as unknown as { readonly axe: Axe };
      const marks = new Map<Element, number>();
      const numbers = new Map<string, number>();
      /** The same number for what is marked up alike up to the root, but for what says which one it is and where. */
      const markOf = (element: Element): number => {
        let mark = marks.get(element);
        if (mark !== undefined) return mark;
        const attributes = [...element.attributes]
          .filter(({ name }) => !/^(id|for|href|name|title|value|aria-(label.*|describedby|controls))$/.test(name))
          .map(({ name, value }) => `${name}=${value.replace(/^-?\d+$|translateY\([^)]*\)/, '')}`);
        const text = [
          element.parentElement ? markOf(element.parentElement) : '',
          element.tagName,
          ...attributes,
        ].join();
        numbers.set(text, (mark = numbers.get(text) ?? numbers.size));
        marks.set(element, mark);
        return mark;
      };
      const isWritten = (element: Element): boolean =>
        element.matches('input, textarea, select') ||
        [...element.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.textContent!.trim() !== '');
      const writtenAlike = (): readonly Element[] => {
        const first = new Map<number, Element>();
        for (const element of document.querySelectorAll(`${within}, ${within} *`))
          if (isWritten(element) && element.checkVisibility() && !first.has(markOf(element)))
            first.set(markOf(element), element);
        return [...first.values()];
      };
      const found: string[] = [];
      for (const { of, runOnly, rules = {} } of looks) {
        // Only what is wrong is described.
        const options = { resultTypes: ['violations' as const], preload: false, runOnly, rules };
        const { violations } = await axe.run(of === 'all' ? within : { include: [...writtenAlike()] }, options);
        found.push(...violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`));
      }
      return found;
    },
    [within, looksIn[scheme]] as const,
  );
}
