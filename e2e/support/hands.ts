/**
 * A person at the desk, as the keystroke-level model sees one (Card, Moran and Newell, 1980: K 0.2 s, P 1.1 s, H 0.4 s,
 * M 1.35 s; K is that of a good typist). Every act goes through the real interface and is counted as it is done:
 * - K: a key, a click, one of the keys of a shortcut;
 * - P: pointing at something;
 * - H: a hand going from the mouse to the keyboard or back;
 * - M: a mental step before each command and each choice; not within what is typed in one go.
 */
import type { Locator, Page, TestInfo } from '@playwright/test';
import { paste } from './clipboard.ts';
import { expect } from './expect.ts';

const seconds = { K: 0.2, P: 1.1, H: 0.4, M: 1.35 } as const;
export type Operator = keyof typeof seconds;

export interface Effort {
  readonly job: string;
  readonly counts: Readonly<Record<Operator, number>>;
  readonly seconds: number;
}

export const effortType = 'keystroke-level';

export class Hands {
  private readonly counts: Record<Operator, number> = { K: 0, P: 0, H: 0, M: 0 };
  private on: 'mouse' | 'keys' = 'mouse';
  readonly page: Page;

  constructor(page: Page) {
    this.page = page;
  }

  private count(operator: Operator, times = 1): void {
    this.counts[operator] += times;
  }
  private to(device: 'mouse' | 'keys'): void {
    if (this.on !== device) this.count('H');
    this.on = device;
  }

  /** Points at something and clicks. */
  async click(target: Locator, thinking = true): Promise<void> {
    if (thinking) this.count('M');
    this.to('mouse');
    this.count('P');
    this.count('K');
    await target.click();
  }

  /** Opens a list, points at an option and clicks it. */
  async choose(list: Locator, option: string): Promise<void> {
    this.count('M');
    this.to('mouse');
    this.count('P', 2);
    this.count('K', 2);
    await list.selectOption({ label: option });
  }

  /** Ticks a box, or takes the tick away. */
  async tick(box: Locator, on = true): Promise<void> {
    this.count('M');
    this.to('mouse');
    this.count('P');
    this.count('K');
    await box.setChecked(on);
  }

  /** Types into an input, over what stands in it. */
  async fill(input: Locator, text: string): Promise<void> {
    await this.click(input);
    this.to('keys');
    this.count('K', 2 + text.length);
    await input.press('Control+a');
    if (text === '') await input.press('Delete');
    else await this.page.keyboard.type(text);
  }

  /** Types where the cursor is. */
  async type(text: string): Promise<void> {
    this.to('keys');
    this.count('K', text.length);
    await this.page.keyboard.type(text);
  }

  /** A formula; what the editor closes by itself is typed over, as people do. */
  async formula(label: string, text: string, within: Locator | Page = this.page): Promise<void> {
    const editor = within.getByRole('textbox', { name: label, exact: true });
    await this.fill(editor, text);
    await this.page.keyboard.press('Escape');
    await expect(editor).toHaveText(text);
  }

  /** Keys pressed at once or one after the other. */
  async press(...keys: readonly string[]): Promise<void> {
    this.count('M');
    this.to('keys');
    for (const key of keys) {
      this.count('K', key.split('+').length);
      await this.page.keyboard.press(key);
    }
  }

  /** Pastes what was copied elsewhere: Ctrl V. */
  async paste(target: Locator, text: string): Promise<void> {
    this.count('M');
    this.to('keys');
    this.count('K', 2);
    await paste(target, text);
  }

  get seconds(): number {
    return (Object.keys(seconds) as Operator[]).reduce((sum, o) => sum + this.counts[o] * seconds[o], 0);
  }

  /** The job is done: its effort is noted for the table at the end, and held against the minute. */
  done(info: TestInfo, job: string, limit = 60): void {
    const effort: Effort = { job, counts: { ...this.counts }, seconds: this.seconds };
    info.annotations.push({ type: effortType, description: JSON.stringify(effort) });
    expect(this.seconds, `${job} by the keystroke-level model`).toBeLessThan(limit);
  }
}
