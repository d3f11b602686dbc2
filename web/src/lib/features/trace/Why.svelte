<script lang="ts">
  /** Why a value is what it is: the value, the rule that wrote it, what the rule read. */
  import { findRuleKind, type Field, type RecordType, type Rule, type TraceEntry } from '@rigid-rule/core';
  import { shownValue } from '$lib/features/fields';
  import KindMark from '$lib/ui/KindMark.svelte';

  interface Props {
    field: Field;
    rule: Rule;
    entry: TraceEntry;
    recordType: RecordType;
    /** Names of the fields that were changed by hand in this write. */
    changed: readonly string[];
  }
  const { field, rule, entry, recordType, changed }: Props = $props();
  const outcome = $derived(entry.outcomes.find((o) => o.field === field.key));
  const fieldOf = (name: string) => recordType.fields.find((f) => f.name === name.replace(/^previous\./, ''));
  const branch = $derived(
    outcome?.branch === undefined ? undefined : findRuleKind(rule.kind)?.branchText?.(rule.outcome, outcome.branch),
  );
</script>

<div class="chain">
  <div>
    <p class="label">value</p>
    <p><span class="written text-[15px]">{shownValue(field, outcome?.to) || 'blank'}</span></p>
    <p class="quiet text-small">was {shownValue(field, outcome?.from) || 'blank'}</p>
  </div>
  <span aria-hidden="true" class="text-held">←</span>
  <div>
    <p class="label">written by</p>
    <p class="flex items-center gap-1.5 font-[650]">
      <span class="text-held"><KindMark kind={rule.kind} label={findRuleKind(rule.kind)?.name ?? ''} /></span
      >{rule.name}
    </p>
    {#if branch}<p class="text-small text-soft">
        {branch.replace(/^./, (c) => c.toUpperCase())} it is {shownValue(field, outcome?.to)}.
      </p>{/if}
  </div>
  <span aria-hidden="true" class="text-held">←</span>
  <div>
    <p class="label">it read</p>
    {#each entry.read as read (read.name)}
      {@const f = fieldOf(read.name)}
      <p>{read.name} <b>{(f ? shownValue(f, read.value) : '') || 'blank'}</b></p>
      <p class="text-small text-soft">{changed.includes(read.name) ? 'changed by you, just now' : 'as it is stored'}</p>
    {/each}
  </div>
</div>

<style>
  .chain {
    display: grid;
    grid-template-columns: auto auto minmax(0, 1.4fr) auto minmax(0, 1fr);
    gap: 4px 9px;
    align-items: start;
    border: 1.5px solid var(--held);
    background: var(--field);
    border-radius: 3px;
    padding: 8px 11px;
    margin: 4px 0 6px;
  }
  .chain > span {
    padding-top: 18px;
  }
</style>
