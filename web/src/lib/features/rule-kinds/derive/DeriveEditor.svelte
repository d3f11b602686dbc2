<script lang="ts">
  /** Values worked out in steps, each seeing the ones before it; dragged or keyed into order. */
  import { formulaOfTemplate, templateOfFormula } from '@rigid-rule/core/assistance';
  import {
    readDerive,
    listUpdateModes,
    listUpdateVerbs,
    type DeriveStep,
    type ListUpdateMode,
  } from '@rigid-rule/core/compile';
  import { fieldTypeOf, createFormula, extendScope, typeName, type Variable } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import ArrowDown from 'lucide/dist/esm/icons/arrow-down.mjs';
  import ArrowUp from 'lucide/dist/esm/icons/arrow-up.mjs';
  import GripVertical from 'lucide/dist/esm/icons/grip-vertical.mjs';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { FormulaInput } from '$lib/features/formula';
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import type { OutcomeEditorProps } from '../kind-face.ts';
  import { append, at, drop, fieldName, put, saidAt, set, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  const { rule, compiled, program, readonly, edit }: OutcomeEditorProps = $props();
  const steps = $derived(readDerive(rule.outcome).steps);
  const fields = $derived(program.recordType.fields);
  const visit = new Visit();

  /** Scratch values that a step may name: those of the steps before it. */
  const variables = $derived.by(() => {
    const known: Variable[] = [];
    return steps.map((s) => {
      const before = [...known];
      if (!s.target && s.scratch)
        known.push({
          name: s.scratch,
          type: createFormula(
            s.formula,
            extendScope(
              program.scope,
              before.map((v) => v.name),
            ),
            before,
          ).type,
        });
      return before;
    });
  });
  const scopes = $derived(
    variables.map((known) =>
      known.length === 0
        ? program.scope
        : extendScope(
            program.scope,
            known.map((v) => v.name),
          ),
    ),
  );

  const setStep = (i: number, more: Partial<DeriveStep>, label: string, group?: string) =>
    edit([put(at('steps', i), { ...steps[i]!, ...more })], label, group);
  function setWhat(i: number, key: string) {
    const step = steps[i]!;
    if (key !== '') return setStep(i, { target: key, scratch: '' }, 'choose what the step writes');
    const taken = steps.map((s) => s.scratch);
    let n = 1;
    while (taken.includes(`Scratch ${n}`)) n++;
    const { template: _, ...rest } = step;
    edit(
      [put(at('steps', i), { ...rest, target: '', scratch: `Scratch ${n}`, formula: step.formula })],
      'make it a scratch value',
    );
  }
  /** The step whose text or formula has no counterpart: it is said before it would be lost. */
  let lost = $state<number>();
  /** A text becomes a formula and the other way round, saying the same where it can. */
  function setTemplate(i: number, on: boolean, anyway = false) {
    const { template = '', ...rest } = steps[i]!;
    const scope = scopes[i] ?? program.scope;
    const converted = on ? templateOfFormula(rest.formula, scope) : formulaOfTemplate(template, scope);
    lost = converted === undefined && !anyway ? i : undefined;
    if (lost !== undefined) return;
    const step: DeriveStep = on
      ? { ...rest, template: converted ?? '', formula: '' }
      : { ...rest, formula: converted ?? '', blank: rest.blank === 'gaps' ? 'clear' : rest.blank };
    edit([put(at('steps', i), step)], on ? 'write it as a text' : 'write it as a formula');
  }
  function move(from: number, to: number) {
    if (to < 0 || to >= steps.length) return;
    const order = steps.filter((_, i) => i !== from);
    order.splice(to, 0, steps[from]!);
    edit([set(at('steps'), order)], 'reorder the steps');
  }
  const blankWords = (s: DeriveStep) => [
    { key: 'clear', name: 'clears it' },
    { key: 'leave', name: 'leaves it as it is' },
    ...(s.template === undefined ? [] : [{ key: 'gaps', name: 'leaves a gap' }]),
  ];
  const typeOf = (key: string) => {
    const field = fields.find((f) => f.key === key);
    return field && fieldTypeOf(field);
  };
  const isList = (key: string) => typeOf(key)?.chooses === 'many';
  const canBeText = (key: string) => typeOf(key)?.templated === true;

  // Where a drag stands while it goes on; the draft hears of it once it is dropped.
  let dragging = $state<{ id: number; step: DeriveStep }[]>();
  const items = $derived(dragging ?? steps.map((step, id) => ({ id, step })));
  type DragEvent = CustomEvent<{ items: { id: number; step: DeriveStep }[] }>;
  function dropped({ detail }: DragEvent) {
    dragging = undefined;
    const order = detail.items.map((d) => d.step);
    if (order.some((s, i) => s !== steps[i])) edit([set(at('steps'), order)], 'reorder the steps');
  }
</script>

<SheetRow label="Outcome">
  <div
    use:dragHandleZone={{ items: [...items], flipDurationMs: 120, dropTargetStyle: {}, dragDisabled: readonly }}
    onconsider={(e: DragEvent) => (dragging = e.detail.items)}
    onfinalize={dropped}
  >
    {#each items as { id, step } (id)}
      {@const i = id}
      {@const path = `/outcome/steps/${i}`}
      <div class="step" role="group" aria-label="Step {i + 1}">
        {#if steps.length > 1}
          <span class="flex items-center gap-1 text-faint">
            {#if !readonly}<span use:dragHandle aria-label="Drag step {i + 1}" class="cursor-grab py-1"
                ><Icon of={GripVertical} size={13} /></span
              >{/if}
            {i + 1}
          </span>
        {/if}
        <div class="min-w-0 flex-1">
          <div class="flex flex-wrap items-baseline gap-x-2">
            {#if step.target || readonly}
              <FieldSelect
                {fields}
                value={step.target}
                label="Step {i + 1} writes"
                none="a scratch value"
                {readonly}
                choose={(key) => setWhat(i, key)}
              />
            {:else}
              <input
                class="editable w-32 font-[650]"
                aria-label="Name of the scratch value of step {i + 1}"
                value={step.scratch}
                onfocus={visit.begin}
                oninput={(e) => setStep(i, { scratch: e.currentTarget.value }, 'name a scratch value', visit.group)}
              />
              <FieldSelect
                {fields}
                value=""
                label="Step {i + 1} writes"
                none="scratch value"
                choose={(key) => key && setWhat(i, key)}
              />
            {/if}
            {#if isList(step.target) && !readonly}
              <select
                class="editable"
                aria-label="What becomes of the options there"
                value={step.way ?? 'replace'}
                onchange={(e) =>
                  setStep(i, { way: e.currentTarget.value as ListUpdateMode }, 'change what becomes of the options')}
              >
                {#each listUpdateModes as way (way)}<option value={way}>{listUpdateVerbs[way]}</option>{/each}
              </select>
            {:else}<span>becomes</span>{/if}
            {#if (canBeText(step.target) || step.template !== undefined) && !readonly}
              <button type="button" class="word" onclick={() => setTemplate(i, step.template === undefined)}
                >{step.template === undefined ? 'write as a text with fields' : 'write as a formula'}</button
              >
            {/if}
          </div>
          {#if lost === i}
            <p class="border-l-[3px] border-stop bg-stop-wash px-2.5 py-1.5 text-small" role="alert">
              {step.template === undefined
                ? 'This formula says more than a text with fields can: it would be lost.'
                : 'This text cannot be read as it stands: it would be lost.'}
              <button type="button" class="word ml-2" onclick={() => setTemplate(i, step.template === undefined, true)}
                >begin anew all the same</button
              >
              <button type="button" class="word ml-2" onclick={() => (lost = undefined)}>keep it</button>
            </p>
          {/if}
          {#if step.template === undefined}
            <FormulaInput
              text={step.formula}
              label="Formula of step {i + 1}"
              scope={scopes[i] ?? program.scope}
              variables={variables[i] ?? []}
              typed
              {readonly}
              placeholder="a formula, such as  Amount - Cost"
              diagnostics={saidAt(compiled, `${path}/formula`)}
              begin={visit.begin}
              change={(formula) => setStep(i, { formula }, 'change a formula', visit.group)}
            />
          {:else}
            <FormulaInput
              text={step.template}
              label="Text of step {i + 1}"
              scope={scopes[i] ?? program.scope}
              variables={variables[i] ?? []}
              template
              {readonly}
              placeholder={'text with fields in braces, such as  {Customer.Name}, {Deal kind}'}
              diagnostics={saidAt(compiled, `${path}/template`)}
              begin={visit.begin}
              change={(template) => setStep(i, { template }, 'change a text', visit.group)}
            />
          {/if}
          {#each saidAt(compiled, `${path}/target`) as d, n (n)}<p class="text-small text-stop">{d.message}</p>{/each}
          {#if step.target}
            <p class="text-small text-soft">
              Blank
              {#if readonly}{blankWords(step).find((b) => b.key === step.blank)?.name}{:else}
                <select
                  class="editable"
                  aria-label="What a blank result of step {i + 1} does"
                  value={step.blank}
                  onchange={(e) =>
                    setStep(i, { blank: e.currentTarget.value as DeriveStep['blank'] }, 'change what blank does')}
                >
                  {#each blankWords(step) as b (b.key)}<option value={b.key}>{b.name}</option>{/each}
                </select>
              {/if}
              {#if step.lenient || !readonly}
                · a value that does not fit
                <select
                  class="editable"
                  aria-label="What a value of step {i + 1} that does not fit does"
                  disabled={readonly}
                  value={step.lenient ? 'warns' : 'stops'}
                  onchange={(e) => {
                    const { lenient: _, ...rest } = step;
                    const now = e.currentTarget.value === 'warns' ? { ...rest, lenient: true as const } : rest;
                    edit([put(at('steps', i), now)], 'change what a value that does not fit does');
                  }}
                >
                  <option value="stops">stops the save</option><option value="warns">is left out, with a warning</option
                  >
                </select>
              {/if}
            </p>
          {:else}<p class="text-small text-faint">
              a scratch value, {typeName(
                createFormula(step.formula, scopes[i] ?? program.scope, variables[i] ?? []).type,
              )}, for the steps below
            </p>{/if}
        </div>
        {#if !readonly && steps.length > 1}
          <span class="flex shrink-0">
            <button
              type="button"
              class="act"
              aria-label="Move step {i + 1} up"
              disabled={i === 0}
              onclick={() => move(i, i - 1)}><Icon of={ArrowUp} size={13} /></button
            >
            <button
              type="button"
              class="act"
              aria-label="Move step {i + 1} down"
              disabled={i === steps.length - 1}
              onclick={() => move(i, i + 1)}><Icon of={ArrowDown} size={13} /></button
            >
            <button
              type="button"
              class="act"
              aria-label="Remove step {i + 1}, {step.target ? fieldName(program, step.target) : step.scratch}"
              onclick={() => edit([drop(at('steps', i))], 'remove a step')}><Icon of={X} size={13} /></button
            >
          </span>
        {/if}
      </div>
    {/each}
  </div>
  {#if !readonly}
    <button
      type="button"
      class="word"
      onclick={() =>
        edit(
          [
            append(at('steps'), {
              target: steps[0]?.target || fields[0]!.key,
              scratch: '',
              formula: '',
              blank: 'clear',
            }),
          ],
          'add a step',
        )}>add a step</button
    >
  {/if}
</SheetRow>

<style>
  .step {
    display: flex;
    gap: 8px;
    align-items: flex-start;
    padding: 2px 0 7px;
  }
  .step + .step {
    border-top: 1px solid var(--line);
    padding-top: 6px;
  }
</style>
