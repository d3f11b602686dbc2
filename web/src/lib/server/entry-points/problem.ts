/** Errors of the API as problem details (RFC 9457). */
export interface FieldProblem {
  readonly field?: string;
  readonly rule?: string;
  readonly message: string;
}

type Kind = readonly [status: number, fragment: string, title: string, advice: string];
/** Each kind of problem: its status, its fragment at `problemsPath`, its title, and what whoever is told of it can do. */
const kinds: readonly Kind[] = [
  [400, 'malformed', 'The request cannot be read', 'Send a JSON object of values by field key.'],
  [401, 'token-needed', 'A token is needed', 'Send Authorization: Bearer with a token from Settings that is in force.'],
  [403, 'not-allowed', 'Not allowed', 'Use a token that may write.'],
  [404, 'not-found', 'Not found', 'Look at the record type and at the id.'],
  [405, 'method', 'This address does not take that method', 'Allow names those that it takes.'],
  [412, 'changed-meanwhile', 'The record was changed meanwhile', 'Read it again and send its present ETag.'],
  [413, 'too-large', 'The request is too large', 'Send less at once.'],
  [415, 'media-type', 'The media type is not taken here', 'Send application/json, and say so in Content-Type.'],
  [421, 'host', 'This host is not served here', 'Ask under a name that the installation lists.'],
  [
    422,
    'stopped',
    'The rules stop this write',
    'Nothing was saved. Each of errors names its field and rule; change what they say.',
  ],
  [
    422,
    'key-used',
    'This Idempotency-Key came with another request',
    'Make a new key for each write, and send it again with the same write only.',
  ],
  [428, 'version-needed', 'If-Match is needed', 'Send the ETag of what was read, or * for whatever is there.'],
  [
    500,
    'fault',
    'Something went wrong on our side',
    'What was saved before is kept. Whoever runs this finds it in the log.',
  ],
  [503, 'unavailable', 'Not available now', 'Nothing was saved. Retry-After says in how many seconds to try again.'],
];

/** Where the kinds of problems are explained; each is named by its address there. */
const problemsPath = '/api/problems';

/** The page behind `type`, for people who look a problem up. */
export function problemsPage(): Response {
  const part = ([status, fragment, title, advice]: Kind): string =>
    `<dt id="${fragment}">${status} ${title}</dt><dd>${advice}</dd>`;
  const page = `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Problems of the API</title></head>
<body><main><h1>Problems of the API</h1><dl>${kinds.map(part).join('\n')}</dl></main></body></html>`;
  return new Response(page, { headers: { 'content-type': 'text/html; charset=utf-8' } });
}

/** Characters of a text that an answer repeats: it may hold what was sent. */
const longest = 200;
const shortened = (text: string): string => (text.length <= longest ? text : `${text.slice(0, longest - 1)}…`);

export function problem(
  status: number,
  detail: string,
  more: {
    /** Its fragment, where its status alone does not tell. */
    readonly kind?: string;
    readonly errors?: readonly FieldProblem[];
    readonly headers?: Readonly<Record<string, string>>;
  } = {},
): Response {
  const [, fragment, title] = kinds.find((k) => k[0] === status && (more.kind ?? k[1]) === k[1]) ?? [
    0,
    'error',
    'Error',
  ];
  const body = {
    type: `${problemsPath}#${fragment}`,
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
