<script lang="ts">
  /** The list of records of a type: sorted and filtered by the server, scrolled without pages. */
  import { notSettledPath, recordAddress, recordsOf } from '$lib/addresses.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import type { Field, RecordType, Stored } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import ArrowDown from 'lucide/dist/esm/icons/arrow-down.mjs';
  import ArrowUp from 'lucide/dist/esm/icons/arrow-up.mjs';
  import { shownValue } from '$lib/features/fields';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { followMedia } from '$lib/ui/media.ts';
  import { readFilters, unreadFilters } from '$lib/list-filters.ts';
  import ListTools from './ListTools.svelte';
  import { WindowedList, type Window } from './list.svelte.ts';
  import TypeTabs from '$lib/ui/TypeTabs.svelte';

  interface Props {
    types: readonly { key: string; name: string; plural: string }[];
    recordType: RecordType;
    columns: readonly Field[];
    first: Window;
    /** Changes that could not be carried through to other records, or wait for long. */
    followUps: { readonly failed: number; readonly late: number };
    users: readonly { email: string; name: string }[];
    mayWrite: boolean;
  }
  const { types, recordType, columns, first, followUps, users, mayWrite }: Props = $props();
  const offers = useOffers();

  /** Two lines a row where there is no room for columns. */
  let narrow = $state(false);
  const rowHeight = $derived(narrow ? 50 : 29);
  followMedia('(max-width: 767px)', (holds) => (narrow = holds));
  const shownColumns = $derived(narrow ? columns.slice(0, 4) : columns);
  const spare = 20;
  const params = $derived(page.url.searchParams);
  const list = $derived(new WindowedList(recordType.key, page.url.search, first, 200));
  const sort = $derived(params.get('sort') ?? recordType.title[0]!);
  const descending = $derived(params.get('desc') === '1');
  const filters = $derived(readFilters(recordType, params));
  let box: HTMLDivElement | undefined = $state();
  let head: HTMLDivElement | undefined = $state();
  let scrollTop = $state(0);
  let height = $state(700);
  const from = $derived(Math.max(0, Math.floor(scrollTop / rowHeight) - spare));
  const to = $derived(Math.min(list.total, Math.ceil((scrollTop + height) / rowHeight) + spare));
  const visible = $derived(Array.from({ length: to - from }, (_, i) => from + i));
  $effect(() => list.want(from, to));

  /** The same address with some parameters changed or, as undefined, taken out; the list begins at its top again. */
  function address(changes: Readonly<Record<string, string | undefined>>): string {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes)) {
      if (value === undefined) next.delete(key);
      else next.set(key, value);
    }
    return recordsOf(recordType.key, next.toString());
  }
  async function go(changes: Readonly<Record<string, string | undefined>>) {
    await goto(address(changes), { keepFocus: true, noScroll: true, replaceState: true });
    box?.scrollTo({ top: 0 });
  }
  const sortBy = (key: string) => address({ sort: key, desc: sort === key && !descending ? '1' : undefined });

  const filtered = $derived(params.has('q') || filters.length > 0);
  /** Values of what everybody writes alike are never cut: among the longest of each kind. */
  const longest: Readonly<Record<string, Stored>> = { date: '2026-12-28', 'date time': '2026-12-28T23:59:00Z' };
  function widthOf(column: Field): string {
    const type = fieldTypeOf(column);
    const value = shownValue(column, longest[type.typeOf(column).kind]).length;
    // A usual name has room beside the arrow of a sort.
    const least = Math.max(value * 0.85, Math.min(column.name.length, 16) * 0.8 + 2);
    return type.numeric ? `minmax(max(84px,${least}ch),.9fr)` : `minmax(max(96px,${least}ch),1fr)`;
  }
  /** Whose values they are stays in sight where the others go sideways. */
  const named = 'sticky left-0 z-10 -mr-4 bg-inherit pr-4';
  const widths = $derived(['minmax(190px,2.4fr)', ...columns.slice(1).map(widthOf)].join(' '));

  $effect(() => {
    offers.status =
      list.problem ??
      `${ownWriting(list.total)} ${list.total === 1 ? recordType.name.toLowerCase() : recordType.plural.toLowerCase()}${filtered ? ' found' : ''}`;
    return () => (offers.status = '');
  });
</script>

<section
  class="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_minmax(0,1fr)] bg-sheet px-8 pt-4 max-md:px-4"
  aria-label={recordType.plural}
