import { partKinds, PatchError, type PartRef } from '@rigid-rule/core/document';
import { error, json } from '@sveltejs/kit';
import { draftPartProblem } from '$lib/draft-part.ts';
import { array, mixed, number, object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { may } from '$lib/server/auth/roles.ts';
import { mayEditPart, type EditRights, type SavedEdits, type SentEdit } from '$lib/draft-protocol.ts';
import { editParts, findPart } from '$lib/server/db/draft.ts';
import { currentDraft, draftChanges, liveRelease } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const operation = object({
  op: string().oneOf(['add', 'remove', 'replace', 'test']).required(),
  path: string().max(400).defined(),
  value: mixed().nullable(),
});
const edit = object({
  kind: string()
    .oneOf([...partKinds])
    .required(),
  key: string().max(200).required(),
  version: number().integer().min(0).required(),
  position: number(),
  id: string().uuid(),
  operations: array(operation.required()).max(50_000).required(),
});
const sentEdits = object({
  /** Names the page, so that it does not hear of its own edits. */
  page: string().max(60).defined(),
  edits: array(edit.required()).min(1).max(2000).required(),
});

/** A table of 20,000 rows goes in one edit. */
const mostBytes = 16_000_000;

/** @throws 403 in words. */
async function requireRights(rights: EditRights, given: readonly SentEdit[]): Promise<void> {
  for (const edit of given) {
    const part = rights.editable ? undefined : await findPart(edit, { rows: false });
    if (!mayEditPart(rights, edit, part?.body))
      error(403, 'You may change the rows of the tables that name you as their keeper, and nothing else.');
  }
}

/** @throws 400 in words. */
function checkPart(ref: PartRef, body: unknown): void {
  const problem = draftPartProblem(ref, body);
  if (problem !== undefined) error(400, problem);
}

export const POST: RequestHandler = async ({ request, locals }) => {
  const user = authorise(locals, 'tables.keep');
  const { page, edits: given } = await readJson(request, sentEdits, mostBytes);
  const edits = given as SentEdit[];
  await requireRights({ editable: may(user.role, 'rulebook.write'), keeper: user.email }, edits);
  try {
    const result = await editParts(edits, { user, page, check: checkPart });
    if (result.outcome === 'clash') return json(result, { status: 409 });
    const [draft, current] = await Promise.all([currentDraft(), liveRelease()]);
    // The page that saved has no need to load anything anew.
    return json({ ...result, changes: await draftChanges(draft, current) } satisfies SavedEdits);
  } catch (e) {
    if (e instanceof PatchError) error(400, `The edit does not fit the draft: ${e.message}.`);
    throw e;
  }
};
