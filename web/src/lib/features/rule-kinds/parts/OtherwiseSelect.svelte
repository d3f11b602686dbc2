<script lang="ts">
  /** What is done where an outcome has no value of its own: clear, leave, set to something, stop with a message. */
  import type { Otherwise } from '@rigid-rule/core/compile';
  import type { Field } from '@rigid-rule/core/document';
  import { Visit } from './sheet-edits.ts';

  interface Props {
    what: Otherwise;
    label: string;
    /** The field that *set* gives a value to. */
    target: Field | undefined;
    /** It is said of several fields: no one value suits them all. */
    ofMany?: boolean;
    readonly: boolean;
    change: (what: Otherwise, group?: string) => void;
  }
  const { what, label, target, ofMany = false, readonly, change }: Props = $props();
  const visit = new Visit();

  const choices: readonly { key: Otherwise['do']; name: string }[] = [
    { key: 'clear', name: 'clear' },
    { key: 'leave', name: 'leave as it is' },
    { key: 'set', name: 'set to' },
    { key: 'stop', name: 'stop the save' },
  ];
  function choose(key: string) {
    if (key === 'set') change({ do: 'set', value: target?.options?.[0]?.key ?? '' });
    else if (key === 'stop') change({ do: 'stop', message: '' });
    else change({ do: key === 'leave' ? 'leave' : 'clear' });
  }
</script>

{#if readonly}
  {choices.find((c) => c.key === what.do)?.name}
  {#if what.do === 'set'}{target?.options?.find((o) => o.key === what.value)?.name ??
      what.value}{:else if what.do === 'stop'}“{what.message}”{/if}
{:else}
  <select class="editable" aria-label={label} value={what.do} onchange={(e) => choose(e.currentTarget.value)}>
    {#each choices.filter((c) => !ofMany || c.key !== 'set' || what.do === 'set') as choice (choice.key)}<option
        value={choice.key}>{choice.name}</option
      >{/each}
  </select>
  {#if what.do === 'set' && target?.options}
    <select
      class="editable"
      aria-label="{label}: {target.name}"
      value={what.value}
      onchange={(e) => change({ do: 'set', value: e.currentTarget.value })}
    >
      {#each target.options as option, nth (nth)}<option value={option.key}>{option.name}</option>{/each}
    </select>
  {:else if what.do === 'set'}
    <input
      class="editable w-40"
      aria-label="{label}: {target?.name ?? 'value'}"
      value={what.value}
      onfocus={visit.begin}
      oninput={(e) => change({ do: 'set', value: e.currentTarget.value }, visit.group)}
    />
  {:else if what.do === 'stop'}
    <input
      class="editable w-64"
      aria-label="{label}: message"
      placeholder="What people read"
      value={what.message}
      onfocus={visit.begin}
      oninput={(e) => change({ do: 'stop', message: e.currentTarget.value }, visit.group)}
    />
  {/if}
{/if}
