import { permissionsOf } from '$lib/server/auth/roles.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { currentDraft, draftChanges, liveRelease } from '$lib/server/rulebook.ts';
import { isLocale, usualTag } from '$lib/locale.ts';
import type { RecordType } from '@rigid-rule/core/document';
import type { LayoutServerLoad } from './$types';

const namesOf = ({ key, name, plural }: RecordType) => ({ key, name, plural });

export const load: LayoutServerLoad = async ({ locals, depends }) => {
  depends('app:state');
  const { id, name, role, email } = authorise(locals, 'rulebook.read');
  const [draft, current] = await Promise.all([currentDraft(), liveRelease()]);
  const { rulebook } = draft;
  return {
    user: { id, name, role, email },
    permissions: permissionsOf(role),
    theme: locals.theme,
    release: current.release,
    organisation: {
      zone: rulebook.zone,
      currency: rulebook.currency,
      locale: isLocale(rulebook.locale ?? '') ? rulebook.locale! : usualTag,
    },
    draftChanges: await draftChanges(draft, current),
    types: rulebook.recordTypes.map(namesOf),
    /** Those that there can be live records of. */
    liveTypes: current.program.rulebook.recordTypes.map(namesOf),
  };
};
