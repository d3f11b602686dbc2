<script lang="ts">
  /** Mapping tables: the list, the rows of one as a grid, and beside it what a paste would do, what is wrong, who uses it. */
  import { counted } from '$lib/counted.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { hitPolicies, type TableColumn } from '@rigid-rule/core/document';
  import { columnOfHeading } from '@rigid-rule/core/formats';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { useDraft } from '../draft/context.ts';
  import { onDestroy } from 'svelte';
  import { Kept } from '$lib/ui/kept.svelte.ts';
  import RenameInput from '../draft/RenameInput.svelte';
  import { useSamples } from '../samples/samples.svelte.ts';
  import { useOffers } from '../shell/acts.svelte.ts';
  import AboutTable from './AboutTable.svelte';
  import CoverageBars from './CoverageBars.svelte';
  import Grid from './Grid.svelte';
  import { download, fileKinds, readFile } from './sheet-files.ts';
  import TableList from './TableList.svelte';
  import { TableState } from './table.svelte.ts';

  interface Props {
    tableKey: string | undefined;
  }
  const { tableKey }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();
  const offers = useOffers();

  const tables = $derived(draft.rulebook.tables ?? []);
  const table = $derived(tables.find((t) => t.key === tableKey) ?? tables[0]);
  // One a table, kept while people go from table to table.
  const states = new Kept<TableState>();
  onDestroy(states.end);
  const grid = $derived(table && states.of(table.key, () => new TableState(draft, samples, table.key)));

  const keeping = $derived(table !== undefined && draft.keeps(table));
  async function choose(e: Event & { currentTarget: HTMLInputElement }) {
    const file = e.currentTarget.files?.[0];
    e.currentTarget.value = '';
    if (!file || !grid) return;
    const read = await readFile(file, grid.table, draft.rulebook);
    if ('problems' in read) grid.problems = read.problems;
    else if (!read.lines[0]?.some((h) => columnOfHeading(grid.table, h)))
      grid.problems = [
        `The first line of ${file.name} names none of the columns ${grid.columns.map((c) => c.name).join(', ')}.`,
      ];
    else grid.tryOut(file.name, read, 'drop');
  }
  function optionsOf({ field }: TableColumn): readonly string[] | undefined {
    const [type, key] = field?.split('.') ?? [];
    const found = draft.rulebook.recordTypes.find((t) => t.key === type)?.fields.find((f) => f.key === key);
    return found && fieldTypeOf(found).chooses === 'one' ? found.options?.map((o) => o.name) : undefined;
  }
  const rowCount = $derived.by(() => {
    const [shownRows, all] = [grid?.view.length ?? 0, table?.rows.length ?? 0];
    const rows = counted(all, 'row');
    return shownRows < all ? `${ownWriting(shownRows)} of ${ownWriting(rows)}` : rows;
  });
  function goTo(row: number, column = 0) {
    if (!grid) return;
    grid.filter = '';
    grid.choose({ line: Math.max(0, grid.view.indexOf(row)), column });
    (document.querySelector('[role=grid]') as HTMLElement | null)?.focus();
  }
  let fileInput: HTMLInputElement | undefined = $state();

  $effect(() =>
    offers.offer(
      [
        { keys: '/', does: 'find in the rows', run: () => document.getElementById('row-filter')?.focus() },
        { keys: 'Ctrl D', does: 'fill the chosen cells down', run: () => grid?.fillDown() },
        { keys: 'Alt Insert', does: 'add a row (in the grid)', run: () => grid?.addRow() },
        { keys: 'Alt Delete', does: 'take the chosen rows out (in the grid)', run: () => grid?.removeRows() },
      ],
      [],
    ),
  );
</script>

<svelte:head><title>{table?.name ?? 'Mappings'} · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[212px_minmax(0,1fr)_286px]">
  <TableList shown={table?.key} />
  {#if table && grid}
    {#key table.key}
      <section
        class="flex min-h-0 min-w-0 flex-col bg-sheet max-lg:h-[max(70vh,560px)]"
        aria-label="Table {table.name}"
      >
        <div class="flex items-baseline gap-3 px-6 pt-[14px]">
          <h1 class="sr-only">{table.name}</h1>
          <div class="min-w-0 flex-1">
            <RenameInput
              {draft}
              name={table.name}
              label="Name of the table"
              renaming={(name) => ({ what: 'table', key: table.key, name })}
              class="max-w-full min-w-40 text-[20px] leading-[26px] font-[650] [field-sizing:content]"
            />
          </div>
          <span class="text-small text-soft"
            ><b class="font-[650] text-ink">{table.hitPolicy}</b>{hitPolicies.indexOf(table.hitPolicy) === 0
              ? ': one row for each key'
              : ''}</span
          >
        </div>
        <input
          class="mx-6 mb-1 bg-transparent text-soft"
          aria-label="Purpose"
          placeholder="What is it for, and who keeps it?"
          readonly={!draft.editable}
          value={table.purpose}
          oninput={(e) => grid.set('purpose', e.currentTarget.value, 'reword the purpose', `purpose:${table.key}`)}
        />
        {#if grid.coverage || grid.coverageComes}<CoverageBars state={grid} {goTo} />{/if}
        <div class="flex flex-wrap items-center gap-x-4 gap-y-1 px-6 py-1.5 text-small whitespace-nowrap max-md:px-4">
          <input
            id="row-filter"
            type="search"
            class="editable w-44"
            aria-label="Find in the rows"
            placeholder="Find in the rows"
            bind:value={grid.filter}
          />
          <span class="text-faint">{rowCount}</span>
          {#if keeping}
            <button type="button" class="word ml-auto" onclick={() => grid.addRow()}>add a row</button>
            <button type="button" class="word" disabled={grid.view.length === 0} onclick={() => grid.removeRows()}
              >take {grid.chosen.bottom > grid.chosen.top
                ? `${grid.chosen.bottom - grid.chosen.top + 1} rows`
                : 'the row'} out</button
            >
            <button type="button" class="word" onclick={() => fileInput?.click()}>from a file …</button>
            <input
              bind:this={fileInput}
              type="file"
              accept=".csv,.txt,.xlsx,.dmn,.xml"
              class="hidden"
              aria-label="File to read rows from"
              onchange={choose}
            />
          {/if}
          <span class={['flex gap-2', !keeping && 'ml-auto']}
            ><span class="quiet self-center">as</span>{#each fileKinds as kind (kind)}<button
                type="button"
                class="word uppercase"
                aria-label="Download as {kind.toUpperCase()}"
                onclick={() => download(table, kind, draft.rulebook)}>{kind}</button
              >{/each}</span
          >
        </div>
        <Grid state={grid} readonly={!keeping} {optionsOf} />
      </section>
    {/key}
    <AboutTable {grid} {keeping} {goTo} />
  {:else}
    <section class="bg-sheet px-8 pt-6">
      <h1>Mappings</h1>
      <p class="mt-2 max-w-[460px] text-soft">
        A mapping table says what follows from what: a country gives a region and a currency. Rules look values up in
        it, so that a new row needs no new rule. {draft.editable
          ? 'Name one at the left, then paste its rows from a spreadsheet.'
          : 'There is none yet.'}
      </p>
    </section>
  {/if}
</div>
