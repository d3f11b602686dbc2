import { fail } from '@sveltejs/kit';
import { number, object, string, ValidationError } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { createSecret } from '$lib/server/auth/secret.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { insertToken, listTokens, revokeToken } from '$lib/server/db/tokens.ts';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
  const user = authorise(locals, 'rulebook.read');
  const mayManage = may(user.role, 'tokens.manage');
  return { mayManage, tokens: mayManage ? await listTokens() : [], origin: url.origin };
};

const create = object({
  name: string().trim().max(80, 'A name takes at most 80 characters.').required('Give the token a name: who uses it?'),
});
const revoke = object({ id: number().integer().min(1).required() });

export const actions: Actions = {
  create: async ({ request, locals }) => {
    const user = authorise(locals, 'tokens.manage');
    const form = Object.fromEntries(await request.formData());
    try {
      const { name } = await create.validate(form);
      const { secret, digest } = createSecret('rrt_');
      await insertToken(digest, name, user.id);
      await insertAudit('made a token', user.id, { name });
      return { secret, name };
    } catch (e) {
      if (e instanceof ValidationError) return fail(400, { problem: e.message });
      throw e;
    }
  },
  revoke: async ({ request, locals }) => {
    const user = authorise(locals, 'tokens.manage');
    const { id } = await revoke.validate(Object.fromEntries(await request.formData()));
    if (await revokeToken(id)) await insertAudit('revoked a token', user.id, { id });
    return { revoked: true };
  },
};
