<script lang="ts">
  import { goto } from '$app/navigation';
  import { Command, computeCommandScore, Dialog } from 'bits-ui';
  import type { PaletteEntry } from './acts.svelte.ts';
  import { findRecordEntries } from './find-records.ts';
  import { byGroup, findEntries } from './palette.ts';
  import type { TypedAhead } from './typed-ahead.ts';

  interface Props {
    open: boolean;
    entries: readonly PaletteEntry[];
    types: readonly { readonly key: string; readonly name: string }[];
    /** What was typed before the palette had the focus. */
    takeAhead: () => TypedAhead;
  }
  let { open = $bindable(), entries, types, takeAhead }: Props = $props();

  let search = $state('');
  $effect(() => {
    if (open) search = '';
  });

  /** Milliseconds of quiet before records are looked for. */
  const quiet = 150;
  let records = $state.raw<readonly PaletteEntry[]>([]);
  $effect(() => {
    const text = search;
    let here = true;
    const timer = setTimeout(() => {
      findRecordEntries(types, text)
        .catch(() => [])
        .then(
          (found) => here && (records = found),
          () => undefined,
        );
    }, quiet);
    return () => {
      here = false;
      clearTimeout(timer);
    };
  });

  const found = $derived([
    ...findEntries(entries, search, computeCommandScore),
    ...(search.trim() === '' ? [] : records),
  ]);
  const groups = $derived(byGroup(found));

  /** Goes on where the typing ahead of the palette left off. */
  function goOn() {
    const { text, entered } = takeAhead();
    search += text;
    const first = groups[0]?.[1][0];
    if (entered && first) choose(first);
  }
  function choose(entry: PaletteEntry) {
    open = false;
    if (entry.href) void goto(entry.href);
    entry.run?.();
  }
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content
      class="fixed top-[12vh] left-1/2 z-50 w-[560px] max-w-[94vw] -translate-x-1/2 border border-ink bg-sheet"
    >
      <Dialog.Title class="sr-only">Find anything</Dialog.Title>
      <Dialog.Description class="sr-only"
        >Type to find fields, rules, areas and acts; Enter goes there.</Dialog.Description
      >
      <Command.Root label="Find anything" loop shouldFilter={false}>
        <Command.Input
          aria-controls="palette-list"
          aria-expanded="true"
          bind:value={search}
          onfocus={goOn}
          placeholder="Field, rule, option, record, area or act"
          class="w-full border-b border-line bg-field px-4 py-3 text-[15px] outline-none"
        />
        <Command.List id="palette-list" class="max-h-[50vh] overflow-y-auto py-1.5" tabindex={0}>
          <Command.Empty class="quiet px-4 py-3">Nothing by that name.</Command.Empty>
          {#each groups as [group, list] (group)}
            <Command.Group>
              <Command.GroupHeading class="label px-4 pt-2 pb-0.5">{group}</Command.GroupHeading>
              <Command.GroupItems>
                {#each list as entry, nth (nth)}
                  <Command.Item
                    value="{group} {nth} {entry.name}"
                    keywords={[entry.name]}
                    onSelect={() => choose(entry)}
                    class="flex cursor-pointer justify-between gap-4 px-4 py-1 data-selected:bg-brass-wash"
                  >
                    <span>{entry.name}</span>
                    {#if entry.hint}<span class="text-soft">{entry.hint}</span>{/if}
                  </Command.Item>
                {/each}
              </Command.GroupItems>
            </Command.Group>
          {/each}
        </Command.List>
      </Command.Root>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
