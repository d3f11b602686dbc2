<script lang="ts">
  /** What the tests of the whole draft come to, and how far the weighing is. */
  import { useDraft } from '../draft/context.ts';
  import { useProof } from '../proof/proof.svelte.ts';
  import { doing } from '../proof/doing.ts';

  const { draft } = useDraft();
  const proof = useProof();
  const totals = $derived(draft.coverage?.totals);
  const percent = (part: number, all: number) => (all === 0 ? 100 : Math.floor((part / all) * 100));
  const bars = $derived([
    ...(totals
      ? [
          {
            name: 'branches',
            value: percent(totals.branch.reached, totals.branch.all),
            of: totals.branch,
            held: false,
          },
          {
            name: 'condition parts',
            value: percent(totals.part.reached, totals.part.all),
            of: totals.part,
            held: false,
          },
          {
            name: 'entry points',
            value: percent(totals.entry.reached, totals.entry.all),
            of: totals.entry,
            held: false,
          },
          { name: 'table rows', value: percent(totals.row.reached, totals.row.all), of: totals.row, held: false },
        ]
      : []),
    ...(proof.whole
      ? [
          {
            name: 'strength',
            value: percent(proof.whole.caught, proof.whole.planted),
            of: { reached: proof.whole.caught, all: proof.whole.planted },
            held: true,
          },
        ]
      : []),
  ]);
</script>

<h2 class="mt-5 mb-1 font-[650]">The whole draft</h2>
<dl>
  {#each bars as bar, nth (nth)}
    <div class="grid grid-cols-[92px_minmax(0,1fr)_28px] items-center gap-2 py-[3px]">
      <dt class="text-small text-soft">{bar.name}</dt>
      <dd class="contents">
        <span class="h-[9px] border border-edge" aria-hidden="true"
          ><span class={['block h-full', bar.held ? 'bg-held' : 'bg-ink']} style:width="{bar.value}%"></span></span
        >
        <span class="text-right" title="{bar.of.reached} of {bar.of.all}"
          >{bar.value}<span class="sr-only"> %</span></span
        >
      </dd>
    </div>
  {/each}
</dl>
<p class="text-small text-soft" role="status">
  {#if proof.state === 'running'}
    {doing(proof.progress)}
    <button type="button" class="word ml-1" onclick={() => void proof.cancel()}>stop</button>
  {:else if proof.state === 'cancelled' || proof.state === 'failed'}
    {proof.state === 'failed' ? 'The tests could not be weighed.' : 'Stopped before all was weighed.'}
    <button type="button" class="word ml-1" onclick={() => void proof.sweep(draft.rulebook)}>weigh again</button>
  {:else}
    strength: planted faults that some test notices, of 100
  {/if}
</p>
