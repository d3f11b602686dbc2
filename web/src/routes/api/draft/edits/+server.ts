import { PatchError, type Operation } from '@rigid-rule/core';
import { error, json } from '@sveltejs/kit';
import { array, mixed, number, object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { editPart } from '$lib/server/db/draft.ts';
import { checkPart } from '$lib/server/draft-part.ts';
import type { RequestHandler } from './$types';

const operation = object({
  op: string().oneOf(['add', 'remove', 'replace']).required(),
  path: string().max(400).defined(),
  value: mixed().nullable(),
});
const edit = object({
  kind: string()
    .oneOf(['settings', 'record type', 'field', 'rule'] as const)
    .required(),
  key: string().max(200).required(),
  version: number().integer().min(1).required(),
  operations: array(operation.required()).min(1).max(500).required(),
});

export const POST: RequestHandler = async ({ request, locals }) => {
  const user = authorise(locals, 'rulebook.write');
  const { kind, key, version, operations } = await readJson(request, edit);
  try {
    const result = await editPart({ kind, key }, version, operations as Operation[], user.id, checkPart);
    if (result.outcome === 'missing') error(404, 'This part of the draft is no longer there.');
    return json(result, { status: result.outcome === 'clash' ? 409 : 200 });
  } catch (e) {
    if (e instanceof PatchError) error(400, `The edit does not fit the draft: ${e.message}.`);
    throw e;
  }
};
