<script lang="ts">
  /** Fields with a value each, as a test has them: changed, cleared, taken out, added. */
  import { editedValue, FieldInput } from '../fields';
  import type { RecordType, Stored } from '@rigid-rule/core/document';
  import { linkedType } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { useDraft } from '../draft/context.ts';
  import type { Linkable } from './test-edits.ts';

  interface Props {
    /** What the values are: it tells the inputs apart. */
    label: string;
    type: RecordType;
    data: Readonly<Record<string, Stored>>;
    set: (key: string, value: unknown) => void;
    remove: (key: string) => void;
    /** Of what is stored: fields that a person set, and how one comes to be held or not. */
    held?: readonly string[];
    hold?: (key: string, held: boolean) => void;
    /** Records of the test that a link to a type may name. */
    linkable?: Linkable;
  }
  const { label, type, data, set, remove, held = [], hold, linkable = () => [] }: Props = $props();
  const { users } = useDraft();
  const keys = $derived(Object.keys(data));
  const free = $derived(type.fields.filter((f) => !keys.includes(f.key)));
  const titles = $derived({ user: Object.fromEntries(users.map((u) => [u.email, u.name])) });
</script>

<div class="min-w-0">
  <ul>
    {#each keys as key (key)}
      {@const field = type.fields.find((f) => f.key === key)}
      <li class="grid grid-cols-[150px_minmax(0,240px)_auto_24px] justify-start items-baseline gap-x-2 py-px">
        <label class="truncate" for="{label}-{key}">{field?.name ?? key}</label>
        {#if field && !linkedType(field)}
          <FieldInput
            id="{label}-{key}"
            {field}
            value={data[key] ?? null}
            {titles}
            users={[...users]}
            commit={(v) => set(key, v)}
          />
        {:else if field && linkable(field.recordType ?? '').length > 0}
          {@const list = linkable(field.recordType ?? '')}
          {@const value = editedValue(field, data[key])}
          <select id="{label}-{key}" class="editable" {value} onchange={(e) => set(key, e.currentTarget.value || null)}>
            <option value="">blank</option>
            {#if value && !list.some((l) => l.value === value)}<option {value}>{value}, not beside it</option>{/if}
            {#each list as l, nth (nth)}<option value={l.value}>{l.name}</option>{/each}
          </select>
        {:else if field}
          <input
            id="{label}-{key}"
            class="editable"
            value={editedValue(field, data[key])}
            onchange={(e) => set(key, e.currentTarget.value.trim() || null)}
          />
        {:else}<span class="text-stop">no such field</span>{/if}
        {#if hold}<label class="flex items-center gap-1.5 text-small text-soft"
            ><input
              type="checkbox"
              class="check"
              aria-label="{field?.name ?? key} is held"
              checked={held.includes(key)}
              onchange={(e) => hold(key, e.currentTarget.checked)}
            />held</label
          >{:else}<span></span>{/if}
        <button
          type="button"
          class="grid size-6 cursor-pointer place-items-center text-faint hover:text-stop"
          aria-label="Take {field?.name ?? key} out of what is {label}"
          onclick={() => remove(key)}><Icon of={X} size={13} /></button
        >
      </li>
    {/each}
  </ul>
  <select
    class="editable mt-0.5 min-h-6 text-soft"
    aria-label="A field more of what is {label}"
    value=""
    onchange={(e) => {
      if (e.currentTarget.value) set(e.currentTarget.value, null);
      e.currentTarget.value = '';
    }}
  >
    <option value="">a field more</option>
    {#each free as f (f.key)}<option value={f.key}>{f.name}</option>{/each}
  </select>
</div>
