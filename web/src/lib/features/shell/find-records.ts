/** Live records whose title holds a text, for the palette: the best few of each record type. */
import { recordAddress } from '$lib/addresses.ts';
import { findRecords } from '$lib/features/fields';
import type { PaletteEntry } from './acts.svelte.ts';

const shortest = 2;
const mostOfType = 3;

export async function findRecordEntries(
  types: readonly { readonly key: string; readonly name: string }[],
  text: string,
): Promise<readonly PaletteEntry[]> {
  if (text.trim().length < shortest) return [];
  const found = await Promise.all(types.map(async (t) => ({ t, links: await findRecords(t.key, text.trim()) })));
  return found.flatMap(({ t, links }) =>
    links.slice(0, mostOfType).map(({ id, title }) => ({
      group: 'Records',
      name: title,
      hint: t.name,
      href: recordAddress(t.key, id),
    })),
  );
}
