<script lang="ts">
  /** A boundary of a band: a number, or a date that is kept as a day number. */
  import { DayInput } from '$lib/features/fields';
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
  <DayInput {label} value={String(keptBoundary(value, true))} commit={(day) => day && commit(day)} />
{:else}
  <NumberCell {value} {label} {commit} />
{/if}
