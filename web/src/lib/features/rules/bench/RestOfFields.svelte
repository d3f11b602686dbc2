<script lang="ts">
  /** What the record has besides: first what has to be filled in, then what is. */
  import type { Field, Stored } from '@rigid-rule/core/document';
  import type { Bench } from './bench.svelte.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    bench: Bench;
    /** Fields that stand nowhere else on the bench. */
    rest: readonly Field[];
    shown: (field: Field | undefined, value: Stored) => string;
    /** Lets a field be tried. */
    open: (field: string) => void;
  }
  const { bench, rest, shown, open }: Props = $props();
  /** Fields that are shown before all are asked for. */
  const mostFilled = 4;
  let showAll = $state(false);

  const s = $derived(bench.settlement);
  const isBlank = (f: Field) => bench.settled(f.key) === null;
  const isDemanded = (f: Field) => s.states[f.key]?.required === true && isBlank(f);
  const visible = $derived(rest.filter((f) => s.states[f.key]?.hidden === undefined));
  const listed = $derived([
    ...new Set([
      ...visible.filter(isDemanded),
      ...(showAll ? visible : visible.filter((f) => !isBlank(f)).slice(0, mostFilled)),
    ]),
  ]);
  const toggleHeld = (key: string) =>
    (bench.held = bench.held.includes(key) ? bench.held.filter((k) => k !== key) : [...bench.held, key]);
</script>

<h3 class="bench-head flex justify-between">
  <span>As it {bench.isNew ? 'would be' : 'was'}</span>
  <button type="button" class="word" onclick={() => (showAll = !showAll)}>
    {showAll ? 'show fewer' : `show ${ownWriting(visible.length)} fields`}
  </button>
</h3>
{#each listed as f (f.key)}
  <div class="bench-line">
    <span class="text-soft">{f.name}</span>
    <button
      type="button"
      class="truncate text-left hover:text-brass"
      title="Change {f.name}"
      onclick={() => open(f.key)}
      >{#if isBlank(f)}<span class="quiet">blank</span>{:else}{shown(f, bench.settled(f.key))}{/if}</button
    >
    <span class="quiet text-small">
      {#if s.states[f.key]?.locked}locked{:else if isDemanded(f)}<span class="text-stop">required</span
        >{:else if !bench.isNew && showAll}<label class="flex items-center gap-1"
          ><input
            type="checkbox"
            class="check"
            checked={bench.held.includes(f.key)}
            onchange={() => toggleHeld(f.key)}
          />set by hand</label
        >{/if}
    </span>
  </div>
{/each}
