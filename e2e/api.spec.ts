import { expect, expectAccessible, test } from './support/installation.ts';

const customers = '/api/v1/records/customer';

test('another program writes with a token: the same rules act, and refusals are problem details', async ({
  as,
  request,
  baseURL,
}) => {
  const page = await as('author');
  await page.goto('/settings');
  await page.getByLabel('Name of the program that will use it', { exact: true }).fill('Order desk');
  await page.getByRole('button', { name: 'Make a token' }).click();
  const token = (await page.getByTestId('token').textContent())!;
  await expectAccessible(page);
  const headers = { authorization: `Bearer ${token}` };

  const created = await request.post(customers, {
    headers,
    data: { name: 'Plover Vineyards', employee_count: 199, credit_limit: 4000 },
  });
  expect(created.status()).toBe(201);
  const place = created.headers()['location']!;
  expect(created.headers()['etag']).toBe('"1"');
  expect(await created.json()).toMatchObject({ data: { size_class: 'medium' }, release: 1 });

  await test.step('a change needs the ETag of what was read', async () => {
    expect((await request.patch(place, { headers, data: { employee_count: 200 } })).status()).toBe(428);
    const changed = await request.patch(place, {
      headers: { ...headers, 'if-match': '"1"', 'content-type': 'application/merge-patch+json' },
      data: { employee_count: 200 },
    });
    expect(changed.status()).toBe(200);
    expect(changed.headers()['etag']).toBe('"2"');
    expect(await changed.json()).toMatchObject({ data: { size_class: 'large' } });
    const stale = await request.patch(place, {
      headers: { ...headers, 'if-match': '"1"' },
      data: { employee_count: 9 },
    });
    expect(stale.status()).toBe(412);
    for (const [tags, status] of [
      ['"7", "1"', 412],
      ['W/"2"', 412],
      ['2', 412],
      ['"1", "other", "2"', 200],
    ] as const) {
      const data = { employee_count: 200 };
      expect([
        tags,
        (await request.patch(place, { headers: { ...headers, 'if-match': tags }, data })).status(),
      ]).toEqual([tags, status]);
    }
    expect((await request.get(place, { headers })).headers()['etag']).toBe('"2"');
  });

  await test.step('what is sent again with its Idempotency-Key is not done again', async () => {
    const send = (name: string, key = '"8e03978e-40d5-43dd-bc93-6894a57f9324"') =>
      request.post(customers, {
        headers: { ...headers, 'idempotency-key': key },
        data: { name, employee_count: 3, credit_limit: 10 },
      });
    const [first, again] = [await send('Snipe Orchard'), await send('Snipe Orchard')];
    expect([first.status(), again.status()]).toEqual([201, 201]);
    expect(again.headers()['location']).toBe(first.headers()['location']);
    const other = await send('Curlew Orchard');
    expect([other.status(), ((await other.json()) as { type: string }).type]).toEqual([422, '/api/problems#key-used']);
    expect((await send('Snipe Orchard', 'a key of Ärger')).status()).toBe(400);
  });

  await test.step('what the rules stop is said field by field (RFC 9457)', async () => {
    const refused = await request.patch(place, {
      headers: { ...headers, 'if-match': '*' },
      data: { size_class: 'micro', employee_count: 'many' },
    });
    expect(refused.status()).toBe(422);
    expect(refused.headers()['content-type']).toContain('application/problem+json');
    const { errors, title, type } = (await refused.json()) as {
      errors: { field: string }[];
      title: string;
      type: string;
    };
    expect({ title, type }).toEqual({ title: 'The rules stop this write', type: '/api/problems#stopped' });
    expect(errors.map((e) => e.field).sort()).toEqual(['employee_count', 'size_class']);
  });

  await test.step('a value is held and handed back; what is not there is refused at its field', async () => {
    const deals = '/api/v1/records/deal';
    const made = await request.post(deals, { headers, data: { customer: '1', frost_sensors: 5 } });
    expect(made.status()).toBe(201);
    const deal = made.headers()['location']!;
    const any = { ...headers, 'if-match': '*' };
    const heldNow = async () => ((await (await request.get(deal, { headers })).json()) as { held: string[] }).held;
    expect((await request.patch(`${deal}?hold=true`, { headers: any, data: { gateways: 77 } })).status()).toBe(200);
    expect(await heldNow()).toEqual(['gateways']);
    expect((await request.patch(`${deal}?hand_back=gateways`, { headers: any, data: {} })).status()).toBe(200);
    expect(await heldNow()).toEqual([]);
    expect((await request.patch(`${deal}?hold=perhaps`, { headers: any, data: {} })).status()).toBe(400);
    const lost = await request.patch(deal, { headers: any, data: { contact: '99999' } });
    expect([lost.status(), await lost.json()]).toMatchObject([
      422,
      { errors: [{ field: 'contact', message: 'There is no contact 99999.' }] },
    ]);
  });

  const refusals: readonly (readonly [string, number, () => ReturnType<typeof request.post>])[] = [
    ['no token', 401, () => request.post(customers, { data: {} })],
    [
      'a token that is none',
      401,
      () => request.post(customers, { headers: { authorization: `Bearer ${'x'.repeat(40)}` }, data: {} }),
    ],
    [
      'no JSON',
      400,
      () =>
        request.post(customers, {
          headers: { ...headers, 'content-type': 'application/json' },
          data: Buffer.from('{'),
        }),
    ],
    ['a list', 400, () => request.post(customers, { headers, data: [] })],
    ['a form', 415, () => request.post(customers, { headers, form: { name: 'x' } })],
    ['no such type', 404, () => request.post('/api/v1/records/barn', { headers, data: {} })],
    [
      'no such record',
      404,
      () => request.patch(`${customers}/999999`, { headers: { ...headers, 'if-match': '*' }, data: {} }),
    ],
    ['an id that is none', 404, () => request.get(`${customers}/first`, { headers })],
    ['no such address', 404, () => request.get('/api/v1/nothing', { headers })],
    ['a method that is not taken', 405, () => request.delete(`${customers}/1`, { headers })],
    ['more than a megabyte', 413, () => request.post(customers, { headers, data: { name: 'x'.repeat(1_100_000) } })],
    ['a missing name', 422, () => request.post(customers, { headers, data: {} })],
  ];
  for (const [what, status, ask] of refusals)
    await test.step(what, async () => {
      const answer = await ask();
      expect(answer.status()).toBe(status);
      expect(answer.headers()['content-type']).toContain('application/problem+json');
      expect(await answer.json()).toMatchObject({ status, detail: expect.stringMatching(/\w/) as unknown });
    });

  await test.step('a body that does not say how long it is is read as far as it is taken', async () => {
    const send = async (parts: readonly string[]) => {
      const body = new Blob(parts as string[]).stream();
      const { status } = await fetch(baseURL! + customers, {
        method: 'POST',
        headers: sent,
        body,
        duplex: 'half',
      } as RequestInit);
      return status;
    };
    const sent = { ...headers, 'content-type': 'application/json' };
    expect(await send(['{"name": "In ', 'parts"}'])).toBe(201);
    expect(await send(['{"name": "', 'x'.repeat(1_100_000), '"}'])).toBe(413);
    expect(await send(['{"name": "In '])).toBe(400);
  });

  await test.step('where the method is not taken, those that are are named', async () => {
    expect((await request.delete(`${customers}/1`, { headers })).headers()['allow']).toMatch(/GET.*PATCH/);
  });

  await test.step('the address that names a problem explains it, to anybody', async () => {
    const { type } = (await (await request.get('/api/v1/nothing')).json()) as { type: string };
    const explained = await fetch(new URL(type, baseURL));
    expect(await explained.text()).toContain(`id="${new URL(type, baseURL).hash.slice(1)}"`);
  });

  await test.step('an answer does not repeat what was sent at length', async () => {
    const data = { name: 'Long', size_class: 'y'.repeat(5000) };
    const answer = await request.post(customers, { headers, data });
    expect(answer.status()).toBe(422);
    expect((await answer.text()).length).toBeLessThan(1500);
  });

  await test.step('the history names the program, the entry point and the rule', async () => {
    await page.goto(place.replace('/api/v1', ''));
    const history = page.getByRole('region', { name: 'History' });
    await expect(history).toContainText('Order desk, API');
    await expect(history).toContainText('Size class, set from employee count, release 1');
  });

  await test.step('a revoked token is refused', async () => {
    await page.goto('/settings');
    await page.getByRole('button', { name: 'Revoke the token Order desk' }).click();
    await expect(page.getByText('No program has a token yet.')).toBeVisible();
    expect((await request.post(customers, { headers, data: {} })).status()).toBe(401);
  });
});
