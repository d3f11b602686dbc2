<script lang="ts">
  /** A day, typed as the organisation writes it or as ISO 8601, or chosen from the calendar. */
  import { ownForm } from '$lib/organisation.svelte.ts';
  import DayPicker from './DayPicker.svelte';

  interface Props {
    /** ISO 8601, empty for none. */
    value: string;
    label: string;
    disabled?: boolean;
    /** Says ISO 8601, an empty text for none; what is no day is not said. */
    commit: (day: string) => void;
  }
  const { value, label, disabled = false, commit }: Props = $props();

  function say(input: HTMLInputElement) {
    const day = ownForm().typedDay(input.value);
    const known = day === '' || /^\d{4}-\d\d-\d\d$/.test(day);
    input.setCustomValidity(known ? '' : 'Not a day such as 2026-05-03.');
    if (!known) return void input.reportValidity();
    input.value = ownForm().day(day);
    if (day !== value) commit(day);
  }
</script>

<span class="inline-flex items-center gap-1.5">
  <input
    class="editable w-24"
    aria-label={label}
    autocomplete="off"
    {disabled}
    value={ownForm().day(value)}
    onchange={(e) => say(e.currentTarget)}
  />
  {#if !disabled}<DayPicker {label} day={value} pick={commit} />{/if}
</span>
