<script lang="ts">
  /** What there is to a record type besides its fields: names, title, forms. */
  import { counted } from '$lib/counted.ts';
  import { fieldsOf } from '$lib/addresses.ts';
  import { partId, removing, type Form, type RecordType } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import FieldChips from '$lib/features/rule-kinds/parts/FieldChips.svelte';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import { readName } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { goto } from '$app/navigation';
  import type { Draft } from '../draft/draft.svelte.ts';
  import RenameInput from '../draft/RenameInput.svelte';
  import RetireRow from './RetireRow.svelte';
  import { distinct } from '$lib/ui/distinct.ts';
  import { uniqueId } from '$lib/unique-id.ts';

  interface Props {
    draft: Draft;
    type: RecordType;
  }
  const { draft, type }: Props = $props();
  const formKeys = $derived(distinct(type.forms.map((f) => f.key)));
  const ref = $derived({ kind: 'record type', key: type.key } as const);
  const readonly = $derived(!draft.editable);
  const rules = $derived(draft.rulebook.rules.filter((r) => r.recordType === type.key));
  const linked = $derived(
    draft.rulebook.recordTypes.flatMap((t) =>
      t.fields.filter((f) => f.recordType === type.key && t.key !== type.key).map((f) => `${f.name} of ${t.name}`),
    ),
  );
  let visit = '';
  const begin = () => (visit = uniqueId());
  const set = (member: string, value: unknown, label: string, group?: string) =>
    draft.edit(ref, [{ op: 'add', path: `/${member}`, value }], label, group);
  const setForms = (forms: readonly Form[], label: string, group?: string) => set('forms', forms, label, group);
  function toggle(form: Form, field: string, on: boolean) {
    const now = form.fields ?? type.fields.map((f) => f.key);
    const fields = type.fields.map((f) => f.key).filter((k) => (k === field ? on : now.includes(k)));
    setForms(
      type.forms.map((f) => (f === form ? { ...f, fields } : f)),
      'change what a form shows',
    );
  }
  function addForm() {
    let key = 'short';
    for (let n = 2; type.forms.some((f) => f.key === key); n++) key = `short_${n}`;
    setForms([...type.forms, { key, name: key.replace('_', ' ') + ' form', fields: [...type.title] }], 'add a form');
  }
  function retire() {
    const parts = [ref, ...type.fields.map((f) => ({ kind: 'field', key: `${type.key}.${f.key}` }) as const)];
    draft.editAll(
      parts.map((part) => ({ ref: part, operations: [removing] })),
      `retire ${partId(ref)}`,
    );
    void goto(fieldsOf(draft.rulebook.recordTypes[0]!.key));
  }
</script>

<article class="px-6 pt-[18px] pb-10" aria-label="Record type {type.name}">
  {#each [{ key: 'name', label: 'One is a' }, { key: 'plural', label: 'Many are' }] as const as line (line.key)}
    <SheetRow label={line.label}>
      {#if line.key === 'plural'}
        <RenameInput
          {draft}
          name={type.plural}
          label={line.label}
          renaming={(name) => ({ what: 'plural', recordType: type.key, name })}
          class="w-56"
        />
      {:else}
        <TypedInput
          class="w-56"
          label={line.label}
          disabled={readonly}
          value={type[line.key]}
          show={(name) => name}
          read={readName}
          live
          {begin}
          commit={(name) => set(line.key, name, 'name a record type', visit)}
        />
      {/if}
    </SheetRow>
  {/each}
  <SheetRow label="Called by">
    <FieldChips
      fields={type.fields.filter((f) => fieldTypeOf(f).titles)}
      chosen={type.title}
      label="Called by"
      {readonly}
      least={1}
      change={(keys) => set('title', keys, 'change what names a record')}
    />
  </SheetRow>
  {#each type.forms as form, i (formKeys[i])}
    <SheetRow label={i === 0 ? 'Full form' : 'Short form'}>
      <TypedInput
        class="w-40"
        label="Name of form {i + 1}"
        disabled={readonly}
        value={form.name}
        show={(name) => name}
        read={readName}
        live
        {begin}
        commit={(name) =>
          setForms(
            type.forms.map((f, x) => (x === i ? { ...f, name } : f)),
            'name a form',
            visit,
          )}
      />
      {#if i === 0}<span class="quiet ml-2">shows every field</span>{:else}
        {#if !readonly}<button
            type="button"
            class="word ml-2"
            aria-label="Remove the {form.name}"
            onclick={() =>
              setForms(
                type.forms.filter((f) => f !== form),
                'remove a form',
              )}>remove</button
          >{/if}
        <div class="grid grid-cols-2 gap-x-3 pt-1">
          {#each type.fields as f (f.key)}
            <label class="flex items-center gap-1.5">
              <input
                type="checkbox"
                class="check"
                disabled={readonly}
                checked={!form.fields || form.fields.includes(f.key)}
                onchange={(e) => toggle(form, f.key, e.currentTarget.checked)}
              /><span class="truncate">{f.name}</span>
            </label>
          {/each}
        </div>
      {/if}
    </SheetRow>
  {/each}
  {#if !readonly}
    <SheetRow label=""><button type="button" class="word" onclick={addForm}>add a short form</button></SheetRow>
    {#if rules.length + linked.length > 0}
      <SheetRow label="Out of use"
        ><span class="quiet"
          >It is in use: {[...(rules.length > 0 ? [counted(rules.length, 'rule')] : []), ...linked].join(', ')}. Take
          these out first.</span
        ></SheetRow
      >
    {:else}
      <RetireRow what="this record type" name={type.plural} keep="Keep them" {retire}>
        No rule and no field of another record type names it. Records that are stored stay stored; it can be undone.
      </RetireRow>
    {/if}
  {/if}
</article>
