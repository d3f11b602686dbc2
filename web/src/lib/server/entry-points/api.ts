/** The entry point of other programs: tokens, ETags, problem details. Routes hand over to it. */
import type { RecordData } from '@rigid-rule/core/document';
import type { Message } from '@rigid-rule/core/settle';
import { digestOf } from '../auth/secret.ts';
import { findRecord } from '../db/records.ts';
import { isUnstorable, unavailabilityOf } from '../db/unavailable.ts';
import { useToken, type TokenInForce } from '../db/tokens.ts';
import { readText, UnreadableBody } from '../read-text.ts';
import { problem } from './problem.ts';
import { writeRecord } from './write.ts';
import type { Saved, WriteRequest, WriteResult } from './settling.ts';
import { withWriteKey } from './write-key.ts';

const largestBody = 1_000_000;

/** Runs `answer` for a request with a token in force; everything else is answered with a problem. */
export async function withToken(
  request: Request,
  answer: (token: TokenInForce) => Promise<Response>,
): Promise<Response> {
  const given = /^Bearer ([A-Za-z0-9_-]{20,200})$/i.exec(request.headers.get('authorization') ?? '');
  try {
    const token = given ? await useToken(digestOf(given[1]!)) : undefined;
    if (token && !token.mayWrite && request.method !== 'GET' && request.method !== 'HEAD')
      return problem(403, 'This token may read records, not write them.');
    if (token) return await answer(token);
    const detail = given ? 'This token is not in force.' : 'Send a token as Authorization: Bearer ….';
    return problem(401, detail, { headers: { 'www-authenticate': 'Bearer realm="Rigid Rule"' } });
  } catch (e) {
    if (isUnstorable(e)) return problem(400, 'This holds characters or numbers that cannot be stored.');
    const away = unavailabilityOf(e);
    if (away) return problem(503, away.message, { headers: { 'retry-after': String(away.retryAfter) } });
    throw e;
  }
}

const etag = (version: number): string => `"${version}"`;

/** Versions that an If-Match header names (RFC 9110, 13.1.1). A weak ETag is none of them: nothing here is nearly the same. */
function versionsIn(header: string): readonly number[] {
  return header.split(',').flatMap((tag) => {
    const [, version] = /^"(\d{1,9})"$/.exec(tag.trim()) ?? [];
    return version === undefined ? [] : [Number(version)];
  });
}

const json = { 'content-type': 'application/json', 'cache-control': 'no-store' };

export async function readRecord(type: string, id: number): Promise<Response> {
  const record = await findRecord(type, id);
  if (!record) return problem(404, `There is no ${type} ${id}.`);
  return Response.json(
    { id: record.id, data: record.data, held: record.held },
    {
      headers: { ...json, etag: etag(record.version) },
    },
  );
}

/** Creates a record from a JSON object of values by field key. */
export async function createRecord(request: Request, type: string, token: TokenInForce): Promise<Response> {
  const body = await readBody(request, ['application/json']);
  if (body instanceof Response) return body;
  const write = apiWrite(request, type, token, body);
  return write instanceof Response ? write : writeOnce(request, write, 'created');
}

/** Changes a record by a JSON Merge Patch (RFC 7396) of values by field key; null clears. */
export async function changeRecord(request: Request, type: string, id: number, token: TokenInForce): Promise<Response> {
  const body = await readBody(request, ['application/json', 'application/merge-patch+json']);
  if (body instanceof Response) return body;
  const match = request.headers.get('if-match');
  if (match === null) return problem(428, 'Send If-Match with the ETag of the record that you changed, or * for any.');
  const versions = match.trim() === '*' ? undefined : versionsIn(match);
  if (versions?.length === 0) return problem(412, `${match} is no ETag of this record.`);
  const write = apiWrite(request, type, token, body);
  if (write instanceof Response) return write;
  return writeOnce(request, { ...write, id, ...(versions ? { versions } : {}) }, 'changed');
}

type Done = 'created' | 'changed';

