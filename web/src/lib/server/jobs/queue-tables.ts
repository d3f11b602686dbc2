import { Logger, runMigrations } from 'graphile-worker';
import type pg from 'pg';
import { log } from '../log.ts';

const levels = { error: 'error', warning: 'warn', info: 'debug', debug: 'trace' } as const;

/** What the queue says of itself, in the application's log. */
export const queueLogger = new Logger(() => (level, message) => {
  log[levels[level as keyof typeof levels]](`queue: ${message}`);
});

/** The queue's own tables. */
export const migrateQueue = (owner: pg.Pool): Promise<void> => runMigrations({ pgPool: owner, logger: queueLogger });
