<script lang="ts">
  /** What comes of a release for the sample records, in each way in which records meet it; numbers appear as they come. */
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { ImpactFigures, ImpactWay } from '@rigid-rule/core';
  import { nowIn } from '$lib/now.ts';
  import type { ImpactAnswer, ImpactRequest } from '$lib/workers/impact.ts';
  import { onMount } from 'svelte';

  interface Props {
    zone: string;
  }
  const { zone }: Props = $props();
  let answer = $state.raw<ImpactAnswer>();
  let problem = $state<string>();
  let way = $state<ImpactWay>('next save');

  const ways: readonly { readonly key: ImpactWay; readonly name: string; readonly help: string }[] = [
    { key: 'next save', name: 'at the next save', help: 'each saved with nothing changed' },
    { key: 'as new', name: 'as new records', help: 'the same values entered anew' },
    { key: 'backfill', name: 'by a backfill', help: 'all rules that can stand applied to what is stored' },
  ];
  const rows = [
    { key: 'changed', name: 'end with another value', bad: false },
    { key: 'newlyBlank', name: 'values newly blank', bad: true },
    { key: 'newlyStopped', name: 'newly stopped', bad: true },
    { key: 'noLongerStopped', name: 'no longer stopped', bad: false },
  ] as const;

  onMount(() => {
    const worker = new Worker(new URL('../../workers/impact.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<ImpactAnswer>) => (answer = data));
    void (async () => {
      const found = await fetch('/api/release/rulebooks');
      if (!found.ok) throw new Error();
      const request = { ...((await found.json()) as Omit<ImpactRequest, 'now'>), now: nowIn(zone) };
      worker.postMessage(request satisfies ImpactRequest);
    })().catch(() => (problem = 'What comes of it could not be worked out.'));
    return () => worker.terminate();
  });

  const tried = $derived(
    answer?.types
      .filter((t) => t.samples > 0)
      .map((t) => `${ownWriting(t.samples)} sample ${t.plural.toLowerCase()}`)
      .join(', '),
  );
  const figures = (w: ImpactWay): readonly ImpactFigures[] =>
    answer?.types.flatMap((t) => t.ways.filter((x) => x.way === w)) ?? [];
  const total = (w: ImpactWay, row: (typeof rows)[number]['key']): number =>
    figures(w).reduce((sum, f) => sum + f[row], 0);
  /** Fields of several record types may share a name. */
  const moved = $derived(
    (answer?.types ?? []).flatMap((t) =>
      t.ways.filter((w) => w.way === way).flatMap((w) => w.fields.map((f) => ({ ...f, of: t.plural.toLowerCase() }))),
    ),
  );
  const mostMoves = 8;
</script>

<h2 class="label mt-6 border-t border-ink pt-2.5">
  What comes of it{#if answer}, on {tried || 'no samples'}{/if}
</h2>
{#if problem}<p class="text-stop">{problem}</p>
{:else}
  <table class="mt-2 w-full" aria-busy={!answer?.done}>
    <thead>
      <tr>
        <td></td>
        {#each ways as w (w.key)}<th class="pb-1 text-right align-bottom font-normal text-soft" title={w.help}
            ><button
              type="button"
              class={[
                'cursor-pointer',
                way === w.key ? 'border-b-2 border-brass font-[650] text-ink' : 'hover:text-ink',
              ]}
              aria-pressed={way === w.key}
              onclick={() => (way = w.key)}>{w.name}</button
            ></th
          >{/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as row (row.key)}
        <tr class="border-t border-line">
          <th class="py-1 text-left font-normal text-soft" scope="row">{row.name}</th>
          {#each ways as w (w.key)}
            {@const n = total(w.key, row.key)}
            <td
              class={[
                'py-1 text-right text-[22px] leading-[30px] font-[300] tabular-nums',
                row.bad && n > 0 && 'text-stop',
              ]}>{answer ? ownWriting(n) : '…'}</td
            >
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="mt-1 text-small text-soft" role="status">
    {answer?.done
      ? `${ways.find((w) => w.key === way)!.name}: ${ways.find((w) => w.key === way)!.help}.`
      : 'Being worked out …'}
  </p>
  <ul class="mt-2 text-soft">
    {#each moved as f, at (at)}
      <li>
        {f.field} of {f.of}: {#each f.moves.slice(0, mostMoves) as m, i (i)}{i > 0 ? ', ' : ''}<b
            class="font-[650] text-ink">{ownWriting(m.records)}</b
          >
          {m.from} → {m.to}{/each}{f.moves.length > mostMoves ? ` and ${f.moves.length - mostMoves} more ways` : ''}
      </li>
    {:else}{#if answer?.done}<li class="quiet">No stored value comes out otherwise.</li>{/if}
    {/each}
  </ul>
{/if}
