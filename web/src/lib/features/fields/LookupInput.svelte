<script lang="ts">
  /** A link to one record, found by typing part of its name. */
  import type { Field, Stored } from '@rigid-rule/core';
  import { Combobox } from 'bits-ui';
  import type { FindLinks, FoundLink } from './links.ts';

  interface Props {
    id: string;
    field: Field;
    value: Stored;
    shown: string;
    commit: (value: unknown) => void;
    find: FindLinks;
    class?: string;
  }
  const { id, field, value, shown, commit, find, class: extra = '' }: Props = $props();

  let found = $state.raw<readonly FoundLink[]>([]);
  let chosen = $state<string>();
  let asked = 0;

  async function search(text: string) {
    const mine = ++asked;
    const answer = await find(field.recordType ?? '', text);
    if (mine === asked) found = answer;
  }
</script>

<Combobox.Root
  type="single"
  value={value === null ? '' : String(value)}
  inputValue={chosen ?? shown}
  onOpenChange={(open) => open && void search('')}
  onValueChange={(picked) => {
    chosen = found.find((f) => String(f.id) === picked)?.title;
    commit(picked || null);
  }}
>
  <Combobox.Input
    {id}
    class={['box w-full min-w-0', extra]}
    oninput={(e) => {
      if (e.currentTarget.value === '') {
        chosen = '';
        commit(null);
      }
      void search(e.currentTarget.value);
    }}
  />
  <Combobox.Portal>
    <Combobox.Content
      class="z-30 max-h-64 w-(--bits-combobox-anchor-width) min-w-48 overflow-y-auto border border-edge bg-field py-1"
      sideOffset={1}
    >
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
