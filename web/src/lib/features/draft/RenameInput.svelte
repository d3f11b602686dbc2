<script lang="ts">
  /** A name that formulas know: changing it shows what will be rewritten, and does it in one act. */
  import type { Renaming } from '@rigid-rule/core/refactor';
  import type { Draft } from './draft.svelte.ts';
  import { planRenaming } from './renaming.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    draft: Draft;
    name: string;
    label: string;
    renaming: (name: string) => Renaming;
    class?: string;
    /** Class of what is shown below the input: as wide as it, where it says nothing else. */
    planClass?: string;
  }
  const { draft, name, label, renaming, class: extra = '', planClass = '' }: Props = $props();
  const id = $props.id();
  let typing = $state<string>();
  const wanted = $derived(typing?.trim().replace(/\s+/g, ' '));
  const plan = $derived(
    wanted === ''
      ? { problem: `Enter a name: it stays ${name} until there is one.` }
      : wanted !== undefined && wanted !== name
        ? planRenaming(draft.rulebook, renaming(wanted), draft.program)
        : undefined,
  );

  function commit() {
    if (plan && 'edits' in plan) draft.editAll(plan.edits, `rename ${name} to ${wanted}`);
    if (!plan || 'edits' in plan) typing = undefined;
  }
</script>

<input
  class={['editable min-h-6 min-w-0', plan && 'problem' in plan && 'border-stop', extra]}
  aria-label={label}
  aria-describedby={plan ? id : undefined}
  autocomplete="off"
  spellcheck="false"
  disabled={!draft.editable}
  value={typing ?? name}
  oninput={(e) => (typing = e.currentTarget.value)}
  onkeydown={(e) => {
    if (e.key === 'Enter') commit();
    if (e.key === 'Escape') typing = undefined;
  }}
  onblur={() => wanted === '' && (typing = undefined)}
/>
{#if plan}
  <div
    {id}
    class={['mt-1 border-l-[3px] border-brass bg-brass-wash px-2.5 py-1.5 text-small', planClass]}
    role="status"
  >
    {#if 'problem' in plan}<p class="text-stop">{plan.problem}</p>
    {:else}
      <p>
        {#if plan.texts.length === 0}No formula names it.{:else}{plan.texts.length === 1
            ? '1 text'
            : `${ownWriting(plan.texts.length)} texts`} will be rewritten:{/if}
      </p>
      <ul class="max-h-40 overflow-y-auto">
        {#each plan.texts as t, i (i)}
          <li class="py-0.5">
            {t.where}<br /><span class="was font-mono">{t.from}</span> <span class="font-mono">{t.to}</span>
          </li>
        {/each}
      </ul>
      {#if plan.left.length > 0}
        <p class="mt-1">
          {plan.left.length === 1 ? 'One text looks' : `${ownWriting(plan.left.length)} texts look`} like it and will be left:
        </p>
        <ul class="max-h-28 overflow-y-auto">
          {#each plan.left as l, i (i)}
            <li class="py-0.5">{l.where}<br /><span class="font-mono">{l.text}</span></li>
          {/each}
        </ul>
      {/if}
      <p class="mt-1 flex gap-2">
        <button type="button" class="button" onclick={commit}>Rename</button>
        <button type="button" class="button plain" onclick={() => (typing = undefined)}>Leave it</button>
      </p>
    {/if}
  </div>
{/if}
