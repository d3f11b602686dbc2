<script lang="ts">
  /** Which columns of the table, or what of the matched record, go into which fields. */
  import {
    listUpdateModes,
    listUpdateVerbs,
    type CompiledRule,
    type MapOutput,
    type MapRule,
    type TypeProgram,
    type ListUpdateMode,
  } from '@rigid-rule/core/compile';
  import type { Operation, RecordType } from '@rigid-rule/core/document';
  import { extendScope, fieldTypeOf, type Variable } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { FormulaInput } from '$lib/features/formula';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import { append, at, drop, put, saidAt, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    map: MapRule;
    ontoType: RecordType;
    compiled: CompiledRule;
    program: TypeProgram;
    draft: Draft;
    readonly: boolean;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { map, ontoType, compiled, program, draft, readonly, edit }: Props = $props();
  const visit = new Visit();
  const table = $derived(
    map.source.by === 'table'
      ? draft.rulebook.tables?.find((t) => t.key === (map.source as { table: string }).table)
      : undefined,
  );
  const matchScope = $derived(extendScope(program.scope, ['match']));
  const variables = $derived.by((): readonly Variable[] => {
    const of = map.source.by === 'match' ? program.scope.shapes?.get(map.source.recordType) : undefined;
    return of ? [{ name: 'match', type: { kind: 'record', of } }] : [];
  });
  const setOutput = (i: number, more: Partial<MapOutput>, label: string, group?: string) =>
    edit([put(at('outputs', i), { ...map.outputs[i]!, ...more })], label, group);
  /** A column that is not used yet goes into the field whose values it holds. */
  function add() {
    const used = new Set(map.outputs.map((o) => o.value));
    const column = table?.outputs.find((c) => !used.has(c.key)) ?? table?.outputs[0];
    const own = column?.field?.split('.');
    const field = own?.[0] === ontoType.key ? own[1] : undefined;
    const free = ontoType.fields.find((f) => !map.outputs.some((o) => o.target === f.key));
    edit(
      [append(at('outputs'), { value: column?.key ?? '', target: field ?? free?.key ?? '', way: 'replace' })],
      'add an output',
    );
  }
  const isList = (key: string) => ontoType.fields.some((f) => f.key === key && fieldTypeOf(f).chooses === 'many');
</script>

<SheetRow label="Gives">
  {#each map.outputs as output, i (i)}
    <div class="flex flex-wrap items-baseline gap-x-2 pb-1">
      <FieldSelect
        fields={ontoType.fields}
        value={output.target}
        label="Field of output {i + 1}"
        {readonly}
        choose={(target) => setOutput(i, { target }, 'choose the field that is written')}
      />
      {#if isList(output.target) && !readonly}
        <select
          class="editable"
          aria-label="What becomes of the options there, output {i + 1}"
          value={output.way}
          onchange={(e) =>
            setOutput(i, { way: e.currentTarget.value as ListUpdateMode }, 'change what becomes of the options')}
        >
          {#each listUpdateModes as way (way)}<option value={way}>{listUpdateVerbs[way]}</option>{/each}
        </select>
      {:else}<span>{listUpdateVerbs[output.way]}</span>{/if}
      {#if table}
        {#if readonly}{table.outputs.find((c) => c.key === output.value)?.name}{:else}
          <select
            class="editable"
            aria-label="Column of output {i + 1}"
            value={output.value}
            onchange={(e) => setOutput(i, { value: e.currentTarget.value }, 'choose a column')}
          >
            {#if !table.outputs.some((c) => c.key === output.value)}<option value={output.value}>a column</option>{/if}
            {#each table.outputs as c, nth (nth)}<option value={c.key}>{c.name}</option>{/each}
          </select>
        {/if}
      {:else}
        <div class="min-w-[180px] flex-1">
          <FormulaInput
            text={output.value}
            label="What of the match goes into output {i + 1}"
            scope={matchScope}
            {variables}
            {readonly}
            placeholder="the record itself; or of it, such as  match.Name"
            diagnostics={saidAt(compiled, `/outcome/outputs/${i}/value`)}
            begin={visit.begin}
            change={(value) => setOutput(i, { value }, 'change what is taken over', visit.group)}
          />
        </div>
      {/if}
      {#if !readonly && map.outputs.length > 1}
        <button
          type="button"
          class="act"
          aria-label="Remove output {i + 1}"
          onclick={() => edit([drop(at('outputs', i))], 'remove an output')}><Icon of={X} size={13} /></button
        >
      {/if}
    </div>
    {#each [...saidAt(compiled, `/outcome/outputs/${i}/target`), ...(table ? saidAt(compiled, `/outcome/outputs/${i}/value`) : []), ...saidAt(compiled, `/outcome/outputs/${i}/way`)] as d, n (n)}<p
        class="text-small text-stop"
      >
        {d.message}
      </p>{/each}
  {/each}
  {#if !readonly}
    <button type="button" class="word" onclick={add}>add an output</button>
  {/if}
</SheetRow>
