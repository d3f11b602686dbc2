import { fail } from '@sveltejs/kit';
import { number, object, string } from 'yup';
import { programOf } from '$lib/server/auth/agent.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { isRole, may, roles } from '$lib/server/auth/roles.ts';
import { createSecret } from '$lib/server/auth/secret.ts';
import { readForm } from '$lib/server/body.ts';
import { addPerson, changePassword, newPassword } from '$lib/server/people.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { deleteOtherSessions, listSessions } from '$lib/server/db/sessions.ts';
import { endStreamsOfEndedSessions } from '$lib/server/event-stream.ts';
import { insertToken, listTokens, revokeToken } from '$lib/server/db/tokens.ts';
import { listUsers } from '$lib/server/db/users.ts';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
  const user = authorise(locals, 'rulebook.read');
  const mayManage = may(user.role, 'tokens.manage');
  const mayManagePeople = may(user.role, 'people.manage');
  return {
    mayManage,
    tokens: mayManage ? await listTokens() : [],
    origin: url.origin,
    session: user.sessionId,
    sessions: (await listSessions(user.id)).map((s) => ({ ...s, program: programOf(s.agent) })),
    mayManagePeople,
    people: mayManagePeople ? await listUsers() : [],
    roles,
  };
};

const token = object({
  name: string().trim().max(80, 'A name takes at most 80 characters.').required('Give the token a name: who uses it?'),
  scope: string()
    .oneOf(['read', 'write'] as const)
    .default('write'),
  days: number().integer().min(1).max(366, 'A token is in force for a year at most.').default(90),
});
const revoke = object({ id: number().integer().min(1).required() });
const person = object({
  name: string().trim().max(120, 'A name takes at most 120 characters.').required('Fill in a name.'),
  email: string().trim().max(254).email('This is no email address.').required('Fill in an email.'),
  role: string().required('Choose a role.').test('role', 'There is no such role.', isRole),
});
const passwords = object({
  current: string().max(1000).required('Fill in your current password.'),
  next: newPassword,
});

export const actions: Actions = {
  create: async ({ request, locals }) => {
    const user = authorise(locals, 'tokens.manage');
    const form = await readForm(request, token);
    if ('wrong' in form) return fail(400, { problem: form.wrong });
    const { name, scope, days } = form.given;
    const { secret, digest } = createSecret('rrt_');
    await insertToken(digest, { name, mayWrite: scope === 'write', days }, user.id);
    await insertAudit('made a token', user.id, { name, scope, days });
    return { made: { secret, name } };
  },
  revoke: async ({ request, locals }) => {
    const user = authorise(locals, 'tokens.manage');
    const form = await readForm(request, revoke);
    if ('wrong' in form) return fail(400, { problem: 'There is no such token.' });
    const { id } = form.given;
    if (await revokeToken(id)) await insertAudit('revoked a token', user.id, { id });
    return { revoked: true };
  },
  endSessions: async ({ locals }) => {
    const user = authorise(locals, 'rulebook.read');
    const ended = await deleteOtherSessions(user.id, user.sessionId);
    await endStreamsOfEndedSessions();
    await insertAudit('ended sessions', user.id, { ended });
    return { ended };
  },
  changePassword: async ({ request, locals }) => {
    const user = authorise(locals, 'rulebook.read');
    const form = await readForm(request, passwords);
    if ('wrong' in form) return fail(400, { passwordProblem: form.wrong });
    if (!(await changePassword(user, form.given))) return fail(400, { passwordProblem: 'This is not your password.' });
    return { changed: true };
  },
  addPerson: async ({ request, locals }) => {
    const user = authorise(locals, 'people.manage');
    const form = await readForm(request, person);
    if ('wrong' in form) return fail(400, { personProblem: form.wrong });
    const { secret: password } = createSecret();
    const { role, ...given } = form.given;
    const added = isRole(role) && (await addPerson({ ...given, role, password }, user.id));
    if (!added) return fail(400, { personProblem: `${given.email} is there already.` });
    return { added: { name: given.name, password } };
  },
};
