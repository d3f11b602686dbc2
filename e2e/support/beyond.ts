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

/** What should stand on one line and does not: a label beside the second line of what it names. */
export const offTheLine = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const range = document.createRange();
    const firstLine = (of: Element): { readonly bottom: number; readonly says: string } | undefined => {
      const nodes = document.createTreeWalker(of, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT);
      for (let node = nodes.nextNode(); node; node = nodes.nextNode()) {
        const element = node instanceof Element ? node : node.parentElement!;
        if (!element.checkVisibility({ visibilityProperty: true }) || element.closest('svg, .sr-only')) continue;
        // Where the text of a control stands cannot be asked.
        if (element.matches('input, select, textarea')) return undefined;
        if (node === element) continue;
        range.selectNodeContents(node);
        const line = [...range.getClientRects()].find((r) => r.width > 1);
        if (line) return { bottom: line.bottom, says: node.nodeValue!.trim().slice(0, 40) };
      }
      return undefined;
    };
    return [...document.querySelectorAll('main *')].flatMap((row) => {
      const { display, alignItems } = getComputedStyle(row);
      if (!/grid|flex/.test(display) || !alignItems.endsWith('baseline')) return [];
      return [...row.children].slice(1).flatMap((right, i) => {
        const left = row.children[i]!;
        if (right.getBoundingClientRect().left < left.getBoundingClientRect().right - 2) return [];
        const [a, b] = [firstLine(left), firstLine(right)];
        return a && b && Math.abs(a.bottom - b.bottom) > 4 ? [`${a.says} | ${b.says}`] : [];
      });
    });
  });

/** Lists that open from a word and then stand partly beyond the window. */
export const listsBeyond = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll('details')].flatMap((details) => {
      const word = details.querySelector('summary')!;
      const floats = [...details.children].find((e) => getComputedStyle(e).position === 'absolute');
      if (!floats || !word.checkVisibility()) return [];
      const was = details.open;
      details.open = true;
      const { left, right } = floats.getBoundingClientRect();
      details.open = was;
      return left < 0 || right > innerWidth ? [word.textContent!.trim()] : [];
    }),
  );
