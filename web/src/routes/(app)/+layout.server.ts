import { diffRulebooks } from '@rigid-rule/core';
import { permissionsOf } from '$lib/server/auth/roles.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { currentDraft, live } from '$lib/server/rulebook.ts';
import { isLocale, usualTag } from '$lib/locale.ts';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals, depends }) => {
  depends('app:state');
  const { name, role, email } = authorise(locals, 'rulebook.read');
  const [{ rulebook }, { release, program }] = await Promise.all([currentDraft(), live()]);
  return {
    user: { name, role, email },
    permissions: permissionsOf(role),
    theme: locals.theme,
    release,
    organisation: {
      zone: rulebook.zone,
      currency: rulebook.currency,
      locale: isLocale(rulebook.locale ?? '') ? rulebook.locale! : usualTag,
    },
    draftChanges: release === null ? rulebook.rules.length : diffRulebooks(program.rulebook, rulebook).length,
    types: rulebook.recordTypes.map(({ key, name: typeName, plural }) => ({ key, name: typeName, plural })),
  };
};
