import { error } from '@sveltejs/kit';
import { storedCell } from '$lib/csv-text.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { csvResponse } from '$lib/server/csv-response.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { findDriftRun, streamDrift } from '$lib/server/db/drift.ts';
import type { RequestHandler } from './$types';

const head = ['Id', 'Stored', 'By the rules', 'Rule', 'Held'];

async function* lines(run: number, type: string, field: string): AsyncGenerator<readonly (readonly string[])[]> {
  for await (const found of streamDrift(run, type, field))
    yield found.map((f) => [
      String(f.id),
      storedCell(f.stored),
      storedCell(f.settled),
      f.rule ?? '',
      f.held ? 'yes' : 'no',
    ]);
}

/** All records whose value of a field differs, as the last look found them, by their ids. */
export const GET: RequestHandler = async ({ url, locals }) => {
  const user = authorise(locals, 'records.read');
  const [type, field] = [url.searchParams.get('type') ?? '', url.searchParams.get('field') ?? ''];
  const run = await findDriftRun(undefined);
  if (!run) error(404, 'Nobody has looked for drift yet.');
  await insertAudit('drift exported', user.id, { run: run.id, type: type.slice(0, 200), field: field.slice(0, 200) });
  return csvResponse(head, lines(run.id, type, field), `drift-${run.id}`);
};
