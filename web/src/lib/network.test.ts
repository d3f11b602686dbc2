import { expect, it } from 'vitest';
import { isUnreached } from './network.ts';

it.each<[string, unknown, boolean]>([
  ['Chromium', new TypeError('Failed to fetch'), true],
  ['Firefox', new TypeError('NetworkError when attempting to fetch resource.'), true],
  ['Safari', new TypeError('Load failed'), true],
  ['a part in Chromium', new TypeError('Failed to fetch dynamically imported module: http://x.example/a.js'), true],
  ['a part in Firefox', new TypeError('error loading dynamically imported module: http://x.example/a.js'), true],
  ['the styles of a part', new Error('Unable to preload CSS for /a.css'), true],
  ['a fault of ours', new TypeError("Cannot read properties of undefined (reading 'name')"), false],
  ['what is no error', 'Failed to fetch', false],
])('%s says that the server was not reached, or something else', (_, thrown, unreached) => {
  expect(isUnreached(thrown)).toBe(unreached);
});
