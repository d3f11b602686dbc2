<script lang="ts">
  /** A boundary of a band: a number, or a date that is kept as a day number. */
  import { DayInput, NumberInput } from '$lib/features/fields';
  import { keptBoundary } from './categorize-edits.ts';

  interface Props {
    value: number;
    dates: boolean;
    label: string;
    /** A date is given as ISO 8601 text. */
    commit: (value: number | string) => void;
    /** Takes the boundary away, where the band may be open. */
    open?: () => void;
  }
  const { value, dates, label, commit, open }: Props = $props();
</script>

{#if dates}
  <DayInput
    {label}
    required={!open}
    value={String(keptBoundary(value, true))}
    commit={(day) => (day ? commit(day) : open?.())}
  />
{:else}
  <NumberInput class="text-left" fits {label} {value} {commit} {...open ? { clear: open } : {}} />
{/if}
