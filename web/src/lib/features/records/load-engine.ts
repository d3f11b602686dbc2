/** The engine of a form, in the browser: the rules that the page brought along, compiled with all that they ask for. */
import { compileProgram } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import { hostOf } from '$lib/host-loading.ts';
import { FormEngine } from './form-engine.ts';
import type { FormIdentity } from './form-state.ts';

export async function formEngine(rulebook: Rulebook, identity: FormIdentity): Promise<FormEngine> {
  return new FormEngine(compileProgram(rulebook, await hostOf(rulebook)), identity);
}
