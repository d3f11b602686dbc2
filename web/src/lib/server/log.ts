import pino from 'pino';

/** One JSON line an event. Secrets are never passed to it; the paths below are a second guard. */
export const log = pino({
  level: process.env['LOG_LEVEL'] ?? 'info',
  redact: ['password', 'token', 'secret', 'cookie', 'authorization', '*.password', '*.token'],
});
