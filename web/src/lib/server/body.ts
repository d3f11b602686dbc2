import { error } from '@sveltejs/kit';
import { ValidationError, type Schema, type InferType } from 'yup';
import { readText } from './read-text.ts';

/** Enough for any form; what needs more says so. */
const usualBytes = 500_000;

/** The body of a JSON request, checked. @throws 400, 413 or 415 that says what is wrong. */
export async function readJson<S extends Schema>(
  request: Request,
  schema: S,
  mostBytes = usualBytes,
): Promise<InferType<S>> {
  if (!request.headers.get('content-type')?.startsWith('application/json')) error(415, 'Send JSON.');
  const text = await readText(request, mostBytes);
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
