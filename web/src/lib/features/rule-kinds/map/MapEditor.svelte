<script lang="ts">
  /** Where values come from (pairs of options, a mapping table, a matched record), where they go, and what else happens. */
  import { readMap, type Ending, type MapOutput, type MapRule, type MapSource } from '@rigid-rule/core/compile';
  import { fieldTypeOf, linkedType } from '@rigid-rule/core/language';
  import MapEnd from './MapEnd.svelte';
  import MapMatch from './MapMatch.svelte';
  import MapOutputs from './MapOutputs.svelte';
  import MapPairs from './MapPairs.svelte';
  import MapTable from './MapTable.svelte';
  import type { OutcomeEditorProps } from '../kind-face.ts';
  import { at, saidAt, set } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  const { rule, compiled, program, draft, readonly, edit }: OutcomeEditorProps = $props();
  const map = $derived(readMap(rule.outcome));
  const types = $derived(draft.rulebook.recordTypes);

  interface Place {
    readonly key: string;
    readonly name: string;
    /** Key of the record type that is written. */
    readonly type: string;
  }
  const places = $derived.by((): readonly Place[] => [
    { key: '', name: `this ${program.recordType.name.toLowerCase()}`, type: program.recordType.key },
    ...program.recordType.fields.flatMap((f) => {
      const linked = linkedType(f);
      return linked ? [{ key: f.key, name: `the ${f.name.toLowerCase()}`, type: linked }] : [];
    }),
    ...[...program.childLists.values()].map((c) => ({
      key: c.name,
      name: `each of its ${c.name.toLowerCase()}`,
      type: c.recordType,
    })),
  ]);
  const place = $derived(places.find((p) => p.key === map.onto));
  const ontoType = $derived(types.find((t) => t.key === place?.type) ?? program.recordType);
  const target = $derived(ontoType.fields.find((f) => f.key === map.outputs[0]?.target));

  const sources: readonly { key: MapSource['by']; name: string }[] = [
    { key: 'pairs', name: 'from option to option' },
    { key: 'table', name: 'from a mapping table' },
    { key: 'match', name: 'from a record that matches' },
  ];
  function chooseSource(by: string) {
    const picklist = program.recordType.fields.find((f) => fieldTypeOf(f).chooses === 'one' && f.key !== target?.key);
    if (by === 'table') {
      const table = draft.rulebook.tables?.[0];
      return begin({ by: 'table', table: table?.key ?? '', keys: keysOf(table?.key ?? '') });
    }
    if (by === 'match') {
      const recordType = target?.recordType ?? types.find((t) => t.key !== program.recordType.key)?.key ?? '';
      return begin({ by: 'match', recordType, ways: [] });
    }
    return begin({ by: 'pairs', formula: picklist?.name ?? '', pairs: [] });
  }
  function begin(source: MapSource) {
    const outputs = map.outputs.map((o): MapOutput => ({
      ...o,
      value: source.by === 'table' ? firstColumn(source.table) : '',
    }));
    const none: MapRule['none'] = { do: source.by === 'match' ? 'leave' : 'clear' };
    edit(
      [set(at('source'), source), set(at('outputs'), outputs), set(at('none'), none)],
      'choose where values come from',
    );
  }
  const tableOf = (key: string) => draft.rulebook.tables?.find((t) => t.key === key);
  const firstColumn = (key: string) => tableOf(key)?.outputs[0]?.key ?? '';
  /** A key column is asked for by the field that it holds the values of, or by one of its name. */
  function keysOf(key: string): Readonly<Record<string, string>> {
    const { fields, key: own } = program.recordType;
    return Object.fromEntries(
      (tableOf(key)?.keys ?? []).map((column) => {
        const [type, name] = column.field?.split('.') ?? [];
        const field = fields.find((f) => (type === own && f.key === name) || f.name === column.name);
        return [column.key, field?.name ?? ''];
      }),
    );
  }

  const ends = $derived(
    [
      { key: 'blank', label: 'Blank' },
      { key: 'none', label: 'No match' },
      { key: 'several', label: 'Several match' },
    ].filter((e): e is { key: Ending; label: string } => e.key !== 'several' || map.source.by !== 'pairs'),
  );
</script>

<SheetRow label="Outcome">
  {#if readonly}{sources.find((s) => s.key === map.source.by)?.name}{:else}
    <select
      class="editable font-[650]"
      aria-label="Where the values come from"
      value={map.source.by}
      onchange={(e) => chooseSource(e.currentTarget.value)}
    >
      {#each sources as s (s.key)}<option value={s.key}>{s.name}</option>{/each}
    </select>
  {/if}
  onto
  {#if readonly}{place?.name}{:else}
    <select
      class="editable"
      aria-label="Where the values go"
      value={map.onto}
      onchange={(e) => edit([set(at('onto'), e.currentTarget.value)], 'choose where the values go')}
    >
      {#if !place}<option value={map.onto}>{map.onto}, not there</option>{/if}
      {#each places as p (p.key)}<option value={p.key}>{p.name}</option>{/each}
    </select>
  {/if}
  {#each saidAt(compiled, '/outcome/onto') as d, i (i)}<p class="text-small text-stop">{d.message}</p>{/each}
</SheetRow>

{#if map.source.by === 'pairs'}
  <MapPairs {map} source={map.source} {ontoType} {target} {compiled} {program} {readonly} {edit} />
{:else if map.source.by === 'table'}
  <MapTable source={map.source} {compiled} {program} {draft} {readonly} {edit} {keysOf} {firstColumn} {map} />
  <MapOutputs {map} {ontoType} {compiled} {program} {draft} {readonly} {edit} />
{:else}
  <MapMatch source={map.source} {compiled} {program} {draft} {readonly} {edit} />
  <MapOutputs {map} {ontoType} {compiled} {program} {draft} {readonly} {edit} />
{/if}

{#each ends as end (end.key)}
  <MapEnd {map} ending={end.key} label={end.label} {ontoType} {compiled} {readonly} {edit} />
{/each}
