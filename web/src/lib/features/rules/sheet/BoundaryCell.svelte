<script lang="ts">
  /** A boundary of a band: a number, or a date that is kept as a day number. */
  import { keptBoundary } from './categorize-edits.ts';
  import NumberCell from './NumberCell.svelte';

  interface Props {
    value: number;
    dates: boolean;
    label: string;
    /** A date is given as ISO 8601 text. */
    commit: (value: number | string) => void;
  }
  const { value, dates, label, commit }: Props = $props();
</script>

{#if dates}
  <input
    type="date"
    class="editable"
    aria-label={label}
    value={keptBoundary(value, true)}
    onchange={(e) => e.currentTarget.value && commit(e.currentTarget.value)}
  />
{:else}
  <NumberCell {value} {label} {commit} />
{/if}
