import { authorise } from '$lib/server/auth/guard.ts';
import { saveForm } from '$lib/server/entry-points/form.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ request, params, locals }) =>
  saveForm(request, params.type, authorise(locals, 'records.write'));
