<script lang="ts">
  /** What must or should hold, and what becomes required, hidden, locked or limited, each with what people read. */
  import { readValidate, type Check, type LimitOptions } from '@rigid-rule/core/compile';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { FormulaInput } from '$lib/features/formula';
  import FieldChips from '../parts/FieldChips.svelte';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import LimitGrid from './LimitGrid.svelte';
  import MessagePreview from './MessagePreview.svelte';
  import type { OutcomeEditorProps } from '../kind-face.ts';
  import { append, at, drop, put, saidAt, set, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  const { rule, compiled, program, readonly, edit }: OutcomeEditorProps = $props();
  const outcome = $derived(readValidate(rule.outcome));
  const fields = $derived(program.recordType.fields);
  const visit = new Visit();

  const setCheck = (i: number, more: Partial<Check>, label: string, group?: string) =>
    edit([put(at('checks', i), { ...outcome.checks[i]!, ...more })], label, group);
  const setLimit = (i: number, limit: LimitOptions, label: string, group?: string) =>
    edit([put(at('limits', i), limit)], label, group);
  const limited = $derived(fields.filter((f) => f.options));

  const states = [
    { key: 'required', label: 'Required', none: 'nothing more than the fields themselves say' },
    { key: 'hidden', label: 'Hidden', none: 'nothing' },
    { key: 'locked', label: 'Locked', none: 'nothing' },
  ] as const;
  /** Where a new check says its message: the field that the rule was begun on, or that it asks something of already. */
  const firstField = $derived(
    [outcome.about, ...outcome.checks.map((c) => c.field), ...outcome.required].find(Boolean) ?? '',
  );
</script>

<SheetRow label="Must or should">
  {#each outcome.checks as check, i (i)}
    {@const path = `/outcome/checks/${i}`}
    <div class="check-row" role="group" aria-label="Check {i + 1}">
      <div class="flex flex-wrap items-baseline gap-x-2">
        {#if readonly}{check.hold} hold{:else}
          <select
            class="editable"
            aria-label="How strictly check {i + 1} holds"
            value={check.hold}
            onchange={(e) => setCheck(i, { hold: e.currentTarget.value as Check['hold'] }, 'change how strict it is')}
          >
            <option value="must">must hold: stops the save</option>
            <option value="should">should hold: warns</option>
          </select>
        {/if}
        <span class="quiet">said on</span>
        <FieldSelect
          {fields}
          value={check.field}
          label="Field that message {i + 1} stands on"
          none="the record"
          {readonly}
          choose={(field) => setCheck(i, { field }, 'choose where the message stands')}
        />
        {#if !readonly}
          <button
            type="button"
            class="act ml-auto"
            aria-label="Remove check {i + 1}"
            onclick={() => edit([drop(at('checks', i))], 'remove a check')}><Icon of={X} size={13} /></button
          >
        {/if}
      </div>
      <FormulaInput
        text={check.formula}
        label="What has to hold, {i + 1}"
        scope={program.scope}
        {readonly}
        placeholder="what has to be true, such as  Discount <= 0.15"
        diagnostics={saidAt(compiled, `${path}/formula`)}
        begin={visit.begin}
        change={(formula) => setCheck(i, { formula }, 'change what has to hold', visit.group)}
      />
      <MessagePreview
        message={check.message}
        field={fields.find((f) => f.key === check.field)}
        severity={check.hold === 'must' ? 'stop' : 'warn'}
        label="Message {i + 1}"
        {readonly}
        diagnostics={saidAt(compiled, `${path}/message`)}
        begin={visit.begin}
        change={(message) => setCheck(i, { message }, 'reword a message', visit.group)}
      />
    </div>
  {:else}<span class="quiet mr-3">no check</span>{/each}
  {#if !readonly}
    <button
      type="button"
      class="word"
      onclick={() =>
        edit(
          [append(at('checks'), { hold: 'must', formula: '', message: '', field: firstField } satisfies Check)],
          'add a check',
        )}>add a check</button
    >
  {/if}
</SheetRow>
{#each states as state (state.key)}
  <SheetRow label={state.label}>
    <FieldChips
      {fields}
      chosen={outcome[state.key]}
      label={state.label}
      none={state.none}
      {readonly}
      change={(keys) => edit([set(at(state.key), keys)], `change what is ${state.key}`)}
    />
  </SheetRow>
{/each}
<SheetRow label="Limited options">
  {#each outcome.limits as limit, i (i)}
    <LimitGrid
      {limit}
      {program}
      {compiled}
      {readonly}
      path="/outcome/limits/{i}"
      change={(now, label, group) => setLimit(i, now, label, group)}
      remove={() => edit([drop(at('limits', i))], 'remove a limit')}
    />
  {:else}<span class="quiet mr-3">all options are on offer</span>{/each}
  {#if !readonly && limited.length > 0}
    <FieldSelect
      fields={limited}
      value=""
      label="Limit the options of a field"
      none="limit a field"
      choose={(field) =>
        field &&
        edit(
          [
            append(at('limits'), {
              field,
              source: '',
              grid: [],
              otherwise: 'stop',
              message: '',
            } satisfies LimitOptions),
          ],
          'limit the options of a field',
        )}
    />
  {/if}
</SheetRow>

<style>
  .check-row {
    padding-bottom: 8px;
  }
  .check-row + .check-row {
    border-top: 1px solid var(--line);
    padding-top: 5px;
  }
</style>
