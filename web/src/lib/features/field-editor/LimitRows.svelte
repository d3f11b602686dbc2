<script lang="ts">
  /** What a field takes of its type: decimals and bounds of numbers, the length of a text. */
  import type { Field } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { numberReader } from '../fields';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import { orNothing } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';

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
  /** As the document's schema has them. */
  const decimals = { whole: true, min: -1, max: 10 };
  const show = (n: number | undefined) => (n === undefined ? '' : ownWriting(n));
</script>

{#if fieldType.numeric}
  <SheetRow label="Decimals">
    <TypedInput
      class="w-10 text-right"
      label="Decimals"
      inputmode="numeric"
      disabled={readonly}
      value={field.scale}
      {show}
      read={orNothing(numberReader(decimals))}
      live
      {begin}
      commit={(n) => set('scale', n, 'change the decimals', visit())}
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
    <TypedInput
      class="w-24 text-right"
      label="Least"
      inputmode="decimal"
      disabled={readonly}
      value={field.min}
      {show}
      read={orNothing(numberReader())}
      live
      {begin}
      commit={(n) => set('min', n, 'change the least', visit())}
    />
    and
    <TypedInput
      class="w-24 text-right"
      label="Most"
      inputmode="decimal"
      disabled={readonly}
      value={field.max}
      {show}
      read={orNothing(numberReader())}
      live
      {begin}
      commit={(n) => set('max', n, 'change the most', visit())}
    />
  </SheetRow>
{/if}
{#if fieldType.limited}
  <SheetRow label="At most">
    <TypedInput
      class="w-16 text-right"
      label="Most characters"
      inputmode="numeric"
      disabled={readonly}
      value={field.length}
      {show}
      read={orNothing(numberReader({ whole: true, min: 1 }))}
      live
      {begin}
      commit={(n) => set('length', n, 'change the length', visit())}
    /> characters
  </SheetRow>
{/if}
