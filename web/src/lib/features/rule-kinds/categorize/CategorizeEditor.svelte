<script lang="ts">
  import { shownValue } from '$lib/features/fields';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { readCategorize, type Band } from '@rigid-rule/core/compile';
  import type { Field } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import Plus from 'lucide/dist/esm/icons/plus.mjs';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { noteField } from '../parts/recent-fields.ts';
  import Ruler from './ruler/Ruler.svelte';
  import { layoutRuler, type RulerStop } from '../parts/ruler-layout.ts';
  import {
    flipStop,
    keptBoundary,
    middleOf,
    moveStop,
    removeBand,
    setLimit,
    usualLimit,
    setResult,
    resource,
    retarget,
    splitBand,
  } from './categorize-edits.ts';
  import BoundaryCell from './BoundaryCell.svelte';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import GroupsEditor from './GroupsEditor.svelte';
  import OtherwiseSelect from '../parts/OtherwiseSelect.svelte';
  import type { OutcomeEditorProps } from '../kind-face.ts';
  import { at, saidAt, set } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  const { rule, compiled, program, sample, marked, readonly, edit }: OutcomeEditorProps = $props();
  const recordType = $derived(program.recordType);

  const outcome = $derived(readCategorize(rule.outcome));
  const target = $derived(recordType.fields.find((f) => f.key === outcome.target));
  const source = $derived(recordType.fields.find((f) => f.name === outcome.source));
  /** What decides: a number or date falls into bands, a text or option into groups. */
  const decides = (f: Field) => {
    const kind = fieldTypeOf(f).typeOf(f).kind;
    return ['number', 'date', 'text', 'option'].includes(kind) && f.key !== outcome.target;
  };
  const isGrouped = $derived.by(() => {
    const kind = source ? fieldTypeOf(source).typeOf(source).kind : outcome.groups.length > 0 ? 'text' : 'number';
    return kind === 'text' || kind === 'option';
  });
  const isDate = $derived(outcome.dates || (source !== undefined && fieldTypeOf(source).column === 'date'));
  const finest = $derived(10 ** -Math.max(0, source?.scale ?? 0));
  const stops = $derived(layoutRuler(outcome.bands, { min: 0, max: 1 }, 100).stops);
  const upperStop = (band: number) => stops.find((s) => s.ends === band);
  const lowerStop = (band: number) => stops.find((s) => s.begins === band && s.ends === undefined);

  function nameOf(band: Band): string {
    return target ? optionName(target, band.result) : String(band.result);
  }
  function optionName(field: Field, result: string | number): string {
    const coerced = fieldTypeOf(field).coerce(result, field);
    return 'value' in coerced ? shownValue(field, coerced.value) : String(result);
  }
  const move = (stop: RulerStop, value: number | string, group?: string) =>
    edit(moveStop(stop, value), 'move a boundary', group);
  const flip = (stop: RulerStop) => edit(flipStop(stop), 'hand the boundary over');

  const outsideCount = $derived(sample.values.filter((v) => (outcome.bands[0]?.from ?? -Infinity) > v).length);
</script>

