/**
 * Playwright's expect, with a lighter wait. Each time that it does not find an element its own draws up the
 * accessibility tree of the whole page for a message that is seldom told, and looks again after half a second: of the
 * time that a page had in these tests a third was that. Here the element is waited for first, then it is looked at.
 */
import { expect as ofPlaywright, type Locator } from '@playwright/test';

/** Milliseconds, as in playwright.config.ts. */
const patience = 30_000;

type State = 'visible' | 'attached';
interface Asked {
  readonly isNot: boolean;
}
type Matchers = Readonly<Record<string, (...args: readonly unknown[]) => Promise<void>>>;

const firstWaitingFor = (name: string, state: State) =>
  async function (this: Asked, element: Locator, ...args: readonly unknown[]) {
    const { isNot } = this;
    const wanted = args.find((a) => typeof a === 'object' && a !== null && 'timeout' in a) as
      { readonly timeout: number } | undefined;
    const timeout = wanted?.timeout ?? patience;
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
    const rest = found ? args : [...args.filter((a) => a !== wanted), { timeout: 1 }];
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
