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

/** Short words and numbers that stand on two lines: they have too little room, and nobody reads them at a glance. */
export const wordsBroken = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const found: string[] = [];
    const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    const range = document.createRange();
    for (let text = texts.nextNode(); text; text = texts.nextNode()) {
      const of = text.parentElement!;
      // What is folded away is out of reach, and has no width.
      if (!of.checkVisibility({ visibilityProperty: true }) || of.closest('[inert]')) continue;
      for (const { 0: word, index } of text.nodeValue!.matchAll(/[\p{L}\p{M}\d.,]{2,}/gu)) {
        if (word.length > 16) continue;
        range.setStart(text, index);
        range.setEnd(text, index + word.length);
        const lines = new Set([...range.getClientRects()].map((r) => Math.round(r.top)));
        if (lines.size > 1) found.push(`${word} in “${text.nodeValue!.trim().slice(0, 60)}”`);
      }
    }
    return found;
  });
