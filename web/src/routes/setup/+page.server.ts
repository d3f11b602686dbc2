import { fieldsPath } from '$lib/addresses.ts';
import { error, fail, redirect } from '@sveltejs/kit';
import { object, string } from 'yup';
import { closeSetup, isSetupToken } from '$lib/server/auth/setup-token.ts';
import { beginSession } from '$lib/server/auth/session-cookie.ts';
import { readForm } from '$lib/server/body.ts';
import { hasUsers } from '$lib/server/db/users.ts';
import { addFirst, newPassword } from '$lib/server/people.ts';
import type { Actions, PageServerLoad } from './$types';

/** @throws 404 where there is somebody already, 403 without the token that was told at the start. */
async function requireToken(url: URL): Promise<void> {
  if (await hasUsers()) error(404, 'This installation has its first person. Sign in.');
  if (!isSetupToken(url.searchParams.get('token') ?? ''))
    error(403, 'This address is not the one that was told when the application was started last.');
}

export const load: PageServerLoad = async ({ url }) => {
  await requireToken(url);
};

const first = object({
  name: string().trim().max(120).required('Fill in your name.'),
  email: string().trim().max(254).email('This is no email address.').required('Fill in your email.'),
  password: newPassword,
});

export const actions: Actions = {
  default: async (event) => {
    await requireToken(event.url);
    const form = await readForm(event.request, first);
    if ('wrong' in form) {
      const { name = '', email = '' } = form.sent;
      return fail(400, { name, email, problem: form.wrong });
    }
    const id = await addFirst(form.given);
    if (id === undefined) error(404, 'This installation has its first person. Sign in.');
    closeSetup();
    await beginSession(event, id);
    redirect(303, fieldsPath);
  },
};
