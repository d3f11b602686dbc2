/**
 * In a draft that came from elsewhere, or from two people at once, anything may stand twice: every page shows it and says
 * so. By its name it is among the first: the longest of all would keep one core busy alone at the end.
 */
import { expect, test } from './support/installation.ts';
import { followLink } from './support/pages.ts';

interface Part {
  readonly kind: string;
  readonly key: string;
  readonly version: number;
  readonly body: object;
}

/** Pointers to all lists within a value that hold something. */
function listsIn(value: unknown, path = ''): readonly string[] {
  if (typeof value !== 'object' || value === null) return [];
  const own = Array.isArray(value) && value.length > 0 ? [path] : [];
  const escaped = (name: string) => name.replace(/~/g, '~0').replace(/\//g, '~1');
  return [...own, ...Object.entries(value).flatMap(([name, v]) => listsIn(v, `${path}/${escaped(name)}`))];
}

const at = (value: unknown, path: string): unknown =>
  path
    .split('/')
    .slice(1)
    .reduce((v, name) => (v as Record<string, unknown>)[name.replace(/~1/g, '/').replace(/~0/g, '~')], value);

test('whatever stands twice in a draft is shown, on every page', async ({ as, installation }) => {
  test.setTimeout(120_000);
  const page = await as('author');
  const { parts: all } = (await (await page.request.get('/api/draft/parts')).json()) as { parts: readonly Part[] };
  const some = (kind: string) => all.filter((p) => p.kind === kind).slice(0, 6);
  const parts = all.filter((p) => p.kind !== 'test' && p.kind !== 'sample').concat(some('test'));
  const headers = await installation.headersOf('author');
  const edits = parts.flatMap(({ kind, key, version, body }) => {
    // Inner lists first: the pointers of outer ones stay good.
    const operations = listsIn(body)
      .toReversed()
      .map((path) => ({ op: 'add', path: `${path}/-`, value: (at(body, path) as unknown[])[0] }));
    return operations.length === 0 ? [] : [{ kind, key, version, operations, id: crypto.randomUUID() }];
  });
  const send = async (list: typeof edits): Promise<number> => {
    const answer = await page.request.post('/api/draft/edits', {
      headers,
      data: { page: 'doubled', edits: list },
    });
    if (answer.ok()) return list.length;
    // What cannot stand twice holds up no other.
    const half = Math.floor(list.length / 2);
    return list.length === 1 ? 0 : (await send(list.slice(0, half))) + (await send(list.slice(half)));
  };
  expect(await send(edits)).toBeGreaterThan(50);
  const rules = parts
    .filter((p) => p.kind === 'rule')
    .map((p) => p.body as { key: string; recordType: string; kind: string });
  const firstOfKind = rules.filter((r, i) => rules.findIndex((o) => o.kind === r.kind) === i);
  const tables = parts.filter((p) => p.kind === 'table').map((p) => `/mappings/${p.key}`);
  const fields = parts.filter((p) => p.kind === 'field' && listsIn(p.body).length > 0).slice(0, 3);
  await page.goto('/settings');
  for (const address of [
    ...firstOfKind.map((r) => `/desk/${r.recordType}/${r.key}`),
    ...firstOfKind.slice(0, 2).map((r) => `/tests/${r.recordType}/${r.key}`),
    ...fields.map((p) => `/desk/${p.key.replace('.', '?field=')}`),
    ...tables.slice(0, 2),
    ...['/fields/customer', '/desk/lead', '/map/customer', '/findings', '/document', '/dry-run/customer', '/release'],
  ]) {
    await followLink(page, address);
    await expect(page.getByRole('main')).not.toBeEmpty();
    // What comes late is looked at as well.
    await expect(page.getByText(/being worked out/i)).toHaveCount(0);
  }
});
