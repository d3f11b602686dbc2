<script lang="ts">
  /** What rules must write on the records beside the one under test: value by value, or nothing at all. */
  import { editedValue, FieldInput } from '../fields';
  import type { RelatedExpectation, RuleTest } from '@rigid-rule/core/document';
  import { linkedType } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { useDraft } from '../draft/context.ts';
  import type { TestEdits } from './test-edits.ts';

  interface Props extends TestEdits {
    test: RuleTest;
  }
  const { test, set, drop }: Props = $props();
  const { draft, users } = useDraft();

  const expected = $derived(test.expect.related);
  const beside = $derived(test.related ?? []);
  const typeOf = (key: string) => draft.rulebook.recordTypes.find((t) => t.key === key);
  const keep = (list: readonly RelatedExpectation[]) => set('/expect/related', list);
  const change = (at: number, more: Partial<RelatedExpectation>) =>
    keep((expected ?? []).map((r, i) => (i === at ? { ...r, ...more } : r)));
  function add(key: string) {
    const record = beside.find((r) => r.key === key);
    const field = record && typeOf(record.recordType)?.fields[0];
    if (record && field)
      keep([...(expected ?? []), { recordType: record.recordType, key, field: field.key, value: null }]);
  }
</script>

<label class="mt-1.5 flex min-h-6 items-center gap-1.5 text-soft"
  ><input
    type="checkbox"
    class="check"
    checked={expected !== undefined}
    onchange={(e) => (e.currentTarget.checked ? keep([]) : drop('/expect/related'))}
  />What is written on the records beside it</label
>
{#if expected}
  <ul aria-label="What is written beside it">
    {#each expected as r, i (i)}
      {@const type = typeOf(r.recordType)}
      {@const field = type?.fields.find((f) => f.key === r.field)}
      <li class="flex items-baseline gap-x-2">
        <span>{type?.name ?? r.recordType} {r.key}:</span>
        <select
          class="editable min-h-6"
          aria-label="Field of {r.key}"
          value={r.field}
          onchange={(e) => change(i, { field: e.currentTarget.value, value: null })}
        >
          {#each type?.fields ?? [] as f (f.key)}<option value={f.key}>{f.name}</option>{/each}
        </select>
        <label for="beside-{i}">becomes</label>
        {#if field && !linkedType(field)}
          <FieldInput
            id="beside-{i}"
            {field}
            value={r.value}
            users={[...users]}
            commit={(v) => change(i, { value: v as RelatedExpectation['value'] })}
            class="max-w-[200px]"
          />
        {:else}
          <input
            id="beside-{i}"
            class="editable max-w-[200px]"
            value={field ? editedValue(field, r.value) : ''}
            onchange={(e) => change(i, { value: e.currentTarget.value.trim() || null })}
          />
        {/if}
        <button
          type="button"
          class="grid size-6 cursor-pointer place-items-center text-faint hover:text-stop"
          aria-label="Expect nothing of {field?.name ?? r.field} of {r.key}"
          onclick={() => keep(expected.filter((_, n) => n !== i))}><Icon of={X} size={13} /></button
        >
      </li>
    {/each}
  </ul>
  <select
    class="editable min-h-6 text-soft"
    aria-label="A value more that is written beside it"
    value=""
    onchange={(e) => {
      add(e.currentTarget.value);
      e.currentTarget.value = '';
    }}
  >
    <option value=""
      >{beside.length === 0
        ? 'nothing stands beside it'
        : expected.length === 0
          ? 'nothing is written; or on'
          : 'also on'}</option
    >
    {#each beside as r (r.key)}<option value={r.key}>{typeOf(r.recordType)?.name ?? r.recordType} {r.key}</option
      >{/each}
  </select>
{/if}
