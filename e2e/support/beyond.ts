import type { Page } from '@playwright/test';

/** Texts that stand beyond what they are in: cut off without a sign of it, or laid over what is beside it. */
export const textsBeyond = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const found = new Set<string>();
    const holdsText = (e: Element) =>
      [...e.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.nodeValue!.trim());
    const isCutShort = (e: Element) => getComputedStyle(e).textOverflow === 'ellipsis';
    for (const e of document.querySelectorAll('header *, main *')) {
      if (!holdsText(e) || e.clientWidth < 3 || e.closest('svg, select, table')) continue;
      let within: Element | null = e;
      const { right } = e.getBoundingClientRect();
      const end = Math.max(right, right - e.clientWidth + e.scrollWidth);
      // The nearest box that ends before the text does; what has no box of its own is passed over.
      const holds = (box: Element) => box.clientWidth === 0 || box.getBoundingClientRect().right + 2 >= end;
      while (within && !isCutShort(within) && holds(within)) within = within.parentElement;
      if (within && !isCutShort(within)) found.add(`${within.tagName}: ${e.textContent!.trim().slice(0, 60)}`);
    }
    return [...found];
  });
