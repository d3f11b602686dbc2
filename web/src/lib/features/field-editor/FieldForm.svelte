<script lang="ts">
  /** All that there is to a field, edited in place. */
  import { fieldsOf, ruleAddress } from '$lib/addresses.ts';
  import type { FieldRules, TypeProgram } from '@rigid-rule/core/compile';
  import { optionOwner, pointer, removing, type Field, type Operation } from '@rigid-rule/core/document';
  import { fieldTypeOf, fieldTypes } from '@rigid-rule/core/language';
  import type { Draft } from '../draft/draft.svelte.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import { uniqueId } from '$lib/unique-id.ts';
  import CompanionsRow from './CompanionsRow.svelte';
  import LimitRows from './LimitRows.svelte';
  import { linkOperations } from './link-operations.ts';
  import OptionsEditor from './OptionsEditor.svelte';
  import RetireRow from './RetireRow.svelte';
  import WrittenAs from './WrittenAs.svelte';
  import RenameInput from '../draft/RenameInput.svelte';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    draft: Draft;
    program: TypeProgram;
    field: Field;
    /** Rules of all record types that write the field, and that read it. */
    rules: Pick<FieldRules, 'writers' | 'readers'>;
    /** Goes to another field, or to none. */
    open: (key: string | undefined) => void;
  }
  const { draft, program, field, rules, open }: Props = $props();
  const { writers, readers } = $derived(rules);

  const type = $derived(program.recordType);
  const ref = $derived({ kind: 'field', key: `${type.key}.${field.key}` } as const);
  const readonly = $derived(!draft.editable);
  const others = $derived(draft.rulebook.recordTypes);
  const users = $derived([...new Set([...writers, ...readers])]);
  /** Who names it, and what becomes of them without it. */
  const inUse = $derived(
    users.length === 0
      ? 'No rule names it.'
      : `${users.length === 1 ? '1 rule names' : `${ownWriting(users.length)} rules name`} it and will be left out until put right: ${users.map((u) => u.rule.name).join('; ')}.`,
  );
  const fieldType = $derived(fieldTypeOf(field));

  const flags = $derived(
    [
      { key: 'required', name: 'required' },
      { key: 'unique', name: 'unique' },
      { key: 'ordered', name: 'ordered by its options' },
    ].filter((f) => f.key !== 'ordered' || fieldType.chooses === 'one') as {
      key: 'required' | 'unique' | 'ordered';
      name: string;
    }[],
  );

  const edit = (operations: readonly Operation[], label: string, group?: string) =>
    draft.edit(ref, operations, label, group);
  /** Sets a member; undefined takes it out. */
  function set(member: keyof Field, value: unknown, label: string, group?: string) {
    const there = field[member] !== undefined;
    if (value === undefined || value === '' || value === false) {
      if (there) edit([{ op: 'remove', path: pointer(member) }], label, group);
    } else edit([{ op: 'add', path: pointer(member), value }], label, group);
  }
  /** The field whose options these are, where they are shared. */
  const shared = $derived(field.optionsOf === undefined ? undefined : optionOwner(type.fields, field));
  function ownOptions() {
    edit(
      [
        { op: 'remove', path: '/optionsOf' },
        { op: 'add', path: '/options', value: field.options ?? [] },
      ],
      'give a field its own options',
    );
  }
  function setType(key: string) {
    const { chooses: picks, links } = fieldTypeOf({ type: key });
    edit(
      [
        { op: 'replace', path: '/type', value: key },
        ...(picks && !field.options ? [{ op: 'add', path: '/options', value: [] } as const] : []),
        ...(!picks && field.optionsOf !== undefined ? [{ op: 'remove', path: '/optionsOf' } as const] : []),
        ...(!picks && field.options && field.optionsOf === undefined
          ? [{ op: 'remove', path: '/options' } as const]
          : []),
        ...(links && !field.recordType
          ? linkOperations({ ...field, type: key }, others[0]!.key, type, draft.rulebook)
          : []),
        ...(!links && field.recordType ? [{ op: 'remove', path: '/recordType' } as const] : []),
      ],
      'change the type of a field',
    );
  }
  let visit = '';
  const begin = () => (visit = uniqueId());
  function retire() {
    const forms = type.forms.map((f) => (f.fields ? { ...f, fields: f.fields.filter((k) => k !== field.key) } : f));
    draft.editAll(
      [
        { ref, operations: [removing] },
        { ref: { kind: 'record type', key: type.key }, operations: [{ op: 'replace', path: '/forms', value: forms }] },
      ],
      `retire ${field.name}`,
    );
    open(undefined);
  }
