/** What a form sends of a record, to be saved or only looked at. */
import { formKey } from '@rigid-rule/core';
import { array, mixed, number, object, string, type InferType } from 'yup';
import { actingUser } from './acting-user.ts';
import type { WriteRequest } from './entry-points/settling.ts';
import { live } from './rulebook.ts';
import type { Role } from './auth/roles.ts';

const isRecord = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);
const record = mixed<Record<string, unknown>>((v): v is Record<string, unknown> => isRecord(v));
const list = mixed<readonly unknown[]>((v): v is readonly unknown[] => Array.isArray(v) && v.length <= 500);

export const formRequest = object({
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
    elsewhere: list.optional(),
  })
    .optional()
    .default(undefined),
});

export async function writeRequestOf(
  type: string,
  body: InferType<typeof formRequest>,
  user: { readonly id: number; readonly name: string; readonly email: string; readonly role: Role },
): Promise<WriteRequest> {
  return {
    type,
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
  };
}
