<script lang="ts">
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { ownSentences, ownWriting } from '$lib/organisation.svelte.ts';
  /** Lines that were pasted or read from a file, row by row: what each would do, before any of it is taken. */
  import { counted } from '$lib/counted.ts';
  import type { RowPlan } from '@rigid-rule/core/formats';
  import { cellText } from '@rigid-rule/core/compile';
  import type { TableColumn } from '@rigid-rule/core/document';
  import WrittenSelect from '$lib/ui/WrittenSelect.svelte';
  import type { TableState } from './table.svelte.ts';

  interface Props {
    state: TableState;
  }
  const { state: grid }: Props = $props();
  const plan = $derived(grid.plan!);
  const preview = $derived(grid.preview!);
  const mostShown = 200;

  const sorts = [
    { what: 'added', word: 'added', style: 'text-brass-ink' },
    { what: 'changed', word: 'changed', style: 'text-ink' },
    { what: 'same', word: 'the same', style: 'text-faint' },
    { what: 'dropped', word: 'dropped', style: 'text-stop' },
    { what: 'refused', word: 'refused', style: 'text-stop' },
  ] as const;
  const groups = $derived(
    sorts.map((s) => ({ ...s, rows: plan.plans.filter((p) => p.what === s.what) })).filter((g) => g.rows.length > 0),
  );
  /** What all lines are refused for is said once: a column that is missing, mostly. */
  const ofAll = $derived.by((): readonly string[] => {
    const refused = plan.plans.filter((p) => p.what === 'refused');
    const [first, ...others] = refused;
    return first && others.length > 0 ? first.reasons.filter((r) => others.every((p) => p.reasons.includes(r))) : [];
  });
  const count = (...what: readonly RowPlan['what'][]) => plan.plans.filter((p) => what.includes(p.what)).length;
  const taken = $derived(count('added', 'changed'));
  const dropped = $derived(count('dropped'));
  /** What is done at once: that rows go is never said of lines that come. */
  const says = $derived(
    [
      ...(taken > 0 || dropped === 0 ? [`Take ${counted(taken, 'line')}`] : []),
      ...(dropped > 0 ? [`${taken > 0 ? 'drop' : 'Drop'} ${counted(dropped, 'row')}`] : []),
    ].join(', '),
  );
  const text = (row: RowPlan['row'] | undefined, c: TableColumn) => grid.shown(row, c) || 'blank';
  const keyOf = (p: RowPlan) => grid.planned.keys.map((c) => cellText(p.row[c.key], ownSentences)).join(', ');
  const columns = $derived([...grid.planned.keys, ...grid.planned.outputs]);
  const changes = (p: RowPlan) =>
    columns.filter((c) => JSON.stringify(p.row[c.key]) !== JSON.stringify(p.before?.[c.key]));
</script>

<section aria-label="What would change" class="mb-5">
  <h2 class="text-[15px] font-[650]">From {preview.from}</h2>
  <p class="text-small text-faint">
    {#if preview.leftOver}The other lines were taken.
      {preview.lines.length === 2 ? 'This one was refused.' : `These ${preview.lines.length - 1} were refused.`}{:else}
      {preview.lines.length === 2 ? '1 line' : `${preview.lines.length - 1} lines`}, tried out but not taken yet
    {/if}
  </p>
  {#if preview.note}<p class="text-small text-brass-ink">{preview.note}</p>{/if}
  {#if grid.written}<WrittenSelect
      value={grid.written}
      choose={(written) => (grid.preview = { ...preview, written })}
    />{/if}
  {#if preview.columns}
    <fieldset class="mt-1 text-small">
      <legend class="label">What is looked up by</legend>
      {#each preview.columns as { column, isKey }, i (i)}
        <label class="mr-3 inline-flex items-center gap-1.5"
          ><input
            type="checkbox"
            class="check"
            checked={isKey}
            onchange={(e) => {
              grid.setPlannedKey(i, e.currentTarget.checked);
              e.currentTarget.checked = grid.preview!.columns![i]!.isKey;
            }}
          />{column.name}</label
        >
      {/each}
    </fieldset>
  {/if}
  {#if plan.strangers.length > 0}<p class="text-small text-brass-ink">
      Not in the table, left out: {plan.strangers.join(', ')}.
    </p>{/if}
  {#if !preview.columns && !preview.leftOver && (preview.rest === 'drop' || plan.plans.length > 0)}
    <label class="mt-1 flex items-center gap-1.5 text-small">
      <input
        type="checkbox"
        class="check"
        checked={preview.rest === 'keep'}
        onchange={(e) => (grid.preview = { ...preview, rest: e.currentTarget.checked ? 'keep' : 'drop' })}
      />Keep the rows that it does not name
    </label>
  {/if}
  <p class="my-2.5 flex gap-2">
    <button type="button" class="button" onclick={() => grid.take()} disabled={taken + dropped === 0}>{says}</button>
    <button type="button" class="button plain" onclick={() => (grid.preview = undefined)}
      >{preview.leftOver ? 'Close' : 'Leave all'}</button
    >
  </p>
  {#each groups as group (group.what)}
    <details class="border-t border-line py-1.5" open={group.what !== 'same'}>
      <summary class="cursor-pointer"
        ><b class={group.style}>{ownWriting(group.rows.length)}</b>
        {group.rows.length === 1 ? 'row' : 'rows'}
        <b class={group.style}>{group.word}</b></summary
      >
      {#if group.what === 'refused'}{#each ofAll as reason, nth (nth)}<p class="text-small text-stop">
            {reason}
          </p>{/each}{/if}
      <ul class="text-small text-soft">
        <FirstOf items={group.rows} most={mostShown} what="rows {group.word}" tag="li">
          {#snippet item(p)}<li class="py-0.5">
              <span class="text-ink">{keyOf(p)}</span>
              {#if group.what === 'refused'}<span>line {p.line}{p.before ? ', the row stays as it is' : ''}</span>{/if}
              {#if group.what === 'changed'}
                {#each changes(p) as c, nth (nth)}
                  <span class="block pl-3"
                    >{c.name} <span class="was">{text(p.before, c)}</span>
                    <span class="text-brass-ink">{text(p.row, c)}</span></span
                  >
                {/each}
              {/if}
              {#each p.reasons.filter((r) => !ofAll.includes(r)) as reason, j (j)}<span class="block pl-3 text-stop"
                  >{reason}</span
                >{/each}
              {#each p.corrections ?? [] as c, nth (nth)}
                <button
                  type="button"
                  class="editable ml-3"
                  onclick={() => grid.correct(p.line!, c.column, c.from, c.to)}>Use {c.to}</button
                >
              {/each}
            </li>{/snippet}
        </FirstOf>
      </ul>
    </details>
  {/each}
</section>
