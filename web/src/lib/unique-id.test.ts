import { afterEach, expect, it, vi } from 'vitest';
import { string } from 'yup';
import { uniqueId } from './unique-id.ts';

afterEach(() => vi.unstubAllGlobals());

it('is a UUID of version 4 and another one each time, also where the browser makes none', async () => {
  for (const given of [crypto, { getRandomValues: crypto.getRandomValues.bind(crypto) }]) {
    vi.stubGlobal('crypto', given);
    const ids = Array.from({ length: 200 }, uniqueId);
    expect(new Set(ids).size).toBe(200);
    for (const id of ids) {
      expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
      await expect(string().uuid().isValid(id)).resolves.toBe(true);
    }
  }
});
