/** The act of pages from which an earlier release is put back. */
import { fail, type RequestEvent } from '@sveltejs/kit';
import { number, object, string } from 'yup';
import { authorise } from './auth/guard.ts';
import { readForm } from './body.ts';
import { putBack } from './release.ts';

const back = object({
  number: number().integer().min(1).required(),
  note: string().trim().max(2000).required('Write why this release is put back.'),
});

export async function putBackAsked({ request, locals }: Pick<RequestEvent, 'request' | 'locals'>) {
  const user = authorise(locals, 'release');
  const form = await readForm(request, back);
  if ('wrong' in form) return fail(400, { backProblem: form.wrong });
  const result = await putBack(form.given.number, form.given.note, user.id);
  if ('problem' in result) return fail(409, { backProblem: result.problem });
  return { putBack: result.number };
}
