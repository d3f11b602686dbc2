<script lang="ts">
  /** What comes of a release for the sample records, in each way in which records meet it; numbers appear as they come. */
  import { counted } from '$lib/counted.ts';
  import { shownText } from '$lib/features/fields';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { ImpactWay } from '@rigid-rule/core/rule-tests';
  import { nowIn } from '$lib/now.ts';
  import { dryRunOf } from '$lib/addresses.ts';
  import { agreementKey, Agreements } from '../proof/agreements.svelte.ts';
  import type { TypeImpact } from '$lib/workers/dry-run.ts';
  import { onMount } from 'svelte';
  import type { Comparison } from './comparison.ts';

  interface Props {
    comparison: Comparison;
    zone: string;
  }
  const { comparison, zone }: Props = $props();
  const agreements = new Agreements();
  let found = $state.raw<Partial<Record<ImpactWay, readonly TypeImpact[]>>>({});
  let done = $state(false);
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
    void agreements.load();
    void (async () => {
      const { run } = comparison;
      const { live, draft } = await comparison.books();
      for (const w of ways) {
        await run.run({ draft, against: live, way: w.key, set: undefined, edition: 0, now: nowIn(zone) });
        if (run.state !== 'done') throw new Error();
        found = { ...found, [w.key]: run.types };
      }
      done = true;
    })().catch(() => (problem = 'What comes of it could not be worked out.'));
  });

  const ofWay = (w: ImpactWay): readonly TypeImpact[] => found[w] ?? [];
  const tried = $derived(
    ofWay('next save')
      .filter((t) => t.samples > 0)
      .map((t) => `${ownWriting(t.samples)} sample ${t.plural.toLowerCase()}`)
      .join(', '),
  );
  const total = (w: ImpactWay, row: (typeof rows)[number]['key']): number =>
    ofWay(w).reduce((sum, t) => sum + t.figures[row], 0);
  /** Fields of several record types may share a name. */
  const moved = $derived(
    ofWay(way).flatMap((t) => t.figures.fields.map((f) => ({ ...f, type: t.recordType, of: t.plural.toLowerCase() }))),
  );
  /** What was agreed of a move, in words; nothing where nobody has. */
  function agreed(type: string, field: string, from: string, to: string, records: number): string {
    const known = agreements.known.get(agreementKey({ recordType: type, field, from, to }));
    if (!known) return 'not agreed';
    if (known.lapsed) return `agreed by ${known.by}, lapsed`;
    return known.most < records
      ? `${ownWriting(records - known.most)} new since ${known.by} agreed`
      : `agreed by ${known.by}`;
  }
  /** So few that folding them would hide what can be seen at once. */
  const few = $derived(moved.reduce((n, f) => n + f.moves.length, 0) <= 8);
  const recordsOf = (f: (typeof moved)[number]) => f.moves.reduce((n, m) => n + m.records, 0);
</script>

<h2 class="label mt-6 border-t border-ink pt-2.5">
  What comes of it{#if found['next save']}, on {tried || 'no samples'}{/if}
</h2>
{#if agreements.problem}<p class="text-stop" role="alert">{agreements.problem}</p>{/if}
{#if problem}<p class="text-stop">{problem}</p>
{:else}
  <table class="mt-2 w-full" aria-busy={!done}>
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
              ]}>{found[w.key] ? ownWriting(n) : '…'}</td
            >
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="mt-1 text-small text-soft" role="status">
    {done
      ? `${ways.find((w) => w.key === way)!.name}: ${ways.find((w) => w.key === way)!.help}.`
      : 'Being worked out …'}
  </p>
  {#each moved as f, at (at)}
    <details class="border-t border-line py-1" open={few}>
      <summary class="flex cursor-pointer items-baseline gap-3">
        <span class="font-[650]">{f.field}</span><span class="text-soft">of {f.of}</span>
        <span class="ml-auto text-soft">
          {counted(recordsOf(f), 'record')}{f.moves.length > 1 ? `, ${ownWriting(f.moves.length)} ways` : ''}
        </span>
      </summary>
      <table class="mt-1 mb-2 w-full">
        <thead class="sr-only"><tr><th>From</th><th>To</th><th>Agreed</th><th>Records</th></tr></thead>
        <tbody>
          {#each f.moves as m, nth (nth)}
            <tr>
              <td class="w-[42%] py-px pl-4 text-soft">{shownText(f.written, m.from)}</td>
              <td class="py-px">{shownText(f.written, m.to)}</td>
              <td class="py-px text-small text-soft">{agreed(f.type, f.key, m.from, m.to, m.records)}</td>
              <td class="w-20 py-px text-right tabular-nums">{ownWriting(m.records)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
      <p class="mb-1 pl-4 text-small">
        <a class="editable" href={dryRunOf(f.type, { field: f.key })}>who they are, on the dry run</a>
      </p>
    </details>
  {:else}{#if done}<p class="quiet mt-2">No stored value comes out otherwise.</p>{/if}
  {/each}
{/if}
