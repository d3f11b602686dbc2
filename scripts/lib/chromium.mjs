import { existsSync } from 'node:fs';
import { aptInstall } from './packages.mjs';

const places = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];

/** Path of Debian's chromium, installed when it is missing and this is root. */
export async function ensureChromium() {
  const found = () => places.find((p) => existsSync(p));
  if (!found()) await aptInstall(['chromium'], 'Chromium, for the browser tests,');
  return found();
}
