import { authorise } from '$lib/server/auth/guard.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { recordCsv } from '$lib/server/record-csv.ts';
import { liveRelease, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** The list of the same address as a file. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  const user = authorise(locals, 'records.read');
  const { rulebook } = (await liveRelease()).program;
  const type = requireType(rulebook, params.type);
  await insertAudit('exported records', user.id, { type: type.key, list: url.search.slice(0, 1000) });
  const lines = recordCsv(rulebook, type, url);
  let first: string | undefined = (await lines.next()).value ?? '';
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      if (first !== undefined) {
        controller.enqueue(encoder.encode(first));
        first = undefined;
        return;
      }
      const { value, done } = await lines.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(value));
    },
    cancel: async () => void (await lines.return(undefined)),
  });
  const name = type.plural.toLowerCase().replace(/[^a-z0-9]+/g, '-');
  return new Response(body, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="${name}.csv"`,
    },
  });
};
