<script lang="ts">
  import {
    fieldTypeOf,
    readCategorize,
    type Band,
    type Field,
    type Operation,
    type Otherwise,
    type RecordType,
    type Rule,
  } from '@rigid-rule/core';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import Ruler from '../ruler/Ruler.svelte';
  import { layoutRuler, type RulerStop } from '../ruler/layout.ts';
  import {
    flipStop,
    middleOf,
    moveStop,
    removeBand,
    setFirstFrom,
    setOtherwise,
    setResult,
    setSource,
    splitBand,
  } from './categorize-edits.ts';
  import NumberCell from './NumberCell.svelte';
  import SheetRow from './SheetRow.svelte';

  interface Props {
    rule: Rule;
    recordType: RecordType;
    /** Values of the source field in the sample set, sorted, and how many are blank. */
    sample: { values: readonly number[]; blanks: number };
    marked: number | null;
    readonly: boolean;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { rule, recordType, sample, marked, readonly, edit }: Props = $props();

  const outcome = $derived(readCategorize(rule.outcome));
  const target = $derived(recordType.fields.find((f) => f.key === outcome.target));
  const source = $derived(recordType.fields.find((f) => f.name === outcome.source));
  const numbers = $derived(recordType.fields.filter((f) => fieldTypeOf(f).numeric));
  const finest = $derived(10 ** -(source?.scale ?? 0));
  const stops = $derived(layoutRuler(outcome.bands, { min: 0, max: 1 }, 100).stops);
  const upperStop = (band: number) => stops.find((s) => s.ends === band);
  const lowerStop = (band: number) => stops.find((s) => s.begins === band && s.ends === undefined);

  function nameOf(band: Band): string {
    return target ? optionName(target, band.result) : String(band.result);
  }
  function optionName(field: Field, result: string | number): string {
    const coerced = fieldTypeOf(field).coerce(result, field);
    return 'value' in coerced ? fieldTypeOf(field).format(coerced.value, field) : String(result);
  }
  const move = (stop: RulerStop, value: number, group?: string) =>
    edit(moveStop(stop, value), 'move a boundary', group);
  const flip = (stop: RulerStop) => edit(flipStop(stop), 'hand the boundary over');

  const choices: readonly { key: Otherwise['do']; name: string }[] = [
    { key: 'clear', name: 'clear it' },
    { key: 'leave', name: 'leave it as it is' },
    { key: 'set', name: 'set it to' },
    { key: 'stop', name: 'stop the save' },
  ];
  function choose(which: 'blank' | 'outside', what: string) {
    const first = target?.options?.[0]?.key ?? '';
    const value: Otherwise =
      what === 'set'
        ? { do: 'set', value: first }
        : what === 'stop'
          ? { do: 'stop', message: '' }
          : { do: what === 'leave' ? 'leave' : 'clear' };
    edit(setOtherwise(which, value), which === 'blank' ? 'change what blank does' : 'change what no band does');
  }
  const outsideCount = $derived(sample.values.filter((v) => (outcome.bands[0]?.from ?? -Infinity) > v).length);
</script>

<SheetRow label="Outcome">
  <span class="font-[650]">{target?.name ?? outcome.target}</span> becomes, by
  {#if readonly || !source}
    <span class="font-mono text-small">{outcome.source}</span>
  {:else}
    <select
      class="editable"
      aria-label="The number that decides"
      value={outcome.source}
      onchange={(e) => edit(setSource(e.currentTarget.value), 'choose the number that decides')}
    >
      {#each numbers as field (field.key)}<option>{field.name}</option>{/each}
    </select>
  {/if}
</SheetRow>

<div class="sheet-indent">
  <Ruler
    bands={outcome.bands}
    values={sample.values}
    blanks={sample.blanks}
    {marked}
    {finest}
    {nameOf}
    {...readonly ? {} : { move, flip }}
  />
  <table class="mt-1 mb-2.5 w-full border-collapse">
    <thead>
      <tr class="label text-left">
        <th class="w-[52%] border-b border-line py-[3px] font-normal">{outcome.source || 'Number'}</th>
        <th class="border-b border-line py-[3px] font-normal">{target?.name}</th>
        <th class="w-14 border-b border-line"><span class="sr-only">Split or remove</span></th>
      </tr>
    </thead>
    <tbody>
      {#each outcome.bands as band, i (i)}
        {@const end = upperStop(i)}
        {@const begin = lowerStop(i)}
        <tr class="group">
          <td class="border-b border-line py-[3px]">
            {#if band.from !== undefined}
              {band.fromOpen ? 'above' : 'from'}
              {#if readonly || (i > 0 && !begin)}
                {band.from.toLocaleString('en')}{:else}
                <NumberCell
                  value={band.from}
                  label="Lower boundary of {nameOf(band)}"
                  commit={(v) => (begin ? move(begin, v) : edit(setFirstFrom(v), 'move the lowest boundary'))}
                />{/if}{#if band.to !== undefined},{/if}
            {/if}
            {#if band.to !== undefined}
              {#if readonly || !end}
                {band.toClosed ? 'up to' : 'below'} {band.to.toLocaleString('en')}
              {:else}
                <button
                  type="button"
                  class="cursor-pointer hover:text-brass"
                  title="Hand {band.to} to the other band"
                  onclick={() => flip(end)}
                >
                  {band.toClosed ? 'up to' : 'below'}</button
                >
                <NumberCell value={band.to} label="Upper boundary of {nameOf(band)}" commit={(v) => move(end, v)} />
              {/if}
            {/if}
            {#if band.from === undefined && band.to === undefined}every number{/if}
          </td>
          <td class="border-b border-line py-[3px]">
            {#if readonly || !target?.options}
              {nameOf(band)}
            {:else}
              <select
                class="editable"
                aria-label="{target.name} of this band"
                value={band.result}
                onchange={(e) => edit(setResult(i, e.currentTarget.value), 'choose what the band gives')}
              >
                {#each target.options as option (option.key)}<option value={option.key}>{option.name}</option>{/each}
              </select>
            {/if}
          </td>
          <td class="border-b border-line text-right whitespace-nowrap">
            {#if !readonly}
              <button
                type="button"
                class="act"
                title="Split this band in two"
                aria-label="Split {nameOf(band)} in two"
                onclick={() => edit(splitBand(outcome, i, middleOf(band, finest)), 'split a band')}
                ><Plus size={14} /></button
              >
              {#if outcome.bands.length > 1}
                <button
                  type="button"
                  class="act"
                  title="Remove this band"
                  aria-label="Remove the band {nameOf(band)}"
                  onclick={() => edit(removeBand(outcome, i), 'remove a band')}><X size={14} /></button
                >
              {/if}
            {/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>

{#each [{ key: 'blank', label: 'Blank', count: sample.blanks }, { key: 'outside', label: 'In no band', count: outsideCount }] as const as end (end.key)}
  {@const what = outcome[end.key]}
  <SheetRow label={end.label}>
    {#if readonly}
      {choices.find((c) => c.key === what.do)?.name}
    {:else}
      <select
        class="editable"
        aria-label={end.label}
        value={what.do}
        onchange={(e) => choose(end.key, e.currentTarget.value)}
      >
        {#each choices as choice (choice.key)}<option value={choice.key}>{choice.name}</option>{/each}
      </select>
      {#if what.do === 'set' && target?.options}
        <select
          class="editable"
          aria-label="{end.label}: {target.name}"
          value={what.value}
          onchange={(e) => edit(setOtherwise(end.key, { do: 'set', value: e.currentTarget.value }), 'choose a value')}
        >
          {#each target.options as option (option.key)}<option value={option.key}>{option.name}</option>{/each}
        </select>
      {:else if what.do === 'stop'}
        <input
          class="editable w-64"
          aria-label="{end.label}: message"
          placeholder="What people read"
          value={what.message}
          onchange={(e) =>
            edit(setOtherwise(end.key, { do: 'stop', message: e.currentTarget.value }), 'write a message')}
        />
      {/if}
    {/if}
    <span class="quiet ml-2">{end.count.toLocaleString('en')} of the sample</span>
  </SheetRow>
{/each}

<style>
  .act {
    padding: 5px;
    color: var(--faint);
    cursor: pointer;
    vertical-align: middle;
  }
  .act:hover {
    color: var(--brass);
  }
  .sheet-indent {
    margin-left: 130px;
  }
  @media (max-width: 1100px) {
    .sheet-indent {
      margin-left: 0;
    }
  }
</style>
