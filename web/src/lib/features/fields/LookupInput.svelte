<script lang="ts">
  /** A link to one record, found by typing part of its name. What is typed and names none is said, and links to nothing. */
  import type { Field, Stored } from '@rigid-rule/core/document';
  import { Combobox } from 'bits-ui';
  import { onDestroy, onMount, untrack } from 'svelte';
  import type { Begun, FindLinks, FoundLink } from './links.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    id: string;
    field: Field;
    value: Stored;
    shown: string;
    commit: (value: unknown) => void;
    find: FindLinks;
    invalid?: boolean;
    describedBy?: string | undefined;
    autofocus?: boolean;
    /** Goes on with what was typed before this was loaded. */
    begun?: Begun | undefined;
    class?: string;
  }
  const {
    id,
    field,
    value,
    shown,
    commit,
    find,
    invalid = false,
    describedBy,
    autofocus = false,
    begun,
    class: extra = '',
  }: Props = $props();
  const first = untrack(() => begun);

  let found = $state.raw<readonly FoundLink[]>([]);
  /** Text that is being typed and names no record yet; absent: what is held is on show. */
  let typing = $state(first?.typed);
  /** The last choice, until its name comes from outside. */
  let chosen = $state.raw<{ readonly id: string; readonly title: string }>();
  let unknown = $state<string>();
  let open = $state(false);
  let input = $state<HTMLInputElement | null>(null);
  let asked = 0;
  let gone = false;
  onDestroy(() => (gone = true));

  const held = $derived(value === null ? '' : String(value));
  const name = $derived(chosen?.id === held ? chosen.title : shown);
  /** What else changed the value while somebody was typing, who is told. */
  let overtaken = $state(false);
  // Where nobody types, whatever changes the value ends what was typed.
  let heldBefore = untrack(() => held);
  $effect(() => {
    if (held === heldBefore) return;
    heldBefore = held;
    overtaken = typing !== undefined && document.activeElement === input;
    if (!overtaken) takeBack();
  });
  function takeBack() {
    typing = unknown = undefined;
    overtaken = false;
  }
  /** Changed here: nobody has to be told. */
  function change(link: string | null) {
    heldBefore = link ?? '';
    commit(link);
  }

  async function search(text: string) {
    const mine = ++asked;
    const answer = await looked(text);
    if (mine === asked) found = answer ?? [];
  }
  /** Undefined where nobody can be asked now. */
  async function looked(text: string): Promise<readonly FoundLink[] | undefined> {
    try {
      return await find(field.recordType ?? '', text);
    } catch {
      return undefined;
    }
  }
  function pick(link: FoundLink) {
    chosen = { id: String(link.id), title: link.title };
    takeBack();
    if (String(link.id) !== held) change(String(link.id));
  }
  const folded = (text: string) => text.trim().replace(/\s+/g, ' ').toLowerCase();

  /** On leaving, the only record of that name is taken; otherwise the text is told to name none. */
  async function leave() {
    const text = typing;
    if (text === undefined) return;
    if (text.trim() === '') {
      takeBack();
      if (held !== '') change(null);
      return;
    }
    const all = await looked(text);
    if (gone || typing !== text) return;
    if (!all) {
      unknown = 'The network is away: nobody can say which one this is.';
      return;
    }
    const exact = all.filter((f) => folded(f.title) === folded(text));
    const [only] = exact.length === 1 ? exact : all.length === 1 ? all : [];
    if (only) pick(only);
    else
      unknown = all.length === 0 ? `No ${what} of this name.` : `${ownWriting(all.length)} of this name: choose one.`;
  }
  function type(text: string) {
    typing = text;
    unknown = undefined;
    if (text === '' && held !== '') change(null);
    void search(text);
  }
  onMount(() => {
    if (first?.typed !== undefined) type(first.typed);
    if (first?.focus) {
      input?.focus();
      if (input instanceof HTMLInputElement) input.setSelectionRange(first.focus.from, first.focus.to);
      open = first.wantsList || first.typed !== undefined;
      if (first.wantsList && first.typed === undefined) void search('');
    } else if (first) void leave();
    else if (autofocus) input?.focus();
  });
  const what = $derived(field.name.toLowerCase());
</script>

{#snippet now()}It is <b>{name || 'blank'}</b> by now; Escape takes that.{/snippet}

<Combobox.Root
  type="single"
  bind:open
  value={held}
  inputValue={typing ?? name}
  onOpenChange={(open) => open && void search('')}
  onValueChange={(picked) => {
    const link = found.find((f) => String(f.id) === picked);
    if (link) pick(link);
  }}
>
  <Combobox.Input
    {id}
    bind:ref={input}
    class={['box w-full min-w-0', (invalid || unknown) && 'border-stop', extra]}
    aria-invalid={invalid || unknown ? 'true' : undefined}
    aria-describedby={unknown ? `${id}-unknown` : describedBy}
    oninput={(e) => type(e.currentTarget.value)}
    onblur={() => void leave()}
    onkeydown={(e) => e.key === 'Escape' && overtaken && takeBack()}
  />
  {#if unknown}<span class="text-small whitespace-nowrap text-stop" id="{id}-unknown" role="status">{unknown}</span
    >{:else if overtaken}<span class="sr-only" role="status">{@render now()}</span>{/if}
  <Combobox.Portal>
    <Combobox.Content
      class="z-30 max-h-64 w-(--bits-combobox-anchor-width) min-w-48 overflow-y-auto border border-edge bg-field py-1"
      sideOffset={1}
    >
      {#if overtaken}<p class="px-2.5 pb-1 text-small text-soft">{@render now()}</p>{/if}
      {#each found as record (record.id)}
        <Combobox.Item
          value={String(record.id)}
          label={record.title}
          class="cursor-pointer px-2.5 py-0.5 data-highlighted:bg-brass-wash"
        >
          {record.title}
        </Combobox.Item>
      {:else}
        <p class="quiet px-2.5 py-0.5">Nothing by that name</p>
      {/each}
    </Combobox.Content>
  </Combobox.Portal>
</Combobox.Root>
