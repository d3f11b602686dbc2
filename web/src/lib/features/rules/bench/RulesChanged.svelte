<script lang="ts">
  /** What rules wrote on the record, each with its reason. */
  import type { Field, Rule, Stored } from '@rigid-rule/core/document';
  import type { Settlement } from '@rigid-rule/core/settle';
  import type { Titles } from '$lib/features/fields';
  import { KindMark } from '$lib/features/rule-kinds';
  import { Why } from '$lib/features/trace';

  interface Props {
    changes: Settlement['changes'];
    settlement: Settlement;
    fields: readonly Field[];
    rules: ReadonlyMap<string, Rule>;
    titles: Titles;
    /** Names of the fields that were tried. */
    changedNames: readonly string[];
    shown: (field: Field | undefined, value: Stored) => string;
    /** Address that those of rules begin with. */
    link: string;
    /** Lets a field be tried. */
    open: (field: string) => void;
  }
  const { changes, settlement, fields, rules, titles, changedNames, shown, link, open }: Props = $props();
  let asked = $state<string>();
  const byKey = (key: string) => fields.find((f) => f.key === key);
  const entryOf = (rule: string) => settlement.trace.find((t) => t.rule === rule);
</script>

<h3 class="bench-head">Rules changed</h3>
{#each changes as change (change.field)}
  {@const f = byKey(change.field)}
  {@const rule = change.author.by === 'rule' ? rules.get(change.author.rule) : undefined}
  {@const isOpen = asked === change.field}
  <div class="bench-line" data-written={change.field}>
    <span class="text-soft">{f?.name}</span>
    <span
      ><span class="was mr-2">{shown(f, change.from)}</span>{#key change.to}<button
          type="button"
          class="written arrive cursor-pointer text-left"
          title="Change {f?.name}"
          onclick={() => open(change.field)}>{shown(f, change.to)}</button
        >{/key}</span
    >
    <button
      type="button"
      class="flex cursor-pointer items-center gap-1 text-[12px] text-held"
      aria-expanded={isOpen}
      aria-label="Why is {f?.name} {shown(f, change.to)}?"
      onclick={() => (asked = isOpen ? undefined : change.field)}
    >
      {#if rule}<KindMark kind={rule.kind} />{/if}why?
    </button>
  </div>
  {#if isOpen && f && rule && entryOf(rule.key)}
    <Why
      field={f}
      {fields}
      trace={settlement.trace}
      {rules}
      entry={entryOf(rule.key)!}
      changed={changedNames}
      {titles}
      {link}
    />
  {/if}
{/each}

<style>
  .arrive {
    animation: arrive 150ms ease-out;
  }
  @keyframes arrive {
    from {
      background: var(--held-wash);
      transform: translateX(-6px);
    }
  }
</style>
