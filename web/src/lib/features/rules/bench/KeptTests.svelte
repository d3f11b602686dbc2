<script lang="ts">
  /** The kept tries of a record type: each holds or fails as the draft stands. */
  import type { RuleTest } from '@rigid-rule/core';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';

  interface Props {
    draft: Draft;
    typeKey: string;
  }
  const { draft, typeKey }: Props = $props();
  let open = $state(false);

  const tests = $derived((draft.rulebook.tests ?? []).filter((t) => t.recordType === typeKey));
  const failuresOf = (t: RuleTest) => draft.testResults.get(t.key);
  const failing = $derived(tests.filter((t) => (failuresOf(t)?.length ?? 0) > 0));
  /** Those that fail come first. */
  const listed = $derived([...failing, ...tests.filter((t) => !failing.includes(t))]);
</script>

{#if tests.length > 0}
  <h3 class="bench-head">
    <button type="button" class="word" aria-expanded={open} onclick={() => (open = !open)}>
      Kept tests, {tests.length}{#if failing.length > 0}, <b class="text-stop"
          >{failing.length} fail{failing.length === 1 ? 's' : ''}</b
        >{:else}, all hold{/if}
    </button>
  </h3>
  {#if open}
    <ul aria-label="Kept tests">
      {#each listed as t (t.key)}
        {@const failures = failuresOf(t) ?? []}
        <li class="line">
          <b class={failures.length > 0 ? 'text-stop' : 'text-ok'}>{failures.length > 0 ? 'fails' : 'holds'}</b>
          <span
            >{t.name}{#each failures as f (f)}<br /><span class="quiet">{f}</span>{/each}</span
          >
          {#if draft.editable}
            <button
              type="button"
              class="word"
              aria-label="Remove the test {t.name}"
              onclick={() => draft.remove([{ kind: 'test', key: t.key }], 'remove a test')}>remove</button
            >
          {/if}
        </li>
      {/each}
    </ul>
  {/if}
{/if}

<style>
  .line {
    display: grid;
    grid-template-columns: 46px minmax(0, 1fr) auto;
    gap: 8px;
    padding: 3px 0;
    border-bottom: 1px solid var(--line);
  }
</style>
