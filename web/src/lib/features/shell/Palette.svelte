<script lang="ts">
  import { goto } from '$app/navigation';
  import { Command, computeCommandScore, Dialog } from 'bits-ui';
  import { group } from 'd3-array';
  import type { PaletteEntry } from './acts.svelte.ts';
  import { findRecordEntries } from './find-records.ts';
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

  /** Before anything is typed: what can be done here, then where to go; what is undone comes last. */
  const order = ['Here', 'Areas', 'Rules', 'Mappings', 'Records', 'Acts'];
  const likely = $derived(
    entries.filter((e) => order.includes(e.group)).toSorted((a, b) => order.indexOf(a.group) - order.indexOf(b.group)),
  );

  /** What begins with the text comes first, then what holds it; letters in order count only where nothing else does. */
  function score({ name, group: area }: PaletteEntry, text: string): number {
    const lower = name.toLowerCase();
    if (lower.startsWith(text)) return 1;
    if (lower.includes(text)) return 0.9;
    if (text.split(/\s+/).every((word) => `${area} ${lower}`.toLowerCase().includes(word))) return 0.8;
    return computeCommandScore(lower, text) * 0.5;
  }
  const found = $derived.by(() => {
    const text = search.trim().toLowerCase();
    if (text === '') return likely;
    const scored = entries.map((entry) => ({ entry, score: score(entry, text) })).filter((s) => s.score > 0);
    const plain = scored.filter((s) => s.score >= 0.8);
    const best = (plain.length > 0 ? plain : scored).sort((x, y) => y.score - x.score).slice(0, most);
    return [...best.map((s) => s.entry), ...records];
  });
  /** What is beyond is found by typing more. */
  const most = 60;
  /** In the order of the best of each. */
  const groups = $derived([...group(found, (e) => e.group)]);

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
                {#each list as entry (`${entry.name} ${entry.hint ?? ''} ${entry.href ?? ''}`)}
                  <Command.Item
                    value="{group} {entry.name} {entry.hint ?? ''} {entry.href ?? ''}"
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
