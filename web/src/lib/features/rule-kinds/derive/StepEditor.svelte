<script lang="ts">
  /** One step: what it writes, its formula or text, and what becomes of a blank and of what does not fit. */
  import {
    listUpdateModes,
    listUpdateVerbs,
    type CompiledRule,
    type DeriveStep,
    type ListUpdateMode,
  } from '@rigid-rule/core/compile';
  import type { Field } from '@rigid-rule/core/document';
  import { createFormula, fieldTypeOf, typeName } from '@rigid-rule/core/language';
  import { FormulaInput } from '$lib/features/formula';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import { saidAt, type Visit } from '../parts/sheet-edits.ts';
  import { inOtherForm, type StepContext } from './derive-steps.ts';

  interface Props {
    step: DeriveStep;
    /** Its place, from 0. */
    nth: number;
    context: StepContext;
    fields: readonly Field[];
    compiled: CompiledRule;
    readonly: boolean;
    visit: Visit;
    toScratch: () => void;
    change: (now: DeriveStep, label: string, group?: string) => void;
  }
  const { step, nth, context, fields, compiled, readonly, visit, toScratch, change }: Props = $props();
  const path = $derived(`/outcome/steps/${nth}`);

  const set = (more: Partial<DeriveStep>, label: string, group?: string) => change({ ...step, ...more }, label, group);
  const setWhat = (key: string) =>
    key === '' ? toScratch() : set({ target: key, scratch: '' }, 'choose what the step writes');
  /** The step whose text or formula has no counterpart: that is said before it would be lost. */
  let withoutCounterpart = $state.raw<DeriveStep>();
  const lost = $derived(withoutCounterpart === step);
  function switchForm(anyway = false) {
    const now = inOtherForm(step, context.scope, anyway);
    if (!now) withoutCounterpart = step;
    else change(now, step.template === undefined ? 'write it as a text' : 'write it as a formula');
  }
  const blankWords = $derived([
    { key: 'clear', name: 'clears it' },
    { key: 'leave', name: 'leaves it as it is' },
    ...(step.template === undefined ? [] : [{ key: 'gaps', name: 'leaves a gap' }]),
  ]);
  const targetType = $derived.by(() => {
    const field = fields.find((f) => f.key === step.target);
    return field && fieldTypeOf(field);
  });
</script>

<div class="min-w-0 flex-1">
  <div class="flex flex-wrap items-baseline gap-x-2">
    {#if step.target || readonly}
      <FieldSelect
        {fields}
        value={step.target}
        label="Step {nth + 1} writes"
        none="a scratch value"
        {readonly}
        choose={setWhat}
      />
    {:else}
      <input
        class="editable w-32 font-[650]"
        aria-label="Name of the scratch value of step {nth + 1}"
        value={step.scratch}
        onfocus={visit.begin}
        oninput={(e) => set({ scratch: e.currentTarget.value }, 'name a scratch value', visit.group)}
      />
      <FieldSelect
        {fields}
        value=""
        label="Step {nth + 1} writes"
        none="scratch value"
        choose={(key) => key && setWhat(key)}
      />
    {/if}
    {#if targetType?.chooses === 'many' && !readonly}
      <select
        class="editable"
        aria-label="What becomes of the options there"
        value={step.way ?? 'replace'}
        onchange={(e) => set({ way: e.currentTarget.value as ListUpdateMode }, 'change what becomes of the options')}
      >
        {#each listUpdateModes as way (way)}<option value={way}>{listUpdateVerbs[way]}</option>{/each}
      </select>
    {:else}<span>becomes</span>{/if}
    {#if (targetType?.templated || step.template !== undefined) && !readonly}
      <button type="button" class="word" onclick={() => switchForm()}
        >{step.template === undefined ? 'write as a text with fields' : 'write as a formula'}</button
      >
    {/if}
  </div>
  {#if lost}
    <p class="border-l-[3px] border-stop bg-stop-wash px-2.5 py-1.5 text-small" role="alert">
      {step.template === undefined
        ? 'This formula says more than a text with fields can: it would be lost.'
        : 'This text cannot be read as it stands: it would be lost.'}
      <button type="button" class="word ml-2" onclick={() => switchForm(true)}>begin anew all the same</button>
      <button type="button" class="word ml-2" onclick={() => (withoutCounterpart = undefined)}>keep it</button>
    </p>
  {/if}
  {#if step.template === undefined}
    <FormulaInput
      text={step.formula}
      label="Formula of step {nth + 1}"
      scope={context.scope}
      variables={context.variables}
      typed
      {readonly}
      placeholder="a formula, such as  Amount - Cost"
      diagnostics={saidAt(compiled, `${path}/formula`)}
      begin={visit.begin}
      change={(formula) => set({ formula }, 'change a formula', visit.group)}
    />
  {:else}
    <FormulaInput
      text={step.template}
      label="Text of step {nth + 1}"
      scope={context.scope}
      variables={context.variables}
      template
      {readonly}
      placeholder={'text with fields in braces, such as  {Customer.Name}, {Deal kind}'}
      diagnostics={saidAt(compiled, `${path}/template`)}
      begin={visit.begin}
      change={(template) => set({ template }, 'change a text', visit.group)}
    />
  {/if}
  {#each saidAt(compiled, `${path}/target`) as d, n (n)}<p class="text-small text-stop">{d.message}</p>{/each}
  {#if step.target}
    <p class="text-small text-soft">
      Blank
      {#if readonly}{blankWords.find((b) => b.key === step.blank)?.name}{:else}
        <select
          class="editable"
          aria-label="What a blank result of step {nth + 1} does"
          value={step.blank}
          onchange={(e) => set({ blank: e.currentTarget.value as DeriveStep['blank'] }, 'change what blank does')}
        >
          {#each blankWords as b (b.key)}<option value={b.key}>{b.name}</option>{/each}
        </select>
      {/if}
      {#if step.lenient || !readonly}
        · a value that does not fit
        <select
          class="editable"
          aria-label="What a value of step {nth + 1} that does not fit does"
          disabled={readonly}
          value={step.lenient ? 'warns' : 'stops'}
          onchange={(e) => {
            const { lenient: _, ...rest } = step;
            const now = e.currentTarget.value === 'warns' ? { ...rest, lenient: true as const } : rest;
            change(now, 'change what a value that does not fit does');
          }}
        >
          <option value="stops">stops the save</option><option value="warns">is left out, with a warning</option>
        </select>
      {/if}
    </p>
  {:else}<p class="text-small text-faint">
      a scratch value, {typeName(createFormula(step.formula, context.scope, context.variables).type)}, for the steps
      below
    </p>{/if}
</div>
