import { fail, redirect } from '@sveltejs/kit';
import { object, string } from 'yup';
import { signIn } from '$lib/server/auth/sign-in.ts';
import { beginSession } from '$lib/server/auth/session-cookie.ts';
import { readForm } from '$lib/server/body.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { hasUsers } from '$lib/server/db/users.ts';
import { isDemo } from '$lib/server/demo.ts';
import type { Actions, PageServerLoad } from './$types';

/** A path within this application; anything else leads home, so that a link cannot send people elsewhere. */
function safeNext(next: string | null, { origin }: URL): string {
  // Read as browsers read it: they leave out tabs and line ends, and take a backslash for a slash.
  const there = next?.startsWith('/') && URL.canParse(next, origin) ? new URL(next, origin) : undefined;
  return there?.origin === origin ? there.pathname + there.search : '/';
}

export const load: PageServerLoad = async ({ locals, url }) => {
  if (locals.user) redirect(303, safeNext(url.searchParams.get('next'), url));
  const demo = isDemo() ? (await import('@rigid-rule/demo')).demoUsers : [];
  return { demo, begun: await hasUsers() };
};

const credentials = object({
  email: string().trim().max(254).required('Fill in your email.'),
  password: string().max(1000).required('Fill in your password.'),
});

export const actions: Actions = {
  default: async (event) => {
    const { request, url, getClientAddress } = event;
    const form = await readForm(request, credentials);
    if ('wrong' in form) return fail(400, { email: form.sent['email'] ?? '', problem: form.wrong });
    const { email, password } = form.given;
    const result = await signIn(email, password, getClientAddress());
    if ('problem' in result) {
      await insertAudit('sign-in refused', null, { email, place: getClientAddress() });
      return fail(401, { email, problem: result.problem });
    }
    await beginSession(event, result.user.id);
    redirect(303, safeNext(url.searchParams.get('next'), url));
  },
};
