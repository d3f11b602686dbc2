<script lang="ts">
  /** What is shown of a list: searched, filtered, in which columns; and what is done with it: taken along, added to. */
  import type { Field, RecordType } from '@rigid-rule/core/document';
  import { page } from '$app/state';
  import { newRecordAddress } from '$lib/addresses.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { filterParams, type ListFilter } from '$lib/list-filters.ts';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import FilterEditor from './FilterEditor.svelte';
  import { filterWords } from './filter-words.ts';

  interface Props {
    recordType: RecordType;
    columns: readonly Field[];
    filters: readonly ListFilter[];
    /** Parameters of the address that ask for filters that there are not. */
    unread: readonly string[];
    users: readonly { email: string; name: string }[];
    mayWrite: boolean;
    /** To the same list with some parameters of its address changed. */
    go: (changes: Readonly<Record<string, string | undefined>>) => Promise<void>;
  }
  const { recordType, columns, filters, unread, users, mayWrite, go }: Props = $props();
  const offers = useOffers();

  let choosing = $state(false);
  let editedKey = $state<string>();
  const editing = $derived.by((): ListFilter | undefined => {
    const field = recordType.fields.find((f) => f.key === editedKey);
    return field && (filters.find((f) => f.field.key === editedKey) ?? { field });
  });
  const change = (filter: ListFilter) => void go(filterParams(filter));

  let typing: ReturnType<typeof setTimeout> | undefined;
  function search(text: string) {
    clearTimeout(typing);
    typing = setTimeout(() => void go({ q: text || undefined }), 160);
  }
  const toggleColumn = (key: string, on: boolean) => {
    const keys = recordType.fields
      .filter((f) => (f.key === key ? on : columns.some((c) => c.key === f.key)))
      .map((f) => f.key);
    void go({ cols: keys.join(',') || undefined });
  };

  $effect(() =>
    offers.offer(
      [{ keys: '/', does: 'search the list', run: () => document.getElementById('list-search')?.focus() }],
      [],
    ),
  );
</script>

<!-- Together on a line, whatever stands before them; in a narrow window their lists open below all of it. -->
<div class="relative ml-auto flex flex-wrap items-baseline gap-x-5 gap-y-2">
  <label class="flex items-center gap-2 border-b border-edge">
    <span class="sr-only">Search {recordType.plural.toLowerCase()} by name</span>
    <input
      id="list-search"
      type="search"
      class="w-32 bg-transparent"
      placeholder="Search by name"
      value={page.url.searchParams.get('q') ?? ''}
      oninput={(e) => search(e.currentTarget.value)}
    />
    <span class="key">/</span>
  </label>
  <details class="relative max-md:static" bind:open={choosing}>
    <summary class="cursor-pointer list-none"><span class="editable">Filter</span></summary>
    <div class="absolute right-0 z-20 mt-1 w-64 border border-edge bg-field px-3 py-2 max-md:left-0">
      {#if editing}
        <FilterEditor filter={editing} {users} {change} />
        <div class="mt-2 flex justify-between">
          <button type="button" class="word" onclick={() => (editedKey = undefined)}>another field</button>
          <button type="button" class="word" onclick={() => (choosing = false)}>done</button>
        </div>
      {:else}
        <ul class="max-h-[60vh] overflow-y-auto" aria-label="Filter by">
          {#each recordType.fields as field (field.key)}<li>
              <button
                type="button"
                class="w-full cursor-pointer py-px text-left hover:text-brass"
                onclick={() => (editedKey = field.key)}>{field.name}</button
              >
            </li>{/each}
        </ul>
      {/if}
    </div>
  </details>
  <details class="relative max-md:static">
    <summary class="cursor-pointer list-none"><span class="editable">Columns</span></summary>
    <fieldset
      class="absolute right-0 z-20 mt-1 grid max-h-[60vh] w-52 overflow-y-auto border border-edge bg-field px-3 py-2 max-md:left-0"
    >
      <legend class="sr-only">Columns</legend>
      {#each recordType.fields as field (field.key)}
        <label class="flex items-center gap-2 py-px"
          ><input
            type="checkbox"
            class="check"
            checked={columns.some((c) => c.key === field.key)}
            onchange={(e) => toggleColumn(field.key, e.currentTarget.checked)}
          />{field.name}</label
        >
      {/each}
    </fieldset>
  </details>
  {#if unread.length === 0}<a class="editable" href="/api/records/{recordType.key}/csv{page.url.search}" download>CSV</a
    >{/if}
  {#if mayWrite}<a class="button" href={newRecordAddress(recordType.key)}>New {recordType.name.toLowerCase()}</a>{/if}
</div>
{#if unread.length > 0}
  <p class="w-full text-stop [overflow-wrap:anywhere]" role="status">
    Not filtered by {unread.map((name) => name.slice(name.indexOf('.') + 1)).join(' and ')}, as this address asks: {recordType.plural.toLowerCase()}
    have no such field, or one that is not filtered so.
    <button
      type="button"
      class="word"
      onclick={() => void go(Object.fromEntries(unread.map((name) => [name, undefined])))}>show them so</button
    >
  </p>
{/if}
{#if filters.length > 0}
  <ul class="flex w-full flex-wrap gap-x-4 gap-y-1" aria-label="Filters">
    {#each filters as f (f.field.key)}
      <li class="flex items-center gap-1.5">
        <button
          type="button"
          class="cursor-pointer border-b-[1.5px] border-brass"
          onclick={() => {
            editedKey = f.field.key;
            choosing = true;
          }}>{filterWords(f, users)}</button
        >
        <button
          type="button"
          class="cursor-pointer text-soft hover:text-stop"
          aria-label="Without the filter on {f.field.name}"
          onclick={() => change({ field: f.field })}><Icon of={X} size={13} /></button
        >
      </li>
    {/each}
  </ul>
{/if}
