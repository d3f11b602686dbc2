import { json } from '@sveltejs/kit';
import { number, object } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { usualSampleSet } from '$lib/server/db/samples.ts';
import { questions, readQuestions } from '$lib/server/questions.ts';
import { answerFromSamples } from '$lib/server/sample-source.ts';
import type { RequestHandler } from './$types';

const body = object({ asks: questions, set: number().integer().min(1) });

/** What rules ask of other records, answered from a set of samples: that asked for, else the oldest. */
export const POST: RequestHandler = async ({ request, locals }) => {
  authorise(locals, 'rulebook.read');
  const { asks, set } = await readJson(request, body);
  const given = readQuestions(asks);
  const id = await usualSampleSet(set);
  return json({ answers: id === undefined ? given.map(() => []) : await answerFromSamples(id, given) });
};
