<script lang="ts">
  /** Records made up to show where the draft and the live rules differ, for what no sample shows. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { goto } from '$app/navigation';
  import type { Rulebook } from '@rigid-rule/core/document';
  import type { Witness } from '@rigid-rule/core/rule-tests';
  import type { DryRun } from '../proof/dry-run.svelte.ts';
  import { handover } from '../proof/handover.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    run: DryRun;
    live: Rulebook;
    draft: Rulebook;
  }
  const { run, live, draft }: Props = $props();
  let witnesses = $state.raw<readonly Witness[]>();
  let looking = $state(false);
  let problem = $state(false);
  async function look() {
    looking = true;
    problem = false;
    witnesses = await run.witnesses(live, draft).catch(() => {
      problem = true;
      return undefined;
    });
    looking = false;
  }
  const ruleOf = (key: string) => draft.rules.find((r) => r.key === key) ?? live.rules.find((r) => r.key === key);
  const open = (w: Witness) =>
    void goto(handover(w.test, draft.rules.some((r) => r.key === w.rule) ? w.rule : undefined));
</script>

<h2 class="mt-5 font-[650]">What no sample shows</h2>
{#if witnesses === undefined}
  <button type="button" class="word" disabled={looking} onclick={() => void look()}
    >{looking ? 'being looked for …' : 'look for differences'}</button
  >
  {#if problem}<p class="text-stop" role="alert">They could not be looked for. Try again.</p>{/if}
{:else if witnesses.length === 0}
  <p class="text-small text-soft">No record could be made up on which the draft and the live rules differ.</p>
{:else}
  <ul>
    <FirstOf items={witnesses} most={12} what="made-up records" tag="li">
      {#snippet item(w)}<li class="border-b border-line py-1.5">
          <button
            type="button"
            class="cursor-pointer text-left hover:text-brass"
            title="Try it on the bench"
            onclick={() => open(w)}>{w.text}</button
          >
          <span class="block text-small text-soft">{ruleOf(w.rule)?.name ?? w.rule}</span>
        </li>{/snippet}
    </FirstOf>
  </ul>
  <p class="mt-1 text-small text-soft">
    {ownWriting(witnesses.length)}
    {witnesses.length === 1 ? 'record was' : 'records were'} made up to show differences.
  </p>
{/if}
