import { error } from '@sveltejs/kit';
import { ValidationError, type AnyObject, type InferType, type ObjectSchema, type Schema } from 'yup';
import { readText, UnreadableBody } from './read-text.ts';

/** Enough for any form; what needs more says so. */
const usualBytes = 500_000;
const mostOfForm = 100_000;

/** The body of a JSON request, checked. @throws 400, 413 or 415 that says what is wrong. */
export async function readJson<S extends Schema>(
  request: Request,
  schema: S,
  mostBytes = usualBytes,
): Promise<InferType<S>> {
  if (!request.headers.get('content-type')?.startsWith('application/json')) error(415, 'Send JSON.');
  const text = await readText(request, mostBytes).catch(unreadable);
  if (text === undefined) error(413, 'This is more than can be sent at once.');
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    error(400, 'The body is not JSON.');
  }
  try {
    return await schema.validate(body, { strict: true, stripUnknown: false });
  } catch (e) {
    if (e instanceof ValidationError) error(400, e.message);
    throw e;
  }
}

function unreadable(e: unknown): never {
  if (e instanceof UnreadableBody) error(400, e.message);
  throw e;
}

/** What was sent by a form, or what is wrong with it and the texts that were sent, to be shown again. */
export type Form<T> =
  | { readonly given: T }
  | { readonly wrong: string; readonly sent: Readonly<Record<string, string | undefined>> };

/**
 * A form, checked. Only texts of fields that the schema names are looked at: what else is sent is nobody's.
 *
 * @throws 400 where the body cannot be read as a form, 413 where it is too long or does not say how long it is.
 */
export async function readForm<T extends AnyObject>(request: Request, schema: ObjectSchema<T>): Promise<Form<T>> {
  const length = Number(request.headers.get('content-length') ?? Infinity);
  if (!(length <= mostOfForm)) error(413, 'This is more than can be sent at once.');
  // It is no form, or was cut off.
  const form = await request.formData().catch(() => error(400, 'This cannot be read as a form.'));
  const texts = Object.keys(schema.fields).flatMap((field) => {
    const text = form.get(field);
    return typeof text === 'string' ? [[field, text] as const] : [];
  });
  const sent = Object.fromEntries(texts);
  try {
    return { given: (await schema.validate(sent)) as T };
  } catch (e) {
    if (e instanceof ValidationError) return { wrong: e.message, sent };
    throw e;
  }
}
