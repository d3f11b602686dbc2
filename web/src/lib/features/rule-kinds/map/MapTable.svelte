<script lang="ts">
  /** A mapping table as the source: which one, and what its key columns are asked for. */
  import { counted } from '$lib/counted.ts';
  import { mappingAddress, mappingsPath } from '$lib/addresses.ts';
  import type { CompiledRule, MapRule, MapSource, TypeProgram } from '@rigid-rule/core/compile';
  import type { Operation } from '@rigid-rule/core/document';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { FormulaInput } from '$lib/features/formula';
  import { at, saidAt, set, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    map: MapRule;
    source: Extract<MapSource, { by: 'table' }>;
    compiled: CompiledRule;
    program: TypeProgram;
    draft: Draft;
    readonly: boolean;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
    keysOf: (table: string) => Readonly<Record<string, string>>;
    firstColumn: (table: string) => string;
  }
  const { map, source, compiled, program, draft, readonly, edit, keysOf, firstColumn }: Props = $props();
  const visit = new Visit();
  const tables = $derived(draft.rulebook.tables ?? []);
  const table = $derived(tables.find((t) => t.key === source.table));

  function chooseTable(key: string) {
    const outputs = map.outputs.map((o) => ({ ...o, value: firstColumn(key) }));
    edit(
      [set(at('source'), { by: 'table', table: key, keys: keysOf(key) }), set(at('outputs'), outputs)],
      'choose the table',
    );
  }
</script>

<SheetRow label="Table">
  {#if readonly}{table?.name ?? source.table}{:else if tables.length === 0}
    <span class="quiet">There is no mapping table yet.</span> <a class="editable" href={mappingsPath}>Make one</a>
  {:else}
    <select
      class="editable"
      aria-label="Mapping table"
      value={source.table}
      onchange={(e) => chooseTable(e.currentTarget.value)}
    >
      {#if !table}<option value={source.table}>{source.table || 'a table'}</option>{/if}
      {#each tables as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
    </select>
  {/if}
  {#if table}
    <a class="quiet ml-2 hover:text-brass" href={mappingAddress(table.key)}
      >{counted(table.rows.length, 'row')}, open it</a
    >
  {/if}
  {#each saidAt(compiled, '/outcome/source/table') as d, i (i)}<p class="text-small text-stop">{d.message}</p>{/each}
</SheetRow>
{#each table?.keys ?? [] as column, nth (nth)}
  <SheetRow label={column.name}>
    <FormulaInput
      text={source.keys[column.key] ?? ''}
      label="What {column.name} is looked up by"
      scope={program.scope}
      typed
      {readonly}
      placeholder="a field, or a formula"
      diagnostics={saidAt(compiled, `/outcome/source/keys/${column.key}`)}
      begin={visit.begin}
      change={(text) =>
        edit([set(at('source', 'keys', column.key), text)], 'change what it is looked up by', visit.group)}
    />
  </SheetRow>
{/each}
