<script lang="ts">
  /** Beside the rows of a table: what a paste would do, what is wrong, what is missing, who uses it, its columns. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { cellText, findRuleKind } from '@rigid-rule/core/compile';
  import { removing } from '@rigid-rule/core/document';
  import { goto } from '$app/navigation';
  import { mappingsPath, ruleAddress } from '$lib/addresses.ts';
  import { KindMark } from '$lib/features/rule-kinds';
  import { ownSentences, ownWriting } from '$lib/organisation.svelte.ts';
  import { useDraft } from '../draft/context.ts';
  import { FindingList } from '../findings';
  import ColumnsPanel from './ColumnsPanel.svelte';
  import PreviewPanel from './PreviewPanel.svelte';
  import type { TableState } from './table.svelte.ts';

  interface Props {
    grid: TableState;
    /** May change its rows. */
    keeping: boolean;
    /** To a cell, by the numbers of its row and column in the table. */
    goTo: (row: number, column?: number) => void;
  }
  const { grid, keeping, goTo }: Props = $props();
  const { draft, users } = useDraft();
  const table = $derived(grid.table);
  const uses = $derived(
    [...draft.program.types.values()].flatMap((t) =>
      t.rules.filter((r) => r.tables.has(table.key)).map((r) => ({ rule: r.rule, type: t.recordType })),
    ),
  );
  const wrongCells = $derived([...grid.wrong]);

  function remove() {
    draft.editAll([{ ref: { kind: 'table', key: table.key }, operations: [removing] }], `retire ${table.name}`);
    void goto(mappingsPath);
  }
</script>

<aside class="overflow-y-auto border-l border-line px-5 pt-4 pb-8" aria-label="About {table.name}">
  {#if grid.problems.length > 0}
    <div class="mb-4 border-l-[3px] border-stop bg-stop-wash px-2.5 py-1.5" role="alert">
      {#each grid.problems as p, i (i)}<p>{p}</p>{/each}
      <p class="text-small text-soft">Nothing of it was taken.</p>
      <button type="button" class="word" onclick={() => (grid.problems = [])}>close</button>
    </div>
  {/if}
  {#if grid.plan}<PreviewPanel state={grid} />{/if}
  {#if wrongCells.length > 0}
    <section class="mb-5" aria-label="Cells that do not fit">
      <h2 class="text-[15px] font-[650] text-stop">
        {grid.wrong.size === 1 ? '1 cell does' : `${ownWriting(grid.wrong.size)} cells do`} not fit
      </h2>
      <ul class="text-small">
        <FirstOf items={wrongCells} most={20} what="cells that do not fit" tag="li">
          {#snippet item([place, message])}<li>
              <button
                type="button"
                class="word text-left"
                onclick={() =>
                  goTo(
                    Number(place.split('/')[0]),
                    grid.columns.findIndex((c) => c.key === place.split('/')[1]),
                  )}>Row {Number(place.split('/')[0]) + 1}: {message}</button
              >
            </li>{/snippet}
        </FirstOf>
      </ul>
    </section>
  {/if}
  <FindingList
    {draft}
    findings={grid.findings.filter((f) => f.kind !== 'does-not-compile' || wrongCells.length === 0)}
  />
  {#if grid.coverage && grid.coverage.gaps.length > 0}
    <section class="mb-5" aria-label="Keys without a row">
      <h2 class="text-[15px] font-[650]">Seen, and without a row</h2>
      <ul class="text-small">
        <FirstOf items={grid.coverage.gaps} most={12} what="keys without a row" tag="li">
          {#snippet item(gap)}<li class="flex justify-between border-t border-line py-0.5">
              <span>{table.keys.map((c) => cellText(gap.cells[c.key], ownSentences)).join(', ')}</span><span
                class="text-faint">{ownWriting(gap.count)}</span
              >
            </li>{/snippet}
        </FirstOf>
      </ul>
      {#if keeping}<button
          type="button"
          class="editable"
          onclick={() => {
            grid.fillGaps(grid.coverage!.gaps);
            (document.querySelector('[role=grid]') as HTMLElement | null)?.focus();
          }}
          >{grid.coverage.gaps.length === 1
            ? 'Add a row for it'
            : `Add ${ownWriting(grid.coverage.gaps.length)} rows to fill in`}</button
        >{/if}
    </section>
  {/if}
  <section class="mb-5" aria-label="Where it is used">
    <h2 class="text-[15px] font-[650]">Where it is used</h2>
    {#each uses as { rule, type } (rule.key)}
      <a class="flex items-baseline gap-2 py-0.5 hover:text-brass" href={ruleAddress(type.key, rule.key)}>
        <span class="text-held"><KindMark kind={rule.kind} label={findRuleKind(rule.kind)?.name ?? rule.kind} /></span>
        <span class="min-w-0">{rule.name} <span class="quiet text-small">{type.name.toLowerCase()}</span></span>
      </a>
    {:else}<p class="quiet">No rule asks it yet. A map rule on the desk can.</p>{/each}
  </section>
  <ColumnsPanel state={grid} {draft} {users} />
  {#if draft.editable && uses.length === 0}<button type="button" class="word mt-4" onclick={remove}
      >Retire this table</button
    >{/if}
</aside>
