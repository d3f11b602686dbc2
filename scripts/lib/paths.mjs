import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');
export const dataDir = resolve(process.env.DATA_DIR ?? `${root}/.data`);
