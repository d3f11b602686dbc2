import { formKey } from '@rigid-rule/core';
import { json } from '@sveltejs/kit';
import { array, mixed, number, object, string } from 'yup';
import { actingUser } from '$lib/server/acting-user.ts';
import { live } from '$lib/server/rulebook.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { writeRecord } from '$lib/server/entry-points/write.ts';
import type { WriteRequest, WriteResult } from '$lib/server/entry-points/write-in.ts';
import type { RequestHandler } from './$types';

const isRecord = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);
const record = mixed<Record<string, unknown>>((v): v is Record<string, unknown> => isRecord(v));

const save = object({
  id: number().integer().min(1),
  version: number().integer().min(1),
  form: string().max(100).required(),
  sent: record.required(),
  typed: array(string().max(100).required()).max(500).required(),
  woken: array(string().max(100).required()).max(500).required(),
  handBack: array(string().max(100).required()).max(500),
  seen: object({
    fields: array(string().max(100).required()).max(500).required(),
    data: record.required(),
    states: record.required(),
    messages: array(
      object({
        severity: string()
          .oneOf(['stop', 'warn'] as const)
          .required(),
        text: string().max(10_000).required(),
        field: string().max(100),
      }),
    )
      .max(500)
      .required(),
    verdict: string()
      .oneOf(['saved', 'stopped', 'does not settle'] as const)
      .required(),
  })
    .optional()
    .default(undefined),
});

const status: Readonly<Record<WriteResult['outcome'], number>> = {
  saved: 200,
  stopped: 422,
  differs: 409,
  'changed meanwhile': 409,
  'no record': 404,
  'no type': 404,
  'no entry point': 422,
};

/** Saves what a form sends. The server settles it again, on its own. */
export const POST: RequestHandler = async ({ request, params, locals }) => {
  const user = authorise(locals, 'records.write');
  const body = await readJson(request, save);
  const result = await writeRecord({
    type: params.type,
    ...(body.id === undefined ? {} : { id: body.id }),
    ...(body.version === undefined ? {} : { version: body.version }),
    sent: body.sent,
    typed: body.typed,
    woken: body.woken,
    entryPoint: formKey(body.form),
    by: { userId: user.id },
    user: await actingUser(user, (await live()).program.rulebook),
    ...(body.handBack ? { handBack: body.handBack } : {}),
    ...(body.seen ? { seen: body.seen as unknown as NonNullable<WriteRequest['seen']> } : {}),
  });
  return json(result, { status: status[result.outcome] });
};
