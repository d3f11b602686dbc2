import { error } from '@sveltejs/kit';
import { ValidationError, type Schema, type InferType } from 'yup';

/** The body of a JSON request, checked. @throws 400 or 415 that says what is wrong. */
export async function readJson<S extends Schema>(request: Request, schema: S): Promise<InferType<S>> {
  if (!request.headers.get('content-type')?.startsWith('application/json')) error(415, 'Send JSON.');
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    error(400, 'The body is not JSON.');
  }
  try {
    return (await schema.validate(body, { strict: true, stripUnknown: false })) as InferType<S>;
  } catch (e) {
    if (e instanceof ValidationError) error(400, e.message);
    throw e;
  }
}
