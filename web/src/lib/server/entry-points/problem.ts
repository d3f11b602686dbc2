/** Errors of the API as problem details (RFC 9457). */
export interface FieldProblem {
  readonly field?: string;
  readonly rule?: string;
  readonly message: string;
}

const types: Readonly<Record<number, readonly [slug: string, title: string]>> = {
  400: ['malformed', 'The request cannot be read'],
  401: ['token-needed', 'A token is needed'],
  403: ['not-allowed', 'Not allowed'],
  404: ['not-found', 'Not found'],
  405: ['method', 'This address does not take that method'],
  412: ['changed-meanwhile', 'The record was changed meanwhile'],
  413: ['too-large', 'The request is too large'],
  415: ['media-type', 'The media type is not taken here'],
  422: ['stopped', 'The rules stop this write'],
  421: ['host', 'This host is not served here'],
  428: ['version-needed', 'If-Match is needed'],
  500: ['fault', 'Something went wrong on our side'],
  503: ['unavailable', 'Not available now'],
};

/** Characters of a text that an answer repeats: it may hold what was sent. */
const longest = 200;
const shortened = (text: string): string => (text.length <= longest ? text : `${text.slice(0, longest - 1)}…`);

export function problem(
  status: number,
  detail: string,
  more: { readonly errors?: readonly FieldProblem[]; readonly headers?: Readonly<Record<string, string>> } = {},
): Response {
  const [slug, title] = types[status] ?? ['error', 'Error'];
  const body = {
    type: `/api/problems#${slug}`,
    title,
    status,
    detail: shortened(detail),
    ...(more.errors ? { errors: more.errors.map((e) => ({ ...e, message: shortened(e.message) })) } : {}),
  };
  return new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/problem+json', 'cache-control': 'no-store', ...more.headers },
  });
}
