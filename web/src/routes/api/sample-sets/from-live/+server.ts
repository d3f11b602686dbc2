import { error, json } from '@sveltejs/kit';
import { randomBytes } from 'node:crypto';
import { array, boolean, number, object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { recordsInOrder } from '$lib/server/db/record-lists.ts';
import { insertSampleSet, insertSamples } from '$lib/server/db/samples.ts';
import { serializable } from '$lib/server/db/transaction.ts';
import { maskingOf } from '$lib/server/masking.ts';
import { liveRelease, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const asked = object({
  name: string().trim().min(1).max(100).required('Give the set a name.'),
  types: array(string().required()).min(1, 'Choose at least one record type.').max(100).required(),
  most: number().integer().min(1).max(200_000).required(),
  masked: boolean().required(),
}).noUnknown();

const heap = 2000;

/** Live records copied into a set, masked or as they are: an act of its own, told in the audit log. */
export const POST: RequestHandler = async ({ request, locals }) => {
  const user = authorise(locals, 'samples.copy');
  const { name, types, most, masked } = await readJson(request, asked);
  const { program } = await liveRelease();
  const chosen = types.map((key) => requireType(program.rulebook, key));
  const secret = randomBytes(32);
  const counts: Record<string, number> = {};
  const id = await serializable(async (client) => {
    const set = await insertSampleSet(
      { name, source: masked ? 'live records, masked' : 'live records', madeBy: user.id },
      client,
    );
    if (set === undefined) return undefined;
    for (const type of chosen) {
      const masking = maskingOf(type, secret);
      counts[type.key] = 0;
      let after = 0;
      for (let left = most; left > 0;) {
        const found = await recordsInOrder(type.key, after, Math.min(heap, left), client);
        if (found.length === 0) break;
        await insertSamples(
          set,
          type.key,
          found.map((r) => (masked ? { id: r.id, data: masking.mask(r.data) } : r)),
          client,
        );
        counts[type.key]! += found.length;
        left -= found.length;
        after = found.at(-1)!.id;
      }
    }
    await insertAudit('live records copied to samples', user.id, { set, name, masked, counts }, client);
    return set;
  });
  if (id === undefined) error(409, `There is a set called ${name} already.`);
  return json({ id, counts }, { status: 201 });
};
