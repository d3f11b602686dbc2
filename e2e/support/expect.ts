/**
 * Playwright's expect, with a lighter wait. Each time that it looks and does not find an element its own draws up the
 * accessibility tree of the whole page, for a message that is seldom told: a seventh of what the main threads of pages
 * did in the tests of the desk's jobs. Here the element is waited for first, then it is looked at.
 */
import { expect as ofPlaywright, type Locator } from '@playwright/test';

type State = 'visible' | 'attached';
interface Asked {
  readonly isNot: boolean;
  /** Milliseconds, of playwright.config.ts. */
  readonly timeout: number;
}
type Matchers = Readonly<Record<string, (...args: readonly unknown[]) => Promise<void>>>;

const firstWaitingFor = (name: string, state: State) =>
  async function (this: Asked, element: Locator, ...args: readonly unknown[]) {
    const { isNot } = this;
    const wanted = args.find((a) => typeof a === 'object' && a !== null && 'timeout' in a) as
      | { readonly timeout: number }
      | undefined;
    const timeout = wanted?.timeout ?? this.timeout;
    // What is not to be seen, and how many there are, cannot be waited for in this way.
    const skips = Array.isArray(args[0]) || (isNot && state === 'visible');
    const found =
      skips ||
      (await element.waitFor({ state, timeout }).then(
        () => true,
        () => false,
      ));
    const own = ofPlaywright(element);
    const matchers = (isNot ? own.not : own) as unknown as Matchers;
    // Where it never came, the original tells.
    const rest = found ? args : [...args.filter((a) => a !== wanted), { ...wanted, timeout: 1 }];
    try {
      await matchers[name]!(...rest);
      return { pass: !isNot, message: () => '' };
    } catch (e) {
      return { pass: isNot, message: () => (e as Error).message };
    }
  };

const awaited: Readonly<Record<string, State>> = {
  toBeVisible: 'visible',
  toBeChecked: 'attached',
  toBeDisabled: 'attached',
  toBeEditable: 'attached',
  toBeEnabled: 'attached',
  toBeFocused: 'attached',
  toContainText: 'attached',
  toHaveAttribute: 'attached',
  toHaveText: 'attached',
  toHaveValue: 'attached',
};

export const expect = ofPlaywright.extend(
  Object.fromEntries(Object.entries(awaited).map(([name, state]) => [name, firstWaitingFor(name, state)])),
) as typeof ofPlaywright;
