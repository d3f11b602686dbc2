<script lang="ts">
  /** A record that is found by its fields: the ways are tried in order, the first that finds any decides. */
  import type { CompiledRule, MapSource, MatchBy, TypeProgram } from '@rigid-rule/core/compile';
  import type { Operation } from '@rigid-rule/core/document';
  import { matchModeNames, matchModes, type MatchMode } from '@rigid-rule/core/values';
  import Icon from '$lib/ui/Icon.svelte';
  import ArrowUp from 'lucide/dist/esm/icons/arrow-up.mjs';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { FormulaInput } from '$lib/features/formula';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import { append, at, drop, put, saidAt, set, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    source: Extract<MapSource, { by: 'match' }>;
    compiled: CompiledRule;
    program: TypeProgram;
    draft: Draft;
    readonly: boolean;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { source, compiled, program, draft, readonly, edit }: Props = $props();
  const visit = new Visit();
  const types = $derived(draft.rulebook.recordTypes);
  const searched = $derived(types.find((t) => t.key === source.recordType));
  const setWay = (i: number, more: Partial<MatchBy>, label: string, group?: string) =>
    edit([put(at('source', 'ways', i), { ...source.ways[i]!, ...more })], label, group);
  function swap(i: number) {
    const ways = [...source.ways];
    [ways[i - 1], ways[i]] = [ways[i]!, ways[i - 1]!];
    edit([set(at('source', 'ways'), ways)], 'reorder the ways to match');
  }
  const unique = (key: string) => searched?.fields.find((f) => f.key === key)?.unique === true;
</script>

<SheetRow label="Matches">
  a
  {#if readonly}{searched?.name ?? source.recordType}{:else}
    <select
      class="editable"
      aria-label="Record type that is searched"
      value={source.recordType}
      onchange={(e) =>
        edit(
          [set(at('source'), { by: 'match', recordType: e.currentTarget.value, ways: [] })],
          'choose what is searched',
        )}
    >
      {#each types as t (t.key)}<option value={t.key}>{t.name.toLowerCase()}</option>{/each}
    </select>
  {/if}
  {#each source.ways as way, i (i)}
    <div class="mt-1 border-t border-line pt-1" role="group" aria-label="Way {i + 1}">
      <div class="flex flex-wrap items-baseline gap-x-2">
        <span class="quiet">{i === 0 ? 'whose' : 'else whose'}</span>
        <FieldSelect
          fields={searched?.fields ?? []}
          value={way.field}
          label="Field that is searched, way {i + 1}"
          {readonly}
          choose={(field) => setWay(i, { field }, 'choose the field that is searched')}
        />
        matches
        <select
          class="editable"
          aria-label="How way {i + 1} matches"
          disabled={readonly}
          value={way.mode}
          onchange={(e) => setWay(i, { mode: e.currentTarget.value as MatchMode }, 'choose how it matches')}
        >
          {#each matchModes as mode (mode)}<option value={mode}>{matchModeNames[mode]}</option>{/each}
        </select>
        {#if !readonly}
          <span class="ml-auto flex">
            <button
              type="button"
              class="act"
              aria-label="Move way {i + 1} up"
              disabled={i === 0}
              onclick={() => swap(i)}><Icon of={ArrowUp} size={13} /></button
            >
            <button
              type="button"
              class="act"
              aria-label="Remove way {i + 1}"
              onclick={() => edit([drop(at('source', 'ways', i))], 'remove a way to match')}
              ><Icon of={X} size={13} /></button
            >
          </span>
        {/if}
      </div>
      <FormulaInput
        text={way.formula}
        label="What is searched for, way {i + 1}"
        scope={program.scope}
        typed
        {readonly}
        placeholder="what is searched for: a field, or a formula"
        diagnostics={saidAt(compiled, `/outcome/source/ways/${i}/formula`)}
        begin={visit.begin}
        change={(formula) => setWay(i, { formula }, 'change what is searched for', visit.group)}
      />
      {#if !unique(way.field)}<p class="quiet text-small">
          Several can have the same: what happens then stands below.
        </p>{/if}
      {#each saidAt(compiled, `/outcome/source/ways/${i}/field`) as d, n (n)}<p class="text-small text-stop">
          {d.message}
        </p>{/each}
    </div>
  {/each}
  {#if !readonly && searched}
    <FieldSelect
      fields={searched.fields}
      value=""
      label="Add a way to match"
      none={source.ways.length === 0 ? 'whose …' : 'else whose …'}
      choose={(field) => {
        const name = searched.fields.find((f) => f.key === field)?.name;
        const own = program.recordType.fields.find((f) => f.name === name);
        if (field)
          edit(
            [append(at('source', 'ways'), { field, formula: own?.name ?? '', mode: 'folded' } satisfies MatchBy)],
            'add a way to match',
          );
      }}
    />
  {/if}
  {#each saidAt(compiled, '/outcome/source/ways') as d, i (i)}<p class="text-small text-stop">{d.message}</p>{/each}
</SheetRow>
