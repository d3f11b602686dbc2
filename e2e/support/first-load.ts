/** What script a page takes before it can do anything: the same whatever else comes early on a machine that is slow. */
import type { Page } from '@playwright/test';
import { readFileSync, statSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

interface Chunk {
  readonly file: string;
  /** Keys of the manifest. */
  readonly imports?: readonly string[];
}

const web = (path: string): string => fileURLToPath(new URL(`../../web/${path}`, import.meta.url));

/**
 * Compressed, in kB: the modules that the page's HTML names, and all that these import to be run at all. Two builds of the
 * same sources differ by some hundred bytes, by the names of their files.
 */
export async function firstLoad(page: Page, path: string): Promise<number> {
  const manifest = JSON.parse(readFileSync(web('.svelte-kit/output/client/.vite/manifest.json'), 'utf8')) as Readonly<
    Record<string, Chunk>
  >;
  const chunks = new Map(Object.values(manifest).map((c) => [c.file, c]));
  const html = await (await page.request.get(path)).text();
  const nodes = JSON.parse(/node_ids: (\[[\d, ]+\])/.exec(html)![1]!) as readonly number[];
  const needed = new Set<string>();
  const need = (file: string): void => {
    if (needed.has(file)) return;
    needed.add(file);
    for (const key of chunks.get(file)?.imports ?? []) need(manifest[key]!.file);
  };
  for (const file of chunks.keys())
    if (/entry\/(start|app)\./.test(file) || nodes.some((n) => file.includes(`/nodes/${n}.`))) need(file);
  const bytes = [...needed].reduce((sum, file) => sum + statSync(web(`build/client/${file}.br`)).size, 0);
  return bytes / 1000;
}
