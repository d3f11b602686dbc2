import { existsSync } from 'node:fs';
import { aptInstall } from './packages.mjs';

/** Debian's chromium without the shell around it does the same work for a good deal less; the whole one does as well. */
const shell = '/usr/bin/chromium-headless-shell';
const places = [shell, '/usr/bin/chromium', '/usr/bin/chromium-browser'];

/** Path of Debian's chromium, installed when it is missing and this is root. */
export async function ensureChromium() {
  const found = () => places.find((p) => existsSync(p));
  if (!existsSync(shell))
    await aptInstall(['chromium-headless-shell'], 'Chromium, for the browser tests,').catch((e) => {
      // Where there is no such package, or nobody who may install it, a whole chromium will do.
      if (!found()) throw e;
    });
  return found();
}
