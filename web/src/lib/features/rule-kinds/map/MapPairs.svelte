<script lang="ts">
  /** Option to option: every option of the source is listed already; what it gives stands beside it. */
  import type { CompiledRule, MapRule, MapSource, TypeProgram } from '@rigid-rule/core/compile';
  import type { Field, Operation, RecordType } from '@rigid-rule/core/document';
  import { createFormula, fieldTypeOf, findOption } from '@rigid-rule/core/language';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import { FieldInput, typedValue } from '$lib/features/fields';
  import { FormulaInput } from '$lib/features/formula';
  import { at, saidAt, set, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  type Pairs = Extract<MapSource, { by: 'pairs' }>;
  interface Props {
    map: MapRule;
    source: Pairs;
    ontoType: RecordType;
    target: Field | undefined;
    compiled: CompiledRule;
    program: TypeProgram;
    readonly: boolean;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { map, source, ontoType, target, compiled, program, readonly, edit }: Props = $props();
  const visit = new Visit();

  const asked = $derived(program.recordType.fields.find((f) => f.name === source.formula));
  const type = $derived(createFormula(source.formula, program.scope).type);
  const options = $derived(type.kind === 'option' ? type.options.names : undefined);
  /** All options of the source, and pairs of what is none of them. */
  const rows = $derived.by(() => {
    const pairOf = (from: string) => source.pairs.findIndex((p) => p.from.toLowerCase() === from.toLowerCase());
    const listed = (options ?? []).map((from) => ({ from, at: pairOf(from) }));
    const others = source.pairs.flatMap((p, i) => (listed.some((l) => l.at === i) ? [] : [{ from: p.from, at: i }]));
    return [...listed, ...others];
  });
  const missing = $derived(rows.filter((r) => r.at < 0).length);

  type To = Pairs['pairs'][number]['to'];
  function give(from: string, at_: number, to: To, group?: string) {
    const pairs =
      at_ < 0
        ? rows.flatMap((r) => (r.from === from ? [{ from, to }] : r.at < 0 ? [] : [source.pairs[r.at]!]))
        : source.pairs.map((p, i) => (i === at_ ? { ...p, to } : p));
    edit([set(at('source', 'pairs'), pairs)], 'change what an option gives', group);
  }
  const removePair = (i: number) =>
    edit(
      [
        set(
          at('source', 'pairs'),
          source.pairs.filter((_, x) => x !== i),
        ),
      ],
      'take a pair out',
    );
  const listOf = (to: To): readonly string[] => (Array.isArray(to) ? to : to === null ? [] : [String(to)]);
  const optionName = (text: string): string => (target && findOption(target, text)?.name) || text;
  const said = (to: To): string => listOf(to).map(optionName).join(', ');
  function typed(text: string): To {
    if (text.trim() === '') return null;
    if (!target || target.options) return text;
    const coerced = fieldTypeOf(target).coerce(typedValue(target, text), target);
    return 'value' in coerced ? (coerced.value as To) : text;
  }
  const isMissing = (r: { at: number }) => r.at < 0;
</script>

<SheetRow label="By">
  <FieldSelect
    fields={ontoType.fields}
    value={map.outputs[0]?.target ?? ''}
    label="Field that is written"
    {readonly}
    choose={(key) =>
      edit(
        [set(at('outputs'), [{ value: '', target: key, way: map.outputs[0]?.way ?? 'replace' }])],
        'choose the field that is written',
      )}
  />
  becomes, by
  <FieldSelect
    fields={program.recordType.fields}
    value={asked?.key ?? ''}
    label="What it is mapped from"
    none={asked ? 'a formula' : source.formula || 'a field'}
    suits={(f) => fieldTypeOf(f).chooses === 'one' || fieldTypeOf(f).free === true}
    {readonly}
    choose={(key) =>
      edit(
        [
          set(at('source', 'formula'), program.recordType.fields.find((f) => f.key === key)?.name ?? ''),
          set(at('source', 'pairs'), []),
        ],
        'choose what it is mapped from',
      )}
  />
  {#if !asked && source.formula !== ''}
    <FormulaInput
      text={source.formula}
      label="What it is mapped from, as a formula"
      scope={program.scope}
      {readonly}
      diagnostics={saidAt(compiled, '/outcome/source/formula')}
      begin={visit.begin}
      change={(formula) => edit([set(at('source', 'formula'), formula)], 'change what it is mapped from', visit.group)}
    />
  {/if}
</SheetRow>
<SheetRow label="Pairs">
  <table class="w-full border-collapse">
    <thead
      ><tr class="label text-left"
        ><th class="w-2/5 font-normal">{source.formula || 'From'}</th><th class="font-normal">{target?.name ?? 'To'}</th
        ><th><span class="sr-only">Remove</span></th></tr
      ></thead
    >
    <tbody>
      {#each rows as row, nth (nth)}
        {@const pair = row.at < 0 ? undefined : source.pairs[row.at]}
        <tr class="border-t border-line align-baseline">
          <td class={['py-[3px] pr-3', isMissing(row) && 'text-brass-ink']}>
            {row.from}
            {#if row.at >= 0}{#each saidAt(compiled, `/outcome/source/pairs/${row.at}/from`) as d, i (i)}<p
                  class="text-small text-stop"
                >
                  {d.message}
                </p>{/each}{/if}
          </td>
          <td class="py-[3px]">
            {#if readonly}{pair ? said(pair.to) || 'blank' : 'nothing said'}
            {:else if target && fieldTypeOf(target).chooses === 'many'}
              <FieldInput
                id="pair-{nth}"
                field={target}
                value={listOf(pair?.to ?? null).map((name) => findOption(target, name)?.key ?? name)}
                nothing={pair ? 'blank' : 'nothing said'}
                commit={(keys) =>
                  give(
                    row.from,
                    row.at,
                    (keys as readonly string[]).map((key) => findOption(target, key)?.name ?? key),
                  )}
                class="on-sheet"
              />
            {:else if target?.options && fieldTypeOf(target).chooses === 'one'}
              <select
                class={['editable', isMissing(row) && 'quiet']}
                aria-label="{row.from} gives"
                value={pair ? said(pair.to) : ' none'}
                onchange={(e) => give(row.from, row.at, e.currentTarget.value || null)}
              >
                {#if !pair}<option value=" none">nothing said</option>{/if}
                <option value="">blank</option>
                {#each target.options as o, nth (nth)}<option value={o.name}>{o.name}</option>{/each}
              </select>
            {:else}
              <input
                class="editable w-full"
                aria-label="{row.from} gives"
                placeholder={pair ? 'blank' : 'nothing said'}
                value={pair ? said(pair.to) : ''}
                onfocus={visit.begin}
                oninput={(e) => give(row.from, row.at, typed(e.currentTarget.value), visit.group)}
              />
            {/if}
            {#if row.at >= 0}{#each saidAt(compiled, `/outcome/source/pairs/${row.at}/to`) as d, i (i)}<p
                  class="text-small text-stop"
                >
                  {d.message}
                </p>{/each}{/if}
          </td>
          <td class="text-right">
            {#if pair && !readonly}<button
                type="button"
                class="quiet cursor-pointer px-1 hover:text-stop"
                aria-label="Take {row.from} out"
                onclick={() => removePair(row.at)}>×</button
              >{/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if !options && !readonly}
    <input
      class="editable mt-1 w-56"
      aria-label="A further value to map from"
      placeholder="a further value, then Enter"
      onkeydown={(e) => {
        if (e.key !== 'Enter' || !e.currentTarget.value.trim()) return;
        const pairs = [...source.pairs, { from: e.currentTarget.value.trim(), to: null }];
        edit([set(at('source', 'pairs'), pairs)], 'add a pair');
        e.currentTarget.value = '';
      }}
    />
  {/if}
  {#if missing > 0}<p class="mt-1 text-small text-brass-ink">
      {missing} of {ownWriting(rows.length)} have nothing said: they are treated as no match.
    </p>{/if}
  {#each saidAt(compiled, '/outcome/source/pairs') as d, i (i)}<p class="text-small text-stop">{d.message}</p>{/each}
</SheetRow>

<style>
  /* On the sheet what is chosen is underlined, not boxed. */
  td :global(.on-sheet:not(:focus-visible)) {
    border: 0;
    border-bottom: 1.5px solid var(--brass);
    border-radius: 0;
    background: transparent;
    padding: 0 1px;
  }
</style>
