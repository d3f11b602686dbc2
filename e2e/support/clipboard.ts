/** The clipboard without a clipboard: tests that run beside each other would share the machine's. */
import type { Locator, Page } from '@playwright/test';

/** Pastes a text; what is not typed in is told of it by the page's body, as the standard has it. */
export async function paste(into: Locator | Page, text: string): Promise<void> {
  const page = 'page' in into ? into.page() : into;
  if ('page' in into) await into.focus();
  await page.evaluate((given) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/plain', given);
    const focused = document.activeElement;
    const told = focused?.matches('input, textarea, [contenteditable]') ? focused : document.body;
    told.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  }, text);
}