<SheetRow label="Outcome">
  <FieldSelect
    fields={recordType.fields}
    value={outcome.target}
    label="Field that is written"
    {readonly}
    choose={(key) => edit(retarget(rule.outcome, recordType, key), 'choose the field that is written')}
  />
  becomes, by
  {#if readonly || (outcome.source && !source)}
    <span class="font-mono text-small">{outcome.source}</span>
  {:else}
    <FieldSelect
      fields={recordType.fields}
      value={source?.key ?? ''}
      label="What decides"
      none="a field"
      suits={decides}
      choose={(key) => {
        noteField(recordType.key, key);
        edit(resource(rule.outcome, recordType, key), 'choose what decides');
      }}
    />
  {/if}
  {#each [...saidAt(compiled, '/outcome/source'), ...saidAt(compiled, '/outcome/target')] as d, i (i)}<p
      class="text-small text-stop"
    >
      {d.message}
    </p>{/each}
</SheetRow>

{#if isGrouped}
  <GroupsEditor {outcome} {source} {target} {readonly} {compiled} {edit} />
{:else}
  <div class="sheet-indent">
    <div data-first>
      {#if !isDate}<Ruler
          bands={outcome.bands}
          values={sample.values}
          blanks={sample.blanks}
          {marked}
          {finest}
          {nameOf}
          {...readonly ? {} : { move, flip }}
        />{/if}
    </div>
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
                  {ownWriting(keptBoundary(band.from, isDate))}{:else}
                  <BoundaryCell
                    dates={isDate}
                    value={band.from}
                    label="Lower boundary of {nameOf(band)}"
                    commit={(v) =>
                      begin ? move(begin, v) : edit(setLimit(outcome, i, 'from', v), 'move the lowest boundary')}
                    {...i === 0
                      ? { open: () => edit(setLimit(outcome, 0, 'from', undefined), 'take the lower limit away') }
                      : {}}
                  />{/if}{#if band.to !== undefined},{/if}
              {:else if i === 0 && !readonly}
                <button
                  type="button"
                  class="word"
                  title="Give the lowest band a lower limit"
                  onclick={() =>
                    edit(
                      setLimit(outcome, 0, 'from', keptBoundary(usualLimit(band, 'from'), isDate)),
                      'set a lower limit',
                    )}>no lower limit,</button
                >
              {/if}
              {#if band.to !== undefined}
                {#if readonly || (!end && i < outcome.bands.length - 1)}
                  {band.toClosed ? 'up to' : 'below'} {ownWriting(keptBoundary(band.to, isDate))}
                {:else}
                  <button
                    type="button"
                    class="cursor-pointer hover:text-brass"
                    title="Hand {band.to} to the other band"
                    disabled={!end}
                    onclick={() => end && flip(end)}
                  >
                    {band.toClosed ? 'up to' : 'below'}</button
                  >
                  <BoundaryCell
                    dates={isDate}
                    value={band.to}
                    label="Upper boundary of {nameOf(band)}"
                    commit={(v) =>
                      end ? move(end, v) : edit(setLimit(outcome, i, 'to', v), 'move the highest boundary')}
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
                    edit(
                      setLimit(outcome, i, 'to', keptBoundary(usualLimit(band, 'to'), isDate)),
                      'set an upper limit',
                    )}>, no upper limit</button
                >
              {/if}
              {#if readonly && band.from === undefined && band.to === undefined}every number{/if}
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
                  aria-label="Split {nameOf(band)} in two"
                  onclick={() => edit(splitBand(outcome, i, middleOf(band, finest)), 'split a band')}
                  ><Icon of={Plus} size={14} /></button
                >
                {#if outcome.bands.length > 1}
                  <button
                    type="button"
                    class="act"
                    title="Remove this band"
                    aria-label="Remove the band {nameOf(band)}"
                    onclick={() => edit(removeBand(outcome, i), 'remove a band')}><Icon of={X} size={14} /></button
                  >
                {/if}
              {/if}
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{/if}

{#each [{ key: 'blank', label: 'Blank', count: sample.blanks }, { key: 'outside', label: isGrouped ? 'In no group' : 'In no band', count: outsideCount }] as const as end (end.key)}
  <SheetRow label={end.label}>
    <OtherwiseSelect
      what={outcome[end.key]}
      label={end.label}
      {target}
      {readonly}
      change={(what, group) =>
        edit(
          [set(at(end.key), what)],
          end.key === 'blank' ? 'change what blank does' : 'change what fits nowhere does',
          group,
        )}
    />
    <span class="quiet ml-2">{ownWriting(end.count)} of the sample</span>
  </SheetRow>
{/each}

<style>
  .sheet-indent {
    margin-left: 130px;
  }
  @media (max-width: 1100px) {
    .sheet-indent {
      margin-left: 0;
    }
  }
</style>
