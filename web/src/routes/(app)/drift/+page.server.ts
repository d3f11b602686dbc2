import { fail } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { driftByField, endDrift, findDriftRun, insertDriftRun, listDrift } from '$lib/server/db/drift.ts';
import { findRecords } from '$lib/server/db/records.ts';
import { db } from '$lib/server/db/pool.ts';
import { serializable } from '$lib/server/db/transaction.ts';
import { driftingTypes } from '$lib/server/jobs/drift.ts';
import { liveRelease } from '$lib/server/rulebook.ts';
import { recordTitle } from '@rigid-rule/core/language';
import type { Actions, PageServerLoad } from './$types';

const mostListed = 100;

export const load: PageServerLoad = async ({ locals, url, depends }) => {
  depends('app:drift');
  const user = authorise(locals, 'records.read');
  const [run, { release, program }] = await Promise.all([findDriftRun(undefined), liveRelease()]);
  const fields = run ? await driftByField(run.id) : [];
  const chosen =
    fields.find((f) => f.type === url.searchParams.get('type') && f.field === url.searchParams.get('field')) ??
    fields[0];
  const listed = run && chosen ? await listDrift(run.id, chosen.type, chosen.field, mostListed) : [];
  const type = program.rulebook.recordTypes.find((t) => t.key === chosen?.type);
  const records = chosen
    ? await findRecords(
        chosen.type,
        listed.map((l) => l.id),
        db(),
      )
    : [];
  return {
    run,
    release,
    fields,
    chosen,
    listed,
    titles: Object.fromEntries(records.map((r) => [r.id, type ? recordTitle(type, r.data) : ''])),
    recordTypes: program.rulebook.recordTypes,
    rules: Object.fromEntries(program.rulebook.rules.map((r) => [r.key, r.name])),
    mayLook: may(user.role, 'drift.look'),
  };
};

export const actions: Actions = {
  look: async ({ locals }) => {
    const user = authorise(locals, 'drift.look');
    const { release, program } = await liveRelease();
    if (release === null) return fail(409, { problem: 'Nothing is live yet: there is nothing to look for.' });
    const types = driftingTypes(program);
    await serializable(async (client) => {
      const id = await insertDriftRun(release, types, user.id, client);
      await insertAudit('drift looked for', user.id, { run: id, release }, client);
    });
    return { begun: true };
  },
  cancel: async ({ locals }) => {
    authorise(locals, 'drift.look');
    const run = await findDriftRun(undefined);
    if (run) await endDrift(run.id, 'cancelled');
    return { cancelled: true };
  },
};
