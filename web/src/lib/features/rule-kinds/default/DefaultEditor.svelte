<script lang="ts">
  /** What a blank field starts as: a formula; the usual ones are one choice. */
  import { readDefault } from '@rigid-rule/core/compile';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { FormulaInput } from '$lib/features/formula';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import type { OutcomeEditorProps } from '../kind-face.ts';
  import { at, saidAt, set, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  const { rule, compiled, program, draft, readonly, edit }: OutcomeEditorProps = $props();
  const outcome = $derived(readDefault(rule.outcome));
  const target = $derived(program.recordType.fields.find((f) => f.key === outcome.target));
  const visit = new Visit();

  /** Values that people mostly start a field with, by its type. */
  const usual = $derived((target && fieldTypeOf(target).usualStarts?.(target, draft.rulebook.userRecordType)) ?? []);
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
