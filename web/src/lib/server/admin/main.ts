/** `rigid-rule-admin`: what an operator does from a shell, on the database that DATABASE_URL names. */
import { parseArgs } from 'node:util';
import { isRole, roles } from '../auth/roles.ts';
import { createSecret } from '../auth/secret.ts';
import { migrate } from '../db/migrate.ts';
import { closePool } from '../db/pool.ts';
import { addPerson } from '../people.ts';
import { verify } from './verify.ts';

const usage = `Usage:
  rigid-rule-admin add-person <email> --name <name> --role <${roles.join(' | ')}>
      Adds somebody who can sign in, and prints their first password.
  rigid-rule-admin verify [--repair]
      Compares the keys by which rules find records with the records, and releases with their digests.
      With --repair the keys are made anew where they differ.

DATABASE_URL says which database; without it the one that npm start runs here.
`;

/** The exit code: 0 done and well, 1 not well, 2 not understood. */
export async function main(args: readonly string[]): Promise<number> {
  let given;
  try {
    given = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { name: { type: 'string' }, role: { type: 'string' }, repair: { type: 'boolean' } },
    });
  } catch (e) {
    process.stderr.write(`${(e as Error).message}\n\n${usage}`);
    return 2;
  }
  const [command, email] = given.positionals;
  try {
    if (command === 'verify') return await verifyAll(given.values.repair ?? false);
    if (command === 'add-person' && email) return await add(email, given.values);
    process.stderr.write(usage);
    return 2;
  } finally {
    await closePool();
  }
}

async function add(email: string, { name, role = 'author' }: { name?: string; role?: string }): Promise<number> {
  if (!name || !isRole(role) || !email.includes('@')) {
    process.stderr.write(usage);
    return 2;
  }
  await migrate();
  const { secret: password } = createSecret();
  if (!(await addPerson({ email, name, role, password }, null))) {
    process.stderr.write(`${email} is there already.\n`);
    return 1;
  }
  process.stdout.write(`${email} can sign in as ${role}. Password: ${password}\n`);
  return 0;
}

async function verifyAll(repair: boolean): Promise<number> {
  const { indexes, releases } = await verify(repair);
  for (const { type, field, mode, missing, extra } of indexes)
    if (missing + extra > 0)
      process.stdout.write(
        `${type}.${field} (${mode}): ${missing} keys missing, ${extra} that belong to nothing${repair ? '; made anew' : ''}\n`,
      );
  for (const r of releases) if (!r.holds) process.stdout.write(`release ${r.number}: not what was released\n`);
  const wrong = indexes.filter((i) => i.missing + i.extra > 0).length;
  const broken = releases.filter((r) => !r.holds).length;
  process.stdout.write(
    `${indexes.length} indexes compared, ${wrong} differ; ${releases.length} releases, ${broken} differ.\n`,
  );
  return broken > 0 || (wrong > 0 && !repair) ? 1 : 0;
}
