import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import * as addresses from './addresses.ts';
import { areaAt, areaEntries, areas } from './features/shell/areas.ts';

/** Addresses of all pages, as the router has them from the folders; `*` for what varies. */
const pages: RegExp[] = readdirSync(join(import.meta.dirname, '../routes'), { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('+page.svelte') || file.endsWith('+page.server.ts'))
  .map((file) => {
    const path = file
      .split('/')
      .slice(0, -1)
      .filter((part) => !part.startsWith('('))
      .map((part) => (part.startsWith('[[') ? '(/[^/]+)?' : part.startsWith('[') ? '/[^/]+' : `/${part}`))
      .join('');
    return new RegExp(`^${path || '/'}$`);
  });
const isPage = (address: string): boolean => pages.some((p) => p.test(new URL(address, 'http://here').pathname));

describe('addresses', () => {
  it.each(
    Object.entries(addresses)
      .filter(([name]) => name !== 'mapPath')
      .map(([name, given]) => [
        name,
        typeof given === 'string' ? given : (given as (...keys: string[]) => string)('a', 'b'),
      ]),
  )('%s leads to a page: %s', (_, address) => {
    expect(isPage(address)).toBe(true);
  });

  it('carry what they are asked with', () => {
    expect(addresses.deskOf('a', { test: 'x & y' })).toBe('/desk/a?test=x+%26+y');
    expect(addresses.recordsOf('a', 'q=1')).toBe('/records/a?q=1');
  });
});

describe('areas', () => {
  it('know what belongs to them', () => {
    for (const area of areas) {
      expect(areaAt(area.href)).toBe(area);
      expect(areaAt(`${area.href}/customer`)).toBe(area);
    }
    expect(areaAt('/map/customer')?.name).toBe('Rules');
    expect(areaAt('/fieldsmith')).toBeUndefined();
  });

  it('offer in the palette only what may be done', () => {
    const types = [{ key: 'deal', name: 'Deal', plural: 'Deals' }];
    const names = (mayWriteRecords: boolean): string[] =>
      areaEntries({ types, liveTypes: types, mayWriteRecords }).map((e) => e.name);
    expect(names(true)).toEqual(expect.arrayContaining(['Rules of Deals', 'Deals', 'New deal', 'Release']));
    expect(names(false)).not.toContain('New deal');
  });
});
