<script lang="ts">
  /** Values worked out in steps, each seeing the ones before it; dragged or keyed into order. */
  import { readDerive, type DeriveStep } from '@rigid-rule/core/compile';
  import Icon from '$lib/ui/Icon.svelte';
  import ArrowDown from 'lucide/dist/esm/icons/arrow-down.mjs';
  import ArrowUp from 'lucide/dist/esm/icons/arrow-up.mjs';
  import GripVertical from 'lucide/dist/esm/icons/grip-vertical.mjs';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import type { OutcomeEditorProps } from '../kind-face.ts';
  import { append, at, drop, fieldName, put, set, Visit } from '../parts/sheet-edits.ts';
  import { asScratch, moved, stepContexts } from './derive-steps.ts';
  import StepEditor from './StepEditor.svelte';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  const { rule, compiled, program, readonly, edit }: OutcomeEditorProps = $props();
  const steps = $derived(readDerive(rule.outcome).steps);
  const fields = $derived(program.recordType.fields);
  const visit = new Visit();

  const contexts = $derived(stepContexts(steps, program.scope));

  function reorder(order: readonly DeriveStep[]) {
    if (order.some((s, i) => s !== steps[i])) edit([set(at('steps'), order)], 'reorder the steps');
  }

  // Where a drag stands while it goes on; the draft hears of it once it is dropped.
  let dragging = $state<{ id: number; step: DeriveStep }[]>();
  const items = $derived(dragging ?? steps.map((step, id) => ({ id, step })));
  type DragEvent = CustomEvent<{ items: { id: number; step: DeriveStep }[] }>;
  function dropped({ detail }: DragEvent) {
    dragging = undefined;
    reorder(detail.items.map((d) => d.step));
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
      <div class="step" role="group" aria-label="Step {i + 1}">
        {#if steps.length > 1}
          <span class="flex items-center gap-1 text-faint">
            {#if !readonly}<span use:dragHandle aria-label="Drag step {i + 1}" class="cursor-grab py-1"
                ><Icon of={GripVertical} size={13} /></span
              >{/if}
            <!-- The row's label stands on the line of the number, not of the handle. -->
            <span class="self-baseline">{i + 1}</span>
          </span>
        {/if}
        <StepEditor
          {step}
          nth={i}
          context={contexts[i] ?? { variables: [], scope: program.scope }}
          {fields}
          {compiled}
          {readonly}
          {visit}
          toScratch={() => edit([put(at('steps', i), asScratch(steps, i))], 'make it a scratch value')}
          change={(now, label, group) => edit([put(at('steps', i), now)], label, group)}
        />
        {#if !readonly && steps.length > 1}
          <span class="flex shrink-0">
            <button
              type="button"
              class="act"
              aria-label="Move step {i + 1} up"
              disabled={i === 0}
              onclick={() => reorder(moved(steps, i, i - 1))}><Icon of={ArrowUp} size={13} /></button
            >
            <button
              type="button"
              class="act"
              aria-label="Move step {i + 1} down"
              disabled={i === steps.length - 1}
              onclick={() => reorder(moved(steps, i, i + 1))}><Icon of={ArrowDown} size={13} /></button
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
