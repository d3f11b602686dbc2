/** The database cannot do what was asked now; it may a little later. Nothing was saved. */
export class UnavailableError extends Error {
  /** Seconds after which trying again makes sense. */
  readonly retryAfter: number;

  constructor(message: string, retryAfter: number) {
    super(message);
    this.retryAfter = retryAfter;
  }
}

/** Thrown when a transaction still collides with others after all attempts. */
export class BusyError extends UnavailableError {
  constructor() {
    super('The database is busy. Nothing was saved; try again.', 1);
  }
}

/** Connections that cannot be made, or that broke (Node's system errors). */
const brokenConnections = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ENOTFOUND',
  'EAI_AGAIN',
  'ENOENT',
]);
/**
 * PostgreSQL's error codes, appendix A: a broken connection (08), too many of them, shut down or starting (57P), a
 * statement past its time, a lock, a transaction that waited too long.
 */
const away = /^(?:08...|53300|57P..|57014|55P03|25P03)$/;
/** Its disk or memory is full (53, 58030), or it only reads, as the one that takes over does at first. */
const takesNothing = /^(?:53(?!300)...|58030|25006)$/;
/** What node-postgres says in words only. */
const said =
  /^(?:Connection terminated|timeout exceeded when trying to connect|Query read timeout|Client has encountered a connection error|Cannot use a pool after)/;

/**
 * Values that a text, a number or a JSON of the database cannot hold (PostgreSQL's class 22, data exception): NUL, half
 * characters, numbers beyond its range. The request is at fault, and all of its transaction is rolled back.
 */
export const isUnstorable = (e: unknown): boolean => codeOf(e)?.startsWith('22') === true;

const codeOf = (e: unknown): string | undefined =>
  e instanceof Error && 'code' in e && typeof e.code === 'string' ? e.code : undefined;

/** Others hold what one statement needs, for too long; what is asked without it may be answered all the same. */
export const isHeldUp = (e: unknown): boolean => codeOf(e) === '55P03';

/** What an error means for the one who asked, where it is the database that is away, hangs or is overrun. */
export function unavailabilityOf(e: unknown): UnavailableError | undefined {
  if (e instanceof UnavailableError) return e;
  if (e instanceof AggregateError) return e.errors.map(unavailabilityOf).find((u) => u !== undefined);
  const code = codeOf(e) ?? '';
  if (takesNothing.test(code))
    return new UnavailableError('The database takes nothing in now. Nothing was saved; try again in a moment.', 5);
  const told = e instanceof Error && said.test(e.message);
  if (!told && !brokenConnections.has(code) && !away.test(code)) return undefined;
  return new UnavailableError('The database cannot be reached now. Nothing was saved; try again in a moment.', 5);
}
