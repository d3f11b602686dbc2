<script lang="ts">
  /** Chooses a field; those that do not suit are left out, save the one that is chosen. */
  import type { Field } from '@rigid-rule/core/document';

  interface Props {
    fields: readonly Field[];
    value: string;
    label: string;
    /** What is said where nothing is chosen; choosing it gives an empty text. */
    none?: string;
    suits?: (field: Field) => boolean;
    readonly?: boolean;
    choose: (key: string) => void;
  }
  const { fields, value, label, none, suits = () => true, readonly = false, choose }: Props = $props();
  const offered = $derived(fields.filter((f) => suits(f) || f.key === value));
</script>

{#if readonly}
  <span class="font-[650]">{fields.find((f) => f.key === value)?.name ?? (value || none)}</span>
{:else}
  <select class="editable" aria-label={label} {value} onchange={(e) => choose(e.currentTarget.value)}>
    {#if none !== undefined}<option value="">{none}</option>{/if}
    {#if value && !offered.some((f) => f.key === value)}<option {value}>{value}, not there</option>{/if}
    {#each offered as f (f.key)}<option value={f.key}>{f.name}</option>{/each}
  </select>
{/if}
