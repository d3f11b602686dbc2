<script lang="ts">
  /** When a rule acts, row by row: what wakes it, the moments, where it comes in, how often. */
  import { entryPointsOf, type CompiledRule } from '@rigid-rule/core/compile';
  import { moments, pointer, repeats, type Operation, type RecordType, type Rule } from '@rigid-rule/core/document';
  import FieldChips from '$lib/features/rule-kinds/parts/FieldChips.svelte';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    rule: Rule;
    compiled: CompiledRule;
    recordType: RecordType;
    /** Names of what wakes it. */
    wakes: readonly string[];
    /** Rows that are as usual, and said on one line elsewhere. */
    folded: Readonly<Record<'wakes' | 'moments' | 'entries' | 'repeat', boolean>>;
    readonly: boolean;
    /** Unfolds all rows, for good. */
    open: () => void;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { rule, compiled, recordType, wakes, folded, readonly, open, edit }: Props = $props();
  const entryPoints = $derived(entryPointsOf(recordType));

  const set = (member: string, value: unknown, label: string) =>
    edit([{ op: 'add', path: pointer(member), value }], label);
  function toggle(member: 'moments' | 'entryPoints', key: string, on: boolean) {
    open();
    const all: readonly string[] = member === 'moments' ? moments.map((m) => m.key) : entryPoints.map((e) => e.key);
    const now: readonly string[] = rule[member];
    set(
      member,
      all.filter((k) => (k === key ? on : now.includes(k))),
      member === 'moments' ? 'change when it acts' : 'change where it comes in',
    );
  }
  /** A moment that no chosen entry point has, or the other way round, can never come about. */
  const possible = (moment: string) =>
    moment === 'on request' ||
    entryPoints.some((e) => rule.entryPoints.includes(e.key) && (e.moments as readonly string[]).includes(moment));
</script>

{#if !folded.wakes}<SheetRow label="Wakes on">
    {#if rule.wakesOn}
      <FieldChips
        fields={recordType.fields}
        chosen={rule.wakesOn}
        label="Wakes on"
        none="nothing: it never wakes by itself"
        {readonly}
        change={(keys) => set('wakesOn', keys, 'change what wakes it')}
      />
      <span class="quiet ml-2">chosen by hand</span>
      {#if !readonly}<button
          type="button"
          class="word ml-2"
          onclick={() => edit([{ op: 'remove', path: '/wakesOn' }], 'let it find what wakes it')}
          >find it by itself</button
        >{/if}
    {:else}
      {#if wakes.length > 0}<span class="font-[650]">{wakes.join(', ')}</span>{:else}<span class="quiet"
          >nothing it reads: it acts on new records</span
        >{/if}
      <span class="quiet ml-2">found from what the rule reads</span>
      {#if !readonly}<button
          type="button"
          class="word ml-2"
          onclick={() =>
            set(
              'wakesOn',
              compiled.wakes.map((slot) => recordType.fields[slot]!.key),
              'choose what wakes it',
            )}>choose</button
        >{/if}
    {/if}
  </SheetRow>{/if}
{#if !folded.moments}<SheetRow label="When">
    {#each moments as moment (moment.key)}
      {@const can = possible(moment.key)}
      <label class={['option', (!can || !rule.moments.includes(moment.key)) && 'text-faint']} title={moment.help}>
        <input
          type="checkbox"
          class="check"
          checked={rule.moments.includes(moment.key)}
          disabled={readonly || !can}
          onchange={(e) => toggle('moments', moment.key, e.currentTarget.checked)}
        />
        {moment.name}
      </label>
    {/each}
  </SheetRow>{/if}
{#if !folded.entries}<SheetRow label="Came in through">
    {#each entryPoints as entry, nth (nth)}
      <label class={['option', !rule.entryPoints.includes(entry.key) && 'text-faint']} title={entry.help}>
        <input
          type="checkbox"
          class="check"
          checked={rule.entryPoints.includes(entry.key)}
          disabled={readonly}
          onchange={(e) => toggle('entryPoints', entry.key, e.currentTarget.checked)}
        />
        {entry.name}
      </label>
    {/each}
  </SheetRow>{/if}
{#if !folded.repeat}<SheetRow label="Repeats">
    {#if readonly}{repeats.find((r) => r.key === rule.repeat)?.name}{:else}
      <select
        class="editable"
        aria-label="How often it acts"
        value={rule.repeat}
        onchange={(e) => {
          open();
          set('repeat', e.currentTarget.value, 'change how often it acts');
        }}
      >
        {#each repeats as r (r.key)}<option value={r.key}>{r.name}</option>{/each}
      </select>
    {/if}
    <span class="quiet ml-2"
      >{compiled.standing
        ? 'standing: follows from present values alone'
        : `an event rule: ${compiled.eventBecause}`}</span
    >
  </SheetRow>{/if}

<style>
  .option {
    min-height: 24px;
    display: inline-flex;
    gap: 5px;
    align-items: center;
    margin-right: 13px;
    cursor: pointer;
  }
</style>
