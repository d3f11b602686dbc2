<script lang="ts">
  /** One band as a line of the table: its limits, what it gives, and what is done with it. */
  import type { Band, Categorize } from '@rigid-rule/core/compile';
  import type { Field } from '@rigid-rule/core/document';
  import Plus from 'lucide/dist/esm/icons/plus.mjs';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import Icon from '$lib/ui/Icon.svelte';
  import type { OutcomeEditorProps } from '../kind-face.ts';
  import type { RulerStop } from '../parts/ruler-layout.ts';
  import BoundaryCell from './BoundaryCell.svelte';
  import {
    keptBoundary,
    middleOf,
    removeBand,
    setLimit,
    setResult,
    splitBand,
    usualLimit,
  } from './categorize-edits.ts';

  interface Props {
    outcome: Categorize;
    band: Band;
    /** Index of the band. */
    i: number;
    target: Field | undefined;
    isDate: boolean;
    /** The smallest step of what decides. */
    finest: number;
    /** Boundaries that can be moved. */
    end: RulerStop | undefined;
    begin: RulerStop | undefined;
    name: string;
    readonly: boolean;
    edit: OutcomeEditorProps['edit'];
    move: (stop: RulerStop, value: number | string) => void;
    flip: (stop: RulerStop) => void;
  }
  const { outcome, band, i, target, isDate, finest, end, begin, name, readonly, edit, move, flip }: Props = $props();
</script>

<tr class="group">
  <td class="border-b border-line py-[3px]">
    {#if band.from !== undefined}
      {band.fromOpen ? 'above' : 'from'}
      {#if readonly || (i > 0 && !begin)}
        {ownWriting(keptBoundary(band.from, isDate))}{:else}
        <BoundaryCell
          dates={isDate}
          value={band.from}
          label="Lower boundary of {name}"
          commit={(v) => (begin ? move(begin, v) : edit(setLimit(outcome, i, 'from', v), 'move the lowest boundary'))}
          {...i === 0 ? { open: () => edit(setLimit(outcome, 0, 'from', undefined), 'take the lower limit away') } : {}}
        />{/if}{#if band.to !== undefined},{/if}
    {:else if i === 0 && !readonly}
      <button
        type="button"
        class="word"
        title="Give the lowest band a lower limit"
        onclick={() =>
          edit(setLimit(outcome, 0, 'from', keptBoundary(usualLimit(band, 'from'), isDate)), 'set a lower limit')}
        >no lower limit,</button
      >
    {/if}
    {#if band.to !== undefined}
      {#if readonly || (!end && i < outcome.bands.length - 1)}
        {band.toClosed ? 'up to' : 'below'} {ownWriting(keptBoundary(band.to, isDate))}
      {:else}
        <button
          type="button"
          class="cursor-pointer hover:text-brass"
          title="Hand {ownWriting(keptBoundary(band.to, isDate))} to the other band"
          disabled={!end}
          onclick={() => end && flip(end)}
        >
          {band.toClosed ? 'up to' : 'below'}</button
        >
        <BoundaryCell
          dates={isDate}
          value={band.to}
          label="Upper boundary of {name}"
          commit={(v) => (end ? move(end, v) : edit(setLimit(outcome, i, 'to', v), 'move the highest boundary'))}
          {...i === outcome.bands.length - 1
            ? { open: () => edit(setLimit(outcome, i, 'to', undefined), 'take the upper limit away') }
            : {}}
        />
      {/if}
    {:else if i === outcome.bands.length - 1 && !readonly}
      <button
        type="button"
        class="word -ml-1"
        title="Give the highest band an upper limit"
        onclick={() =>
          edit(setLimit(outcome, i, 'to', keptBoundary(usualLimit(band, 'to'), isDate)), 'set an upper limit')}
        >, no upper limit</button
      >
    {/if}
    {#if readonly && band.from === undefined && band.to === undefined}every number{/if}
  </td>
  <td class="border-b border-line py-[3px]">
    {#if readonly || !target?.options}
      {name}
    {:else}
      <select
        class="editable"
        aria-label="{target.name} of this band"
        value={band.result}
        onchange={(e) => edit(setResult(i, e.currentTarget.value), 'choose what the band gives')}
      >
        {#each target.options as option, nth (nth)}<option value={option.key}>{option.name}</option>{/each}
      </select>
    {/if}
  </td>
  <td class="border-b border-line text-right whitespace-nowrap">
    {#if !readonly}
      <button
        type="button"
        class="act"
        title="Split this band in two"
        aria-label="Split {name} in two"
        onclick={() => edit(splitBand(outcome, i, middleOf(band, finest)), 'split a band')}
        ><Icon of={Plus} size={14} /></button
      >
      {#if outcome.bands.length > 1}
        <button
          type="button"
          class="act"
          title="Remove this band"
          aria-label="Remove the band {name}"
          onclick={() => edit(removeBand(outcome, i), 'remove a band')}><Icon of={X} size={14} /></button
        >
      {/if}
    {/if}
  </td>
</tr>
