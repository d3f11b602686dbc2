<script lang="ts">
  /** A new rule on a field: one of the kinds, each with what it does. */
  import { goto } from '$app/navigation';
  import { ruleKinds } from '@rigid-rule/core/compile';
  import type { Field, RecordType } from '@rigid-rule/core/document';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { KindMark } from '$lib/features/rule-kinds';
  import { createRule } from './new-rule.ts';

  interface Props {
    draft: Draft;
    field: Field;
    recordType: RecordType;
  }
  const { draft, field, recordType }: Props = $props();
</script>

<div class="grid gap-px" role="group" aria-label="New rule on {field.name}">
  {#each ruleKinds as kind (kind.key)}
    <button type="button" class="kind" onclick={() => void goto(createRule(draft, kind, field, recordType))}>
      <span class="text-held"><KindMark kind={kind.key} /></span>
      <b>{kind.name}</b>
      <span class="text-soft">{kind.help}</span>
    </button>
  {/each}
</div>

<style>
  .kind {
    display: grid;
    grid-template-columns: 18px 92px minmax(0, 1fr);
    gap: 8px;
    align-items: baseline;
    padding: 5px 8px;
    text-align: left;
    cursor: pointer;
    border-bottom: 1px solid var(--line);
  }
  .kind:hover,
  .kind:focus-visible {
    background: var(--brass-wash);
  }
</style>
