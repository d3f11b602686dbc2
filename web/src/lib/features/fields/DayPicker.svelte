<script lang="ts">
  /** The calendar beside a date that can also be typed. */
  import Icon from '$lib/ui/Icon.svelte';
  import Calendar from 'lucide/dist/esm/icons/calendar.mjs';

  interface Props {
    /** Name of what the day is for. */
    label: string;
    /** ISO 8601, empty for none. */
    day: string;
    pick: (day: string) => void;
  }
  const { label, day, pick }: Props = $props();
  let native: HTMLInputElement | undefined = $state();
</script>

<span class="relative inline-flex shrink-0">
  <button
    type="button"
    class="cursor-pointer text-soft hover:text-brass"
    aria-label="Choose a day for {label}"
    onclick={() => native?.showPicker()}><Icon of={Calendar} size={14} /></button
  >
  <input
    type="date"
    class="pointer-events-none absolute inset-0 opacity-0"
    tabindex="-1"
    aria-hidden="true"
    value={/^\d{4}-\d\d-\d\d$/.test(day) ? day : ''}
    bind:this={native}
    onchange={(e) => e.currentTarget.value && pick(e.currentTarget.value)}
  />
</span>