>
  <div class="flex flex-wrap items-baseline gap-x-5 gap-y-2 pb-2.5">
    <h1 class="sr-only">{recordType.plural}</h1>
    <TypeTabs
      types={types.map(({ key, plural }) => ({ key, name: plural }))}
      current={recordType.key}
      addressOf={(key) => recordsOf(key)}
      class="items-baseline gap-x-4"
    />
    <span class="text-soft">{ownWriting(list.total)}{filtered ? ' found' : ''}</span>
    {#if followUps.failed > 0}<a class="text-stop hover:underline" href={notSettledPath}
        >{ownWriting(followUps.failed)} not carried through</a
      >{/if}
    {#if followUps.late > 0}<a class="text-soft hover:underline" href={notSettledPath}
        >{ownWriting(followUps.late)} still to be carried through</a
      >{/if}
    <ListTools {recordType} {columns} {filters} unread={unreadFilters(recordType, params)} {users} {mayWrite} {go} />
  </div>

  <div role="table" aria-label={recordType.plural} aria-rowcount={list.total + 1} class="contents">
    <!-- As wide as the rows below it, whatever their scroll bar takes; sideways both go together. -->
    <div
      role="rowgroup"
      class="scroll-gutter overflow-hidden border-b border-ink"
      bind:this={head}
      onscroll={() => box?.scrollTo({ left: head?.scrollLeft ?? 0 })}
    >
      <div
        role="row"
        aria-rowindex={1}
        class="grid min-w-min gap-x-4 pr-4 max-md:flex max-md:min-w-0 max-md:flex-wrap max-md:not-focus-within:sr-only"
        style:grid-template-columns={widths}
      >
        {#each columns as column, c (column.key)}
          {@const on = sort === column.key}
          <div
            role="columnheader"
            aria-sort={on ? (descending ? 'descending' : 'ascending') : 'none'}
            class={['min-w-0 py-1', fieldTypeOf(column).numeric && 'text-right', c === 0 && ['bg-sheet', named]]}
          >
            <a
              href={sortBy(column.key)}
              data-sveltekit-replacestate
              data-sveltekit-keepfocus
              data-sveltekit-noscroll
              class={['label inline-flex max-w-full items-center gap-1 hover:text-ink', on && 'font-[650] text-ink']}
            >
              <span class="truncate">{column.name}</span>{#if on}<Icon
                  of={descending ? ArrowDown : ArrowUp}
                  size={12}
                  class="shrink-0"
                />{/if}
            </a>
          </div>
        {/each}
      </div>
    </div>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      role="rowgroup"
      tabindex="0"
      class="scroll-gutter overflow-y-auto"
      bind:this={box}
      bind:clientHeight={height}
      onscroll={(e) => {
        scrollTop = e.currentTarget.scrollTop;
        head?.scrollTo({ left: e.currentTarget.scrollLeft });
      }}
    >
      {#if list.total === 0}
        <div role="row">
          <div role="cell" class="py-10 text-center text-soft">
            {#if filtered}Nothing matches. <a class="editable" href={recordsOf(recordType.key)}
                >Show all {recordType.plural.toLowerCase()}</a
              >{:else}There are no {recordType.plural.toLowerCase()} yet.{/if}
          </div>
        </div>
      {:else}
        <div role="presentation" style:height="{list.total * rowHeight}px" class="relative">
          {#each visible as index (index)}
            {@const row = list.row(index)}
            <div
              role="row"
              aria-rowindex={index + 2}
              class={[
                'absolute w-full border-b border-line bg-sheet pr-4 hover:bg-paper',
                narrow
                  ? 'flex flex-wrap content-center gap-x-3 overflow-hidden'
                  : 'grid min-w-min items-center gap-x-4',
              ]}
              style:top="{index * rowHeight}px"
              style:height="{rowHeight}px"
              style:grid-template-columns={narrow ? undefined : widths}
            >
              {#each shownColumns as column, c (column.key)}
                <div
                  role="cell"
                  class={[
                    'truncate',
                    narrow
                      ? c === 0
                        ? 'w-full'
                        : 'max-w-[45%] text-small text-soft'
                      : fieldTypeOf(column).numeric && 'text-right',
                    !narrow && c === 0 && named,
                  ]}
                >
                  {#if row}
                    {@const text = shownValue(column, row.data[column.key], list.titles)}
                    {#if c === 0}<a
                        class="font-[650] whitespace-pre hover:text-brass"
                        href={recordAddress(recordType.key, row.id)}>{text || 'no name'}</a
                      >{:else}{text}{/if}
                  {/if}
                </div>
              {/each}
            </div>
          {/each}
        </div>
      {/if}
    </div>
  </div>
</section>
