<script lang="ts">
  /** What a blank field starts as: a formula; the usual ones are one choice. */
  import { fieldTypeOf, quoteText, readDefault, type Field } from '@rigid-rule/core';
  import { FormulaInput } from '$lib/features/formula';
  import FieldSelect from './FieldSelect.svelte';
  import type { OutcomeEditorProps } from './outcome-editors.ts';
  import { at, saidAt, set, Visit } from './sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  const { rule, compiled, program, draft, readonly, edit }: OutcomeEditorProps = $props();
  const outcome = $derived(readDefault(rule.outcome));
  const target = $derived(program.recordType.fields.find((f) => f.key === outcome.target));
  const visit = new Visit();

  /** Values that people mostly start a field with, by its type. */
  function usualOf(field: Field | undefined): readonly { readonly name: string; readonly formula: string }[] {
    if (!field) return [];
    if (field.options) return field.options.map((o) => ({ name: o.name, formula: quoteText(o.name) }));
    const type = fieldTypeOf(field);
    if (field.type === 'date') return [{ name: 'today', formula: 'today()' }];
    if (field.type === 'date-time') return [{ name: 'now', formula: 'now()' }];
    if (field.type === 'user') return [{ name: 'who fills it in', formula: 'user.email' }];
    if (field.type === 'yes/no') return ['yes', 'no'].map((name) => ({ name, formula: String(name === 'yes') }));
    if (field.type === 'lookup' && field.recordType === draft.rulebook.userRecordType)
      return [{ name: 'the contact of who fills it in', formula: 'user.contact' }];
    return type.numeric ? [{ name: '0', formula: '0' }] : [];
  }
  const usual = $derived(usualOf(target));
</script>

<SheetRow label="Outcome">
  <FieldSelect
    fields={program.recordType.fields}
    value={outcome.target}
    label="Field that is filled in"
    {readonly}
    choose={(key) => edit([set(at('target'), key)], 'choose the field')}
  />
  <span>starts, where it is blank, as</span>
  {#if usual.length > 0 && !readonly}
    <select
      class="editable"
      aria-label="Usual value"
      value={usual.some((u) => u.formula === outcome.value) ? outcome.value : ''}
      onchange={(e) =>
        e.currentTarget.value && edit([set(at('value'), e.currentTarget.value)], 'choose what it starts as')}
    >
      <option value="">a formula</option>
      {#each usual as u (u.formula)}<option value={u.formula}>{u.name}</option>{/each}
    </select>
  {/if}
</SheetRow>
<SheetRow label="Formula">
  <FormulaInput
    text={outcome.value}
    label="Starts as"
    scope={program.scope}
    typed
    {readonly}
    placeholder="a value or a formula, such as  30  or  today()"
    diagnostics={saidAt(compiled, '/outcome/value')}
    begin={visit.begin}
    change={(text) => edit([set(at('value'), text)], 'change what it starts as', visit.group)}
  />
</SheetRow>