</script>

<article class="px-6 pt-[18px] pb-10" aria-label="Field {field.name}">
  <SheetRow label="Name">
    <RenameInput
      {draft}
      name={field.name}
      label="Name of the field"
      renaming={(name) => ({ what: 'field', recordType: type.key, key: field.key, name })}
      class="w-full text-[17px] font-[650]"
    />
    <p class="quiet text-small">Formulas know it by this name: letters, digits and single spaces.</p>
  </SheetRow>
  {#each [{ key: 'label', label: 'On forms', hint: 'another label, where the name cannot say it' }, { key: 'help', label: 'Help', hint: 'a line for those who fill it in' }, { key: 'group', label: 'Section', hint: 'section of the full form' }] as const as line (line.key)}
    <SheetRow label={line.label}>
      <input
        class="editable w-full"
        aria-label={line.label}
        placeholder={line.hint}
        disabled={readonly}
        value={field[line.key] ?? ''}
        onfocus={begin}
        oninput={(e) => set(line.key, e.currentTarget.value, `change ${line.label.toLowerCase()}`, visit)}
      />
    </SheetRow>
  {/each}
  <SheetRow label="Type">
    <select
      class="editable"
      aria-label="Type"
      disabled={readonly}
      value={field.type}
      onchange={(e) => setType(e.currentTarget.value)}
    >
      {#each fieldTypes as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
    </select>
    {#if fieldType.links}
      to a
      <select
        class="editable"
        aria-label="Links to"
        disabled={readonly}
        value={field.recordType}
        onchange={(e) =>
          edit(linkOperations(field, e.currentTarget.value, type, draft.rulebook), 'choose what it links to')}
      >
        {#each others as t (t.key)}<option value={t.key}>{t.name.toLowerCase()}</option>{/each}
      </select>
    {/if}
  </SheetRow>
  {#if fieldType.links}
    <SheetRow label="Other end">
      <RenameInput
        {draft}
        name={field.children ?? type.plural}
        label="Name of the list at the other end"
        renaming={(name) => ({ what: 'children', recordType: type.key, key: field.key, name })}
        class="w-48"
      />
      <span class="quiet ml-2"
        >what the {others.find((t) => t.key === field.recordType)?.name.toLowerCase()} calls the list</span
      >
    </SheetRow>
  {/if}
  {#if fieldType.written}<WrittenAs {draft} {field} />{/if}
  <LimitRows {field} {readonly} {set} {begin} visit={() => visit} />
  <SheetRow label="Is">
    {#each flags as flag (flag.key)}
      <label class="mr-4 inline-flex items-center gap-1.5">
        <input
          type="checkbox"
          class="check"
          disabled={readonly}
          checked={field[flag.key] ?? false}
          onchange={(e) => set(flag.key, e.currentTarget.checked, `change whether it is ${flag.name}`)}
        />{flag.name}
      </label>
    {/each}
  </SheetRow>
  {#if fieldType.chooses}
    <SheetRow label="Options">
      {#if shared}
        <p>{field.options?.map((o) => o.name).join(', ')}</p>
        <p class="quiet mt-1">
          One list with <a class="editable" href={fieldsOf(type.key, { field: shared.key })}>{shared.name}</a>.
          <button type="button" class="word ml-2" disabled={readonly} onclick={ownOptions}>Give it its own</button>
        </p>
      {:else}<OptionsEditor {draft} {field} typeKey={type.key} {edit} />{/if}
    </SheetRow>
  {/if}
  {#each [{ label: 'Written by', rules: writers, none: 'no rule; people and programs fill it in' }, { label: 'Read by', rules: readers, none: 'no rule' }] as part, nth (nth)}
    <SheetRow label={part.label}>
      {#each part.rules as r (r.rule.key)}<a class="editable mr-3" href={ruleAddress(r.rule.recordType, r.rule.key)}
          >{r.rule.name}</a
        >{:else}<span class="quiet">{part.none}</span>{/each}
    </SheetRow>
  {/each}
  {#if !readonly}<CompanionsRow {draft} {type} {field} {open} />{/if}
  {#if !readonly}
    <RetireRow what="this field" name={field.name} keep="Keep it" {retire}>
      {inUse}
      Values that are stored stay stored; it can be undone.
    </RetireRow>
  {/if}
</article>
