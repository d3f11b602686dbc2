import { error } from '@sveltejs/kit';
import type { SessionUser } from '../db/sessions.ts';
import { may, type Permission } from './roles.ts';

const words: Readonly<Record<Permission, string>> = {
  'rulebook.read': 'read the rulebook',
  'rulebook.write': 'change the draft',
  'tables.keep': 'change anything of the draft',
  'samples.write': 'make sample sets',
  'samples.copy': 'copy live records into samples',
  'impact.agree': 'agree to what a draft changes',
  'drift.look': 'look at all live records',
  release: 'release',
  'records.read': 'read records',
  'records.write': 'change records',
  'tokens.manage': 'manage API tokens',
  'people.manage': 'add people',
};

/** The signed-in user, if the role allows it. @throws 401 or 403, in words. */
export function authorise(locals: App.Locals, permission: Permission): SessionUser {
  const { user } = locals;
  if (!user) error(401, 'Sign in first.');
  if (!may(user.role, permission)) error(403, `As ${user.role} you cannot ${words[permission]}.`);
  return user;
}
