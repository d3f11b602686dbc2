import { moving, impactWays } from '@rigid-rule/core/rule-tests';
import { error, json } from '@sveltejs/kit';
import { number, object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { endLiveRun, findLiveRun } from '$lib/server/db/live-dry-runs.ts';
import { beginLiveRun } from '$lib/server/jobs/live-dry-run.ts';
import { currentDraft, releaseProgram } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const question = object({
  way: string()
    .oneOf([...impactWays])
    .required(),
  /** Key of a rule that is switched off. */
  without: string().max(200).defined(),
  /** Number of a release; null: what is stored. */
  against: number().integer().min(1).nullable().defined(),
}).noUnknown();

/** The last dry run on live records, as far as it is; null where there is none. */
export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'drift.look');
  const run = await findLiveRun(undefined);
  if (!run) return json({ run: null });
  const { id, by, at, state, total, done, way, without, against } = run;
  const { rulebook } = await currentDraft();
  const types = rulebook.recordTypes.flatMap(({ key, plural }) => {
    const figures = run.figures[key];
    return figures ? [{ recordType: key, plural, samples: run.counts[key] ?? 0, figures: moving(figures) }] : [];
  });
  return json({ run: { id, by, at, state, total, done, way, without, against, types } });
};

/** Begins one with the draft as it stands; the one before it is forgotten. */
export const POST: RequestHandler = async ({ request, locals }) => {
  const user = authorise(locals, 'drift.look');
  const { way, without, against } = await readJson(request, question);
  if (against !== null && !(await releaseProgram(against))) error(404, 'There is no such release.');
  const { rulebook } = await currentDraft();
  return json({ id: await beginLiveRun({ rulebook, way, without, against }, user.id) }, { status: 201 });
};

export const DELETE: RequestHandler = async ({ locals }) => {
  authorise(locals, 'drift.look');
  const run = await findLiveRun(undefined);
  if (run) await endLiveRun(run.id, 'cancelled');
  return new Response(null, { status: 204 });
};
