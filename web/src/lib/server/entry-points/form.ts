/** The entry point of people at a form: what it sends of a record, to be saved or only looked at. Routes hand over to it. */
import { formKey } from '@rigid-rule/core/compile';
import { array, mixed, number, object, string, type InferType } from 'yup';
import { actingUser } from '../acting-user.ts';
import { readJson } from '../body.ts';
import type { WriteRequest, WriteResult } from './settling.ts';
import { withWriteKey } from './write-key.ts';
import { previewWrite, writeRecord } from './write.ts';
import { liveRelease } from '../rulebook.ts';
import type { Role } from '../auth/roles.ts';

const isRecord = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);
const record = mixed<Record<string, unknown>>((v): v is Record<string, unknown> => isRecord(v));
/** Twice a record as long as programs may send one: what is sent, and what was seen. */
const mostBytes = 3_000_000;
/** Fields of one record, and messages about them: more than any type has. */
const mostFields = 5000;
const list = mixed<readonly unknown[]>((v): v is readonly unknown[] => Array.isArray(v) && v.length <= 500);

const key = string().max(200);

const formRequest = object({
  id: number().integer().min(1),
  version: number().integer().min(1),
  form: key.required(),
  sent: record.required(),
  typed: array(key.required()).max(mostFields).required(),
  woken: array(key.required()).max(mostFields).required(),
  handBack: array(key.required()).max(mostFields),
  seen: object({
    fields: array(key.required()).max(mostFields).required(),
    data: record.required(),
    states: record.required(),
    messages: array(
      object({
        severity: string()
          .oneOf(['stop', 'warn'] as const)
          .required(),
        // Rules put into it what a field holds.
        text: string().required(),
        field: key,
      }),
    )
      .max(mostFields)
      .required(),
    verdict: string()
      .oneOf(['saved', 'stopped', 'does not settle'] as const)
      .required(),
    elsewhere: list.optional(),
  })
    .optional()
    .default(undefined),
  /** What is sent again since no answer came has the same. */
  key: string().uuid(),
});

async function writeRequestOf(
  type: string,
  body: InferType<typeof formRequest>,
  user: { readonly id: number; readonly name: string; readonly email: string; readonly role: Role },
): Promise<WriteRequest> {
  const request: WriteRequest = {
    type,
    ...(body.id === undefined ? {} : { id: body.id }),
    ...(body.version === undefined ? {} : { versions: [body.version] }),
    sent: body.sent,
    typed: body.typed,
    woken: body.woken,
    entryPoint: formKey(body.form),
    by: { userId: user.id },
    user: await actingUser(user, (await liveRelease()).program.rulebook),
    ...(body.handBack ? { handBack: body.handBack } : {}),
    ...(body.seen ? { seen: body.seen as unknown as NonNullable<WriteRequest['seen']> } : {}),
  };
  return body.key === undefined ? request : withWriteKey(request, body.key);
}

type FormUser = Parameters<typeof writeRequestOf>[2];

const status: Readonly<Record<WriteResult['outcome'], number>> = {
  saved: 200,
  stopped: 422,
  differs: 409,
  'changed meanwhile': 409,
  'no record': 404,
  'no type': 404,
  'key used': 422,
  'no entry point': 422,
};

/** Saves what a form sends. It is settled again, on its own. */
export async function saveForm(request: Request, type: string, user: FormUser): Promise<Response> {
  const result = await writeRecord(await writeRequestOf(type, await readJson(request, formRequest, mostBytes), user));
  return Response.json(result, { status: status[result.outcome] });
}

/** What saving this would do to other records; nothing is kept of it. */
export async function previewForm(request: Request, type: string, user: FormUser): Promise<Response> {
  return Response.json(
    await previewWrite(await writeRequestOf(type, await readJson(request, formRequest, mostBytes), user)),
  );
}
