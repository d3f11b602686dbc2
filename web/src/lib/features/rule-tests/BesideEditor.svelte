<script lang="ts">
  /** The records beside the one under test that rules may read, and the one that it is made from. */
  import type { RecordData, RuleTest, SampleRecord, Stored } from '@rigid-rule/core/document';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { useDraft } from '../draft/context.ts';
  import FieldValues from './FieldValues.svelte';
  import type { Linkable, TestEdits } from './test-edits.ts';

  interface Props extends TestEdits {
    test: RuleTest;
    linkable: Linkable;
  }
  const { test, set, drop, linkable }: Props = $props();
  const { draft } = useDraft();

  const related = $derived(test.related ?? []);
  const typeOf = (key: string) => draft.rulebook.recordTypes.find((t) => t.key === key);
  const keep = (list: readonly SampleRecord[]) => (list.length > 0 ? set('/related', list) : drop('/related'));
  const change = (at: number, data: RecordData) => keep(related.map((r, i) => (i === at ? { ...r, data } : r)));
  const put = (data: RecordData, key: string, value: unknown): RecordData => ({ ...data, [key]: value as Stored });
  const without = (data: RecordData, key: string): RecordData =>
    Object.fromEntries(Object.entries(data).filter(([k]) => k !== key));
  function add(recordType: string) {
    const taken = new Set(related.map((r) => r.key));
    let n = 1;
    while (taken.has(`${recordType}-${n}`)) n++;
    keep([...related, { key: `${recordType}-${n}`, recordType, data: {} }]);
  }
</script>

{#snippet types(label: string, value: string, first: string, chosen: (key: string) => void)}
  <select
    class="editable min-h-6 text-soft"
    aria-label={label}
    {value}
    onchange={(e) => {
      chosen(e.currentTarget.value);
      e.currentTarget.value = value;
    }}
  >
    <option value="">{first}</option>
    {#each draft.rulebook.recordTypes as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
  </select>
{/snippet}

<div class="grid gap-y-2">
  {#each related as r, i (`${r.recordType} ${r.key}`)}
    {@const other = typeOf(r.recordType)}
    {@const name = `${other?.name ?? r.recordType} ${r.key}`}
    <section aria-label={name}>
      <p class="flex items-baseline gap-2">
        <b class="font-[650]">{other?.name ?? r.recordType}</b> <span class="text-soft">{r.key}</span>
        <button
          type="button"
          class="grid size-6 cursor-pointer place-items-center text-faint hover:text-stop"
          aria-label="Take {name} away"
          onclick={() => keep(related.filter((_, n) => n !== i))}><Icon of={X} size={13} /></button
        >
      </p>
      {#if other}
        <FieldValues
          label="of {r.key}"
          type={other}
          data={r.data}
          set={(k, v) => change(i, put(r.data, k, v))}
          remove={(k) => change(i, without(r.data, k))}
          {linkable}
        />
      {/if}
    </section>
  {/each}
  <span>{@render types('A record beside it', '', 'a record beside it', (key) => key && add(key))}</span>
  <div>
    {@render types('Made from', test.origin?.recordType ?? '', 'made from no other record', (key) =>
      key ? set('/origin', { recordType: key, data: {} }) : test.origin && drop('/origin'),
    )}
    {#if test.origin}
      {@const origin = test.origin}
      {@const other = typeOf(origin.recordType)}
      {#if other}
        <FieldValues
          label="of what it is made from"
          type={other}
          data={origin.data}
          set={(k, v) => set('/origin', { ...origin, data: put(origin.data, k, v) })}
          remove={(k) => set('/origin', { ...origin, data: without(origin.data, k) })}
          {linkable}
        />
      {/if}
    {/if}
  </div>
</div>
