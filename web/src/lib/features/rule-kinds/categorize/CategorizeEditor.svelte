<script lang="ts">
  import { shownValue } from '$lib/features/fields';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { readCategorize, type Band } from '@rigid-rule/core/compile';
  import type { Field } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { noteField } from '../parts/recent-fields.ts';
  import Ruler from './ruler/Ruler.svelte';
  import { layoutRuler, type RulerStop } from '../parts/ruler-layout.ts';
  import { flipStop, moveStop, resource, retarget } from './categorize-edits.ts';
  import BandRow from './BandRow.svelte';
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
          <BandRow
            {outcome}
            {band}
            {i}
            {target}
            {isDate}
            {finest}
            end={upperStop(i)}
            begin={lowerStop(i)}
            name={nameOf(band)}
            {readonly}
            {edit}
            {move}
            {flip}
          />
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
