<script lang="ts">
  /** A condition: rows first, the formula behind a switch; two views of one text. */
  import { uniqueId } from '$lib/unique-id.ts';
  import type { TypeProgram } from '@rigid-rule/core/compile';
  import type { Diagnostic } from '@rigid-rule/core/diagnostics';
  import {
    addRow,
    changeJoin,
    createFormula,
    findComparison,
    printRow,
    removeItem,
    replaceRow,
    rowComparisons,
    rowsOf,
    type ConditionGroup,
    type ConditionRow,
    type Scope,
  } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import RowValue from './RowValue.svelte';

  interface Props {
    text: string;
    scope: Scope;
    program: TypeProgram;
    label: string;
    readonly: boolean;
    diagnostics: readonly Diagnostic[];
    change: (text: string, group?: string) => void;
  }
  const { text, scope, program, label, readonly, diagnostics, change }: Props = $props();

  let asFormula = $state(false);
  const root = $derived(rowsOf(text, scope));
  let visit: string = uniqueId();

  interface Subject {
    readonly path: string;
    readonly group: string;
  }
  const subjects = $derived.by((): readonly Subject[] => {
    const own = program.recordType.fields.map((f) => ({ path: f.name, group: program.recordType.name }));
    const before = own.map((s) => ({ path: `previous.${s.path}`, group: 'Before the write' }));
    const linked = [...scope.fields.values()].flatMap(({ field, type }) =>
      type.kind === 'record'
        ? type.of
            .memberNames()
            .flatMap((n) => (type.of.member(n)!.field ? [{ path: `${field.name}.${n}`, group: field.name }] : []))
        : [],
    );
    return [...own, ...linked, ...before];
  });
  const groups = $derived([...new Set(subjects.map((s) => s.group))]);
  const typeOf = (path: string) => createFormula(path, scope).type;

  /** A value to begin with: the first option, yes, or blank text. */
  function starting(subject: string): string {
    const type = typeOf(subject);
    const of = type.kind === 'list' ? type.item : type;
    if (of.kind === 'option') return JSON.stringify(of.options.names[0] ?? '');
    return of.kind === 'number' ? '0' : of.kind === 'text' ? '""' : 'null';
  }
  const usual = (subject: string) => {
    const type = typeOf(subject);
    return type.kind === 'boolean' ? 'yes' : type.kind === 'list' ? 'has' : type.kind === 'option' ? 'is' : 'filled';
  };
  function valuesFor(comparison: string, subject: string, now: readonly string[]): readonly string[] {
    const takes = findComparison(comparison)!.takes;
    const first = now[0] ?? starting(subject);
    if (takes === 'none') return [];
    if (takes === 'one') return [first];
    return takes === 'two' ? [first, now[1] ?? first] : now.length > 0 ? now : [first];
  }
  function write(row: ConditionRow, subject: string, comparison: string, values: readonly string[], group?: string) {
    change(replaceRow(text, row, printRow(subject, comparison, valuesFor(comparison, subject, values))), group);
  }
  function setSubject(row: ConditionRow, subject: string) {
    const fits = findComparison(row.comparison)!.suits(typeOf(subject));
    const comparison = fits ? row.comparison : usual(subject);
    write(
      row,
      subject,
      comparison,
      JSON.stringify(typeOf(subject)) === JSON.stringify(typeOf(row.subject)) ? row.values : [],
    );
  }
  function add(g: ConditionGroup, subject: string) {
    const comparison = usual(subject);
    change(addRow(text, root!, g, printRow(subject, comparison, valuesFor(comparison, subject, []))));
  }
  const joinWords = { all: 'all of', any: 'any of' } as const;
</script>

