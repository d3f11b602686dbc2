<script lang="ts">
  /** What must be true of every record, whatever is entered: sure, tried, or broken by a record that can be opened. */
  import { counted } from '$lib/counted.ts';
  import { goto } from '$app/navigation';
  import { FormulaInput } from '../formula';
  import { createCondition } from '@rigid-rule/core/language';
  import { useDraft } from '../draft/context.ts';
  import type { Claim } from '@rigid-rule/core/document';
  import { handover } from '../proof/handover.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { useProof } from '../proof/proof.svelte.ts';
  import { shownValue } from '$lib/features/fields';
  import { readName } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { testSentences } from '../proof/sentences.ts';

  interface Props {
    typeKey: string;
  }
  const { typeKey }: Props = $props();
  const { draft } = useDraft();
  const proof = useProof();
  const claims = $derived((draft.rulebook.claims ?? []).filter((c) => c.recordType === typeKey));
  const scope = $derived(draft.program.types.get(typeKey)?.scope);
  let editing = $state<string>();

  function add() {
    const key = draft.freeKey('claim', `${typeKey} claim`);
    const claim: Claim = { key, name: 'A new claim', recordType: typeKey, condition: '' };
    draft.create({ kind: 'claim', key }, claim, 'add a claim');
    editing = key;
  }
  const edit = (c: Claim, path: string, value: string) =>
    draft.edit(
      { kind: 'claim', key: c.key },
      [{ op: 'replace', path, value }],
      'change a claim',
      `claim ${c.key}${path}`,
    );
  const checked = (c: Claim) => {
    const known = proof.claims.get(c.key);
    return known?.condition === c.condition ? known : undefined;
  };
  function tryIt(c: Claim) {
    const result = checked(c)?.result;
    if (result?.state === 'broken') void goto(handover(result.counterexample));
  }
</script>

<h2 class="mt-6 font-[650]">Claims</h2>
<p class="mb-1 text-small text-soft">true of every record, whatever is entered</p>
<ul>
  {#each claims as c (c.key)}
    {@const known = checked(c)}
    {@const state = known?.result.state}
    <li class="grid grid-cols-[14px_minmax(0,1fr)] border-b border-line py-1.5">
      <span
        class={[
          'mt-[6px] size-[8px] rounded-full',
          state === 'broken' || state === 'cannot be read'
            ? 'border-[1.5px] border-stop'
            : state
              ? 'bg-ok'
              : 'border border-dashed border-edge',
        ]}
        aria-hidden="true"
      ></span>
      <div class="min-w-0">
        {#if editing === c.key && draft.editable}
          <TypedInput
            class="w-full font-[650]"
            label="Claim in words"
            value={c.name}
            show={(name) => name}
            read={readName}
            commit={(name) => edit(c, '/name', name.trim())}
          />
          {#if scope}
            <div class="my-1">
              <FormulaInput
                label="What must be true"
                text={c.condition}
                {scope}
                diagnostics={c.condition.trim() === '' ? [] : createCondition(c.condition, scope).diagnostics}
                placeholder="Discount <= 0.15"
                change={(text) => edit(c, '/condition', text)}
              />
            </div>
          {/if}
          <span class="flex gap-3">
            <button type="button" class="word" onclick={() => (editing = undefined)}>done</button>
            <button
              type="button"
              class="word"
              onclick={() => draft.remove([{ kind: 'claim', key: c.key }], 'remove a claim')}>remove</button
            >
          </span>
        {:else}
          <p>
            {#if draft.editable}<button
                type="button"
                class="cursor-pointer text-left hover:text-brass"
                title="Change it"
                onclick={() => (editing = c.key)}>{c.name}</button
              >{:else}{c.name}{/if}
          </p>
          <p class={['text-small', state === 'broken' || state === 'cannot be read' ? 'text-stop' : 'text-soft']}>
            {#if !known}
              not checked yet
            {:else if known.result.state === 'broken'}
              broken: {testSentences(known.result.counterexample, draft.rulebook, shownValue).act}
              <button type="button" class="word" onclick={() => tryIt(c)}>try it</button>
            {:else if known.result.state === 'cannot be read'}
              {known.result.problem}
            {:else if known.result.state === 'sure'}
              sure: {ownWriting(known.result.tried)} acts in every region looked at
            {:else}
              not broken by {counted(known.result.tried, 'record')} in {ownWriting(Math.round(known.seconds * 10) / 10)} s
            {/if}
          </p>
        {/if}
      </div>
    </li>
  {/each}
</ul>
{#if draft.editable}<button type="button" class="word mt-1.5" onclick={add}>a new claim</button>{/if}
