<script lang="ts">
  /** The kept tries of a record type, those of the rule on the sheet first: each holds or fails as the draft stands. */
  import type { Rule, RuleTest } from '@rigid-rule/core/document';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { triesAll } from '$lib/features/proof/cases.ts';
  import { speaksOf } from '$lib/features/proof/of-rule.ts';
  import type { Bench } from './bench.svelte.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    draft: Draft;
    bench: Bench;
    /** The rule on the sheet. */
    rule: Rule | undefined;
  }
  const { draft, bench, rule }: Props = $props();
  let open = $state(false);
  let renamed = $state<string>();

  const tests = $derived((draft.rulebook.tests ?? []).filter((t) => t.recordType === bench.typeKey));
  const failuresOf = (t: RuleTest) => draft.testResults.get(t.key);
  const failing = $derived(tests.filter((t) => (failuresOf(t)?.length ?? 0) > 0));
  const isOfRule = (t: RuleTest): boolean => rule !== undefined && speaksOf(t, rule);
  /** Tests that try already what is tried on the bench. */
  const same = $derived(
    bench.tried.length === 0 || bench.shown
      ? []
      : tests.filter((t) => triesAll(t, bench.tried, draft.program.types.get(bench.typeKey))),
  );
  const rank = (t: RuleTest) => (same.includes(t) ? 0 : isOfRule(t) ? 1 : 3) + (failing.includes(t) ? 0 : 1);
  const listed = $derived(tests.map((t, i) => ({ t, i })).sort((a, b) => rank(a.t) - rank(b.t) || a.i - b.i));
  const own = $derived(tests.filter(isOfRule).length);

  function rename(t: RuleTest, name: string) {
    renamed = undefined;
    if (name.trim() === '' || name.trim() === t.name) return;
    draft.edit({ kind: 'test', key: t.key }, [{ op: 'replace', path: '/name', value: name.trim() }], 'rename a test');
  }
</script>

{#if tests.length > 0}
  <h3 class="bench-head">
    <button type="button" class="word" aria-expanded={open} onclick={() => (open = !open)}>
      {tests.length === 1 ? '1 kept test' : `${ownWriting(tests.length)} kept tests`}{#if own > 0}, {own} of this rule{/if}{#if failing.length > 0},
        <b class="text-stop">{failing.length === 1 ? '1 fails' : `${ownWriting(failing.length)} fail`}</b>{:else}, all
        hold{/if}{#if same.length > 0};
        {same.length === 1 ? '1 tries' : `${ownWriting(same.length)} try`} this already{/if}
    </button>
  </h3>
  {#if open}
    <ul aria-label="Kept tests">
      {#each listed as { t } (t.key)}
        {@const failures = failuresOf(t) ?? []}
        <li class="line">
          <b class={failures.length > 0 ? 'text-stop' : 'text-ok'}>{failures.length > 0 ? 'fails' : 'holds'}</b>
          <span class="min-w-0">
            {#if renamed === t.key}
              <!-- svelte-ignore a11y_autofocus -->
              <input
                class="editable w-full"
                aria-label="Name of the test"
                value={t.name}
                autofocus
                onblur={(e) => rename(t, e.currentTarget.value)}
                onkeydown={(e) => {
                  if (e.key === 'Enter') e.currentTarget.blur();
                  if (e.key === 'Escape') renamed = undefined;
                }}
              />
            {:else}<button
                type="button"
                class="cursor-pointer text-left hover:text-brass"
                title="Try it on the bench"
                onclick={() => bench.show(t)}>{t.name}</button
              >{/if}{#if same.includes(t)}<span class="quiet">
                tries this already</span
              >{/if}{#each failures as f, i (i)}<br /><span class="quiet">{f}</span>{/each}</span
          >
          {#if draft.editable}
            <span class="flex gap-2">
              <button type="button" class="word" aria-label="Rename the test {t.name}" onclick={() => (renamed = t.key)}
                >rename</button
              >
              <button
                type="button"
                class="word"
                aria-label="Remove the test {t.name}"
                onclick={() => draft.remove([{ kind: 'test', key: t.key }], 'remove a test')}>remove</button
              ></span
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