/** The Idempotency-Key HTTP header field, an Internet-Draft of the IETF: a string, with or without its quotation marks. */
const idempotencyKey = /^("?)([\x21\x23-\x7e]{1,200})\1$/;

async function writeOnce(request: Request, write: WriteRequest, done: Done): Promise<Response> {
  const given = request.headers.get('idempotency-key');
  const key = given === null ? undefined : idempotencyKey.exec(given.trim())?.[2];
  if (given !== null && key === undefined)
    return problem(400, 'An Idempotency-Key is 1 to 200 characters of ASCII, such as a UUID.');
  return answerWrite(await writeRecord(key === undefined ? write : withWriteKey(write, key)), write.type, done);
}

/**
 * `?hold=true`: what is sent is held as if a person had typed it, in the order of the object. `?hand_back=a,b`: fields
 * handed back to their rules.
 */
function apiWrite(
  request: Request,
  type: string,
  token: TokenInForce,
  sent: Record<string, unknown>,
): WriteRequest | Response {
  const { searchParams } = new URL(request.url);
  const hold = searchParams.get('hold') ?? 'false';
  if (hold !== 'true' && hold !== 'false') return problem(400, 'hold is true or false.');
  const handBack = (searchParams.get('hand_back') ?? '').split(',').filter(Boolean);
  return {
    type,
    sent,
    typed: hold === 'true' ? Object.keys(sent) : [],
    entryPoint: 'api',
    by: { tokenId: token.id },
    ...(hold === 'true' ? { hold: true } : {}),
    ...(handBack.length > 0 ? { handBack } : {}),
  };
}

async function readBody(request: Request, media: readonly string[]): Promise<Record<string, unknown> | Response> {
  const type = (request.headers.get('content-type') ?? '').split(';')[0]!.trim().toLowerCase();
  if (!media.includes(type)) return problem(415, `Send ${media.join(' or ')}.`);
  const text = await readText(request, largestBody).catch((e: unknown) => {
    if (e instanceof UnreadableBody) return e;
    throw e;
  });
  if (text instanceof UnreadableBody) return problem(400, text.message);
  if (text === undefined) return problem(413, 'A record takes at most a megabyte.');
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch (e) {
    return problem(400, `The body is not JSON: ${(e as Error).message}.`);
  }
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    return problem(400, 'The body has to be an object of values by field key.');
  return body as Record<string, unknown>;
}

const toldAs = ({ field, rule, severity, text }: Message) => ({
  ...(field ? { field } : {}),
  ...(rule ? { rule } : {}),
  severity,
  message: text,
});

function answerWrite(result: WriteResult, type: string, done: Done): Response {
  switch (result.outcome) {
    case 'saved':
      return savedResponse(result, type, done);
    case 'key used':
      return problem(422, 'This Idempotency-Key came with another request before.', { kind: 'key-used' });
    case 'no record':
      return problem(404, 'There is no such record.');
    case 'no entry point':
      return problem(404, 'Programs cannot write records of this type.');
    case 'no type':
      return problem(404, `There is no record type ${type}.`);
    case 'changed meanwhile':
      return problem(412, `The record is at version ${result.record.version} by now. Read it again.`, {
        headers: { etag: etag(result.record.version) },
      });
    case 'stopped':
    case 'differs': {
      const errors = result.settlement.messages.map(toldAs);
      return problem(422, errors.map((e) => e.message).join(' '), { errors });
    }
  }
}

function savedResponse({ id, version, release, settlement }: Saved, type: string, done: Done): Response {
  const body: { id: number; data: RecordData; release: number | null; changes: unknown; messages: unknown } = {
    id,
    data: settlement.data,
    release,
    changes: settlement.changes,
    messages: settlement.messages.map(toldAs),
  };
  const location = `/api/v1/records/${type}/${id}`;
  return Response.json(body, {
    status: done === 'created' ? 201 : 200,
    headers: { ...json, etag: etag(version), ...(done === 'created' ? { location } : {}) },
  });
}
