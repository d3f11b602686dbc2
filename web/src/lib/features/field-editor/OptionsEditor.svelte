<script lang="ts">
  /** The options of a picklist: order, name, meaning, mark; those outside the order stand apart. */
  import { optionMarks, type Field, type Operation, type Option, type OptionMark } from '@rigid-rule/core/document';
  import Icon from '$lib/ui/Icon.svelte';
  import ArrowDown from 'lucide/dist/esm/icons/arrow-down.mjs';
  import ArrowUp from 'lucide/dist/esm/icons/arrow-up.mjs';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import type { Draft } from '../draft/draft.svelte.ts';
  import RenameInput from '../draft/RenameInput.svelte';
  import { distinct } from '$lib/ui/distinct.ts';
  import { uniqueId } from '$lib/unique-id.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    draft: Draft;
    field: Field;
    typeKey: string;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { draft, field, typeKey, edit }: Props = $props();
  const options = $derived(field.options ?? []);
  const optionKeys = $derived(distinct(options.map((o) => o.key)));
  let adding = $state('');

  const setAll = (list: readonly Option[], label: string, group?: string) =>
    edit([{ op: 'add', path: '/options', value: list }], label, group);
  function change(i: number, more: Partial<Option>, label: string, group?: string) {
    const changed = Object.fromEntries(
      Object.entries({ ...options[i]!, ...more }).filter(([, v]) => v !== undefined && v !== '' && v !== false),
    ) as unknown as Option;
    setAll(
      options.map((o, x) => (x === i ? changed : o)),
      label,
      group,
    );
  }
  function move(i: number, to: number) {
    const list = options.filter((_, x) => x !== i);
    list.splice(to, 0, options[i]!);
    setAll(list, 'reorder the options');
  }
  /** Neither the key of another nor what another is called. */
  function keyOf(name: string, list: readonly Option[]): string {
    const base =
      name
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-|-$/g, '') || 'option';
    let key = base;
    for (let n = 2; list.some((o) => o.key === key || o.name === key); n++) key = `${base}-${n}`;
    return key;
  }
  /** One name, or a list that was pasted: one to a line. */
  function add(text: string) {
    const known = new Set(options.map((o) => o.name.toLowerCase()));
    const names = [...new Set(text.split(/\r?\n|\t/).map((n) => n.trim()))].filter(
      (n) => n && !known.has(n.toLowerCase()),
    );
    if (names.length === 0) return;
    const list = [...options];
    for (const name of names) list.push({ key: keyOf(name, list), name });
    setAll(list, names.length === 1 ? `add the option ${names[0]}` : `add ${ownWriting(names.length)} options`);
    adding = '';
  }
  const visits: string[] = [];
</script>

<div class="@container">
  <table class="w-full border-collapse">
    <thead>
      <tr class="label text-left">
        <th class="w-12 font-normal">Mark</th><th class="font-normal">Option</th><th class="font-normal">Meaning</th>
        {#if field.ordered}<th class="font-normal">Outside the order</th>{/if}
        <th><span class="sr-only">Order and remove</span></th>
      </tr>
    </thead>
    <tbody>
      {#each options as option, i (optionKeys[i])}
        <tr class="border-t border-line align-baseline">
          <td class="py-1">
            <select
              class="editable"
              aria-label="Mark of {option.name}"
              disabled={!draft.editable}
              value={option.mark ?? ''}
              onchange={(e) => change(i, { mark: (e.currentTarget.value || undefined) as OptionMark }, 'choose a mark')}
            >
              <option value="">–</option>
              {#each optionMarks as mark (mark)}<option>{mark}</option>{/each}
            </select>
          </td>
          <td class="py-1 pr-3">
            <!-- Across the whole table, which keeps its columns. -->
            <RenameInput
              {draft}
              name={option.name}
              label="Option {i + 1}"
              renaming={(name) => ({ what: 'option', recordType: typeKey, field: field.key, key: option.key, name })}
              class="w-full"
              planClass="-ml-12 w-[100cqw] mr-[calc(-100cqw+48px)]"
            />
          </td>
          <td class="py-1 pr-3">
            <input
              class="editable w-full"
              aria-label="Meaning of {option.name}"
              disabled={!draft.editable}
              value={option.meaning ?? ''}
              onfocus={() => (visits[i] = uniqueId())}
              oninput={(e) => change(i, { meaning: e.currentTarget.value }, 'say what an option means', visits[i])}
            />
          </td>
          {#if field.ordered}
            <td class="text-center">
              <input
                type="checkbox"
                class="check"
                aria-label="{option.name} stands outside the order"
                disabled={!draft.editable}
                checked={option.outside ?? false}
                onchange={(e) => change(i, { outside: e.currentTarget.checked }, 'change the order')}
              />
            </td>
          {/if}
          <td class="text-right whitespace-nowrap">
            {#if draft.editable}
              <button
                type="button"
                class="act"
                aria-label="Move {option.name} up"
                disabled={i === 0}
                onclick={() => move(i, i - 1)}><Icon of={ArrowUp} size={13} /></button
              ><button
                type="button"
                class="act"
                aria-label="Move {option.name} down"
                disabled={i === options.length - 1}
                onclick={() => move(i, i + 1)}><Icon of={ArrowDown} size={13} /></button
              ><button
                type="button"
                class="act"
                aria-label="Remove the option {option.name}"
                onclick={() =>
                  setAll(
                    options.filter((_, x) => x !== i),
                    `remove the option ${option.name}`,
                  )}><Icon of={X} size={13} /></button
              >
            {/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
{#if draft.editable}
  <input
    class="editable mt-1 w-64"
    aria-label="New option"
    placeholder="a new option, then Enter; or paste a list"
    bind:value={adding}
    onkeydown={(e) => e.key === 'Enter' && add(adding)}
    onpaste={(e) => {
      const text = e.clipboardData?.getData('text/plain') ?? '';
      if (!/[\n\t]/.test(text)) return;
      e.preventDefault();
      add(text);
    }}
  />
{/if}
