import { deskPath, mappingsPath, recordsPath, releasePath } from '$lib/addresses.ts';
import { redirect } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import type { Role } from '$lib/server/auth/roles.ts';
import type { PageServerLoad } from './$types';

/** Where each person's work begins. */
const home: Readonly<Record<Role, string>> = {
  author: deskPath,
  releaser: releasePath,
  'table keeper': mappingsPath,
  'record keeper': recordsPath,
  viewer: deskPath,
};

export const load: PageServerLoad = ({ locals }) => redirect(303, home[authorise(locals, 'rulebook.read').role]);
