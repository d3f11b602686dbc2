<script lang="ts">
  /** Mapping tables: the list, the rows of one as a grid, and beside it what a paste would do, what is wrong, who uses it. */
  import { counted } from '$lib/counted.ts';
  import { mappingAddress, mappingsPath, ruleAddress } from '$lib/addresses.ts';
  import { ownSentences, ownWriting } from '$lib/organisation.svelte.ts';
  import { goto } from '$app/navigation';
  import { cellText, findRuleKind } from '@rigid-rule/core/compile';
  import { creating, hitPolicies, removing, type TableColumn } from '@rigid-rule/core/document';
  import { columnOfHeading } from '@rigid-rule/core/formats';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { KindMark } from '$lib/features/rule-kinds';
  import { FindingList } from '../findings';
  import { useDraft } from '../draft/context.ts';
  import { onDestroy } from 'svelte';
  import { Kept } from '$lib/ui/kept.svelte.ts';
  import RenameInput from '../draft/RenameInput.svelte';
  import { useSamples } from '../samples/samples.svelte.ts';
  import { useOffers } from '../shell/acts.svelte.ts';
  import ColumnsPanel from './ColumnsPanel.svelte';
  import CoverageBars from './CoverageBars.svelte';
  import Grid from './Grid.svelte';
  import { beginTable } from './new-table.ts';
  import PreviewPanel from './PreviewPanel.svelte';
  import { download, fileKinds, readFile } from './sheet-files.ts';
  import { TableState } from './table.svelte.ts';

  interface Props {
    tableKey: string | undefined;
  }
  const { tableKey }: Props = $props();
  const { draft, users } = useDraft();
  const samples = useSamples();
  const offers = useOffers();

  const tables = $derived(draft.rulebook.tables ?? []);
  const table = $derived(tables.find((t) => t.key === tableKey) ?? tables[0]);
  // One a table, kept while people go from table to table.
  const states = new Kept<TableState>();
  onDestroy(states.end);
  const grid = $derived(table && states.of(table.key, () => new TableState(draft, samples, table.key)));

  const keeping = $derived(table !== undefined && draft.keeps(table));
  let filter = $state('');
  let naming = $state('');
  const shown = $derived(tables.filter((t) => t.name.toLowerCase().includes(filter.trim().toLowerCase())));
  const findingsOf = (key: string) => draft.findings.filter((f) => f.part.kind === 'table' && f.part.key === key);

  function add() {
    const name = naming.trim();
    if (name === '') return;
    const key = draft.freeKey('table', name);
    draft.editAll(
      [
        {
          ref: { kind: 'table', key },
          operations: [creating(beginTable(key, name))],
          position: draft.lastPosition('table'),
        },
      ],
      `add the mapping ${name}`,
    );
    naming = '';
    void goto(mappingAddress(key));
  }
  function remove() {
    if (!table) return;
    draft.editAll([{ ref: { kind: 'table', key: table.key }, operations: [removing] }], `retire ${table.name}`);
    void goto(mappingsPath);
  }
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
  const uses = $derived(
    [...draft.program.types.values()].flatMap((t) =>
      t.rules.filter((r) => table && r.tables.has(table.key)).map((r) => ({ rule: r.rule, type: t.recordType })),
    ),
  );
  const rowCount = $derived.by(() => {
    const [shownRows, all] = [grid?.view.length ?? 0, table?.rows.length ?? 0];
    const rows = counted(all, 'row');
    return shownRows < all ? `${ownWriting(shownRows)} of ${rows}` : rows;
  });
  const wrongCells = $derived(grid ? [...grid.wrong].slice(0, 20) : []);
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
  <nav class="overflow-y-auto border-r border-line pt-3" aria-label="Mapping tables">
    <input
      type="search"
      class="editable mx-4 mb-2 w-[176px]"
      aria-label="Filter mappings"
      placeholder="Filter mappings"
      bind:value={filter}
    />
    {#each shown as t (t.key)}
      {@const found = findingsOf(t.key)}
      <a
        href={mappingAddress(t.key)}
        aria-current={t.key === table?.key ? 'page' : undefined}
        class={[
          'block px-4 py-1.5 hover:bg-sheet',
          t.key === table?.key && 'bg-sheet shadow-[inset_3px_0_var(--brass)]',
        ]}
      >
        <span class={['flex items-center gap-2', t.key === table?.key && 'font-[650]']}
          >{t.name}{#if found.length > 0}<i
              class={['size-1.5 rounded-full', found.some((f) => f.severity === 'error') ? 'bg-stop' : 'bg-brass']}
              ><span class="sr-only">{counted(found.length, 'finding')}</span></i
            >{/if}</span
        >
        <span class="text-small text-faint"
          >{counted(t.rows.length, 'row')}, {counted(t.keys.length, 'key')}, {t.outputs.length} output{t.outputs
            .length === 1
            ? ''
            : 's'}</span
        >
      </a>
    {/each}
    {#if draft.editable}
      <input
        class="editable mx-4 mt-3 w-[176px]"
        aria-label="New mapping"
        placeholder="a new mapping, then Enter"
        bind:value={naming}
        onkeydown={(e) => e.key === 'Enter' && add()}
      />
    {/if}
  </nav>
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
            {grid.wrong.size === 1 ? '1 cell does' : `${grid.wrong.size} cells do`} not fit
          </h2>
          <ul class="text-small">
            {#each wrongCells as [place, message] (place)}
              <li>
                <button
                  type="button"
                  class="word text-left"
                  onclick={() =>
                    goTo(
                      Number(place.split('/')[0]),
                      grid.columns.findIndex((c) => c.key === place.split('/')[1]),
                    )}>Row {Number(place.split('/')[0]) + 1}: {message}</button
                >
              </li>
            {/each}
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
            {#each grid.coverage.gaps.slice(0, 12) as gap, i (i)}
              <li class="flex justify-between border-t border-line py-0.5">
                <span>{table.keys.map((c) => cellText(gap.cells[c.key], ownSentences)).join(', ')}</span><span
                  class="text-faint">{gap.count}</span
                >
              </li>
            {/each}
            {#if grid.coverage.gaps.length > 12}<li class="quiet">and {grid.coverage.gaps.length - 12} more</li>{/if}
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
                : `Add ${grid.coverage.gaps.length} rows to fill in`}</button
            >{/if}
        </section>
      {/if}
      <section class="mb-5" aria-label="Where it is used">
        <h2 class="text-[15px] font-[650]">Where it is used</h2>
        {#each uses as { rule, type } (rule.key)}
          <a class="flex items-baseline gap-2 py-0.5 hover:text-brass" href={ruleAddress(type.key, rule.key)}>
            <span class="text-held"
              ><KindMark kind={rule.kind} label={findRuleKind(rule.kind)?.name ?? rule.kind} /></span
            >
            <span>{rule.name} <span class="quiet text-small">{type.name.toLowerCase()}</span></span>
          </a>
        {:else}<p class="quiet">No rule asks it yet. A map rule on the desk can.</p>{/each}
      </section>
      <ColumnsPanel state={grid} {draft} {users} />
      {#if draft.editable && uses.length === 0}<button type="button" class="word mt-4" onclick={remove}
          >Retire this table</button
        >{/if}
    </aside>
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
