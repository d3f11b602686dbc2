<script lang="ts">
  /** What a field takes of its type: decimals and bounds of numbers, the length of a text. */
  import type { Field } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { NumberInput } from '../fields';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    field: Field;
    readonly: boolean;
    /** Sets a member; undefined takes it out. */
    set: (member: keyof Field, value: unknown, label: string, group?: string) => void;
    begin: () => void;
    /** Edits of one are undone together. */
    visit: () => string;
  }
  const { field, readonly, set, begin, visit }: Props = $props();
  const fieldType = $derived(fieldTypeOf(field));
  const usualRounding = $derived(fieldType.rounding);
</script>

{#if fieldType.numeric}
  <SheetRow label="Decimals">
    <NumberInput
      class="w-10 text-right"
      label="Decimals"
      whole
      min={-1}
      max={10}
      disabled={readonly}
      value={field.scale}
      live
      {begin}
      commit={(n) => set('scale', n, 'change the decimals', visit())}
      clear={() => set('scale', undefined, 'change the decimals', visit())}
    />
    <select
      class="editable ml-3"
      aria-label="Rounding"
      disabled={readonly}
      value={field.rounding ?? usualRounding}
      onchange={(e) =>
        set(
          'rounding',
          e.currentTarget.value === usualRounding ? undefined : e.currentTarget.value,
          'change the rounding',
        )}
    >
      <option value="half-up">Round half away from zero ({ownWriting(2.5)} gives 3)</option><option value="half-even"
        >Round half to even ({ownWriting(2.5)} gives 2)</option
      >
    </select>
  </SheetRow>
  <SheetRow label="Between">
    <NumberInput
      class="w-24 text-right"
      label="Least"
      disabled={readonly}
      value={field.min}
      live
      {begin}
      commit={(n) => set('min', n, 'change the least', visit())}
      clear={() => set('min', undefined, 'change the least', visit())}
    />
    and
    <NumberInput
      class="w-24 text-right"
      label="Most"
      disabled={readonly}
      value={field.max}
      live
      {begin}
      commit={(n) => set('max', n, 'change the most', visit())}
      clear={() => set('max', undefined, 'change the most', visit())}
    />
  </SheetRow>
{/if}
{#if fieldType.limited}
  <SheetRow label="At most">
    <NumberInput
      class="w-16 text-right"
      label="Most characters"
      whole
      min={1}
      disabled={readonly}
      value={field.length}
      live
      {begin}
      commit={(n) => set('length', n, 'change the length', visit())}
      clear={() => set('length', undefined, 'change the length', visit())}
    /> characters
  </SheetRow>
{/if}