{#snippet subjectOptions()}
  {#each groups as group, nth (nth)}
    <optgroup label={group}>
      {#each subjects.filter((s) => s.group === group) as s, nth (nth)}<option value={s.path}>{s.path}</option>{/each}
    </optgroup>
  {/each}
{/snippet}

{#snippet rows(g: ConditionGroup, depth: number)}
  <div class={depth > 0 ? 'border-l-2 border-line pl-2.5' : ''}>
    {#if g.items.length > 1}
      <button
        type="button"
        class="editable text-small"
        aria-label="{joinWords[g.join]}: change to {joinWords[g.join === 'all' ? 'any' : 'all']}"
        disabled={readonly}
        onclick={() => change(changeJoin(text, root!, g))}>{joinWords[g.join]}</button
      >
    {/if}
    {#each g.items as item, i (i)}
      {#if item.kind === 'group'}
        <div class="my-1">{@render rows(item, depth + 1)}</div>
      {:else}
        {@const comparison = findComparison(item.comparison)!}
        {@const type = typeOf(item.subject)}
        <div class="row">
          <select
            class="editable"
            aria-label="Field"
            value={item.subject}
            disabled={readonly}
            onchange={(e) => setSubject(item, e.currentTarget.value)}
          >
            {#if !subjects.some((s) => s.path === item.subject)}<option>{item.subject}</option>{/if}
            {@render subjectOptions()}
          </select>
          <select
            class="editable"
            aria-label="Comparison"
            value={item.comparison}
            disabled={readonly}
            onchange={(e) => write(item, item.subject, e.currentTarget.value, item.values)}
          >
            {#each rowComparisons.filter((c) => c.suits(type) || c.key === item.comparison) as c (c.key)}<option
                value={c.key}>{c.name}</option
              >{/each}
          </select>
          {#if comparison.takes === 'many'}
            <RowValue
              many
              {type}
              {scope}
              {readonly}
              values={item.values}
              change={(values) => write(item, item.subject, item.comparison, values)}
            />
          {:else}
            {#each item.values as value, at (at)}
              {#if at > 0}<span>and</span>{/if}
              <RowValue
                {type}
                {scope}
                {readonly}
                values={[value]}
                begin={() => (visit = uniqueId())}
                change={([now]) =>
                  write(
                    item,
                    item.subject,
                    item.comparison,
                    item.values.map((v, x) => (x === at ? (now ?? v) : v)),
                    visit,
                  )}
              />
            {/each}
          {/if}
          {#if !readonly}
            <button
              type="button"
              class="act"
              aria-label="Remove the row {item.subject} {comparison.name}"
              onclick={() => change(removeItem(text, root!, g, i))}><Icon of={X} size={13} /></button
            >
          {/if}
        </div>
      {/if}
    {:else}{#if depth === 0}<span class="mr-2">always</span>{/if}
    {/each}
    {#if !readonly}
      <select
        class="editable quiet text-small"
        aria-label="Add a row"
        value=""
        onchange={(e) => {
          if (e.currentTarget.value) add(g, e.currentTarget.value);
          e.currentTarget.value = '';
        }}
      >
        <option value="">add a condition</option>
        {@render subjectOptions()}
      </select>
    {/if}
  </div>
{/snippet}

<div class="flex items-start gap-3">
  <div class="min-w-0 flex-1">
    {#if root && !asFormula}
      {@render rows(root, 0)}
      {#if diagnostics.length > 0}
        <ul class="text-small text-stop">
          {#each diagnostics as d, i (i)}<li>{d.message}</li>{/each}
        </ul>
      {/if}
    {:else}
      {#await import('./FormulaInput.svelte')}
        <span class="quiet font-mono text-small">{text}</span>
      {:then { default: FormulaInput }}
        <FormulaInput
          {text}
          {label}
          {scope}
          {readonly}
          {diagnostics}
          placeholder="always; or a formula such as  Stage = &quot;Won&quot;"
          begin={() => (visit = uniqueId())}
          change={(now) => change(now, visit)}
        />
      {/await}
      {#if !root && text.trim() !== '' && diagnostics.length === 0}<p class="text-small text-faint">
          Too rich for rows: it stays a formula.
        </p>{/if}
    {/if}
  </div>
  {#if !readonly && root}
    <button
      type="button"
      class="word whitespace-nowrap"
      aria-pressed={asFormula}
      onclick={() => (asFormula = !asFormula)}>{asFormula ? 'as rows' : 'as a formula'}</button
    >
  {/if}
</div>

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 8px;
    align-items: baseline;
    padding: 2px 0;
  }
</style>
