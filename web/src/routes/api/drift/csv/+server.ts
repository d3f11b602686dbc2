import { error } from '@sveltejs/kit';
import Papa from 'papaparse';
import { authorise } from '$lib/server/auth/guard.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { findDriftRun, listDrift } from '$lib/server/db/drift.ts';
import type { RequestHandler } from './$types';

const most = 1_000_000;

/** All records whose value of a field differs, as the last look found them. */
export const GET: RequestHandler = async ({ url, locals }) => {
  const user = authorise(locals, 'records.read');
  const [type, field] = [url.searchParams.get('type') ?? '', url.searchParams.get('field') ?? ''];
  const run = await findDriftRun(undefined);
  if (!run) error(404, 'Nobody has looked for drift yet.');
  const found = await listDrift(run.id, type, field, most);
  await insertAudit('drift exported', user.id, { run: run.id, type, field, records: found.length });
  const plain = (v: unknown): string =>
    v === null || v === undefined ? '' : Array.isArray(v) ? v.join(';') : String(v);
  const lines = [
    ['Id', 'Stored', 'By the rules', 'Rule', 'Held'],
    ...found.map((f) => [String(f.id), plain(f.stored), plain(f.settled), f.rule ?? '', f.held ? 'yes' : 'no']),
  ];
  return new Response(`\ufeff${Papa.unparse(lines, { newline: '\r\n', escapeFormulae: true })}\r\n`, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="drift-${run.id}.csv"`,
    },
  });
};
