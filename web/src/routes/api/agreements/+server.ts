import { json } from '@sveltejs/kit';
import { number, object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { listAgreements, putAgreement, removeAgreement } from '$lib/server/db/agreements.ts';
import { coveredRules } from '$lib/server/agreed.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const move = {
  recordType: string().required(),
  field: string().required(),
  from: string().max(500).required(),
  to: string().max(500).required(),
};
const agreed = object({ ...move, most: number().integer().min(1).required() }).noUnknown();
const taken = object(move).noUnknown();

/** What was agreed, and whether the rules that it covers are still as they were. */
export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  const { rulebook } = await currentDraft();
  const list = await listAgreements();
  return json({
    agreements: list.map(({ covers, ...a }) => ({
      ...a,
      lapsed: covers !== coveredRules(rulebook, a.recordType, a.field),
    })),
  });
};

export const POST: RequestHandler = async ({ request, locals }) => {
  const user = authorise(locals, 'impact.agree');
  const given = await readJson(request, agreed);
  const { rulebook } = await currentDraft();
  requireType(rulebook, given.recordType);
  await putAgreement({ ...given, covers: coveredRules(rulebook, given.recordType, given.field) }, user.id);
  await insertAudit('change agreed', user.id, given);
  return new Response(null, { status: 204 });
};

export const DELETE: RequestHandler = async ({ request, locals }) => {
  const user = authorise(locals, 'impact.agree');
  const given = await readJson(request, taken);
  await removeAgreement(given);
  await insertAudit('agreement taken back', user.id, given);
  return new Response(null, { status: 204 });
};
