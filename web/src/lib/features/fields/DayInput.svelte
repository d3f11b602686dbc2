<script lang="ts">
  /** A day, typed as the organisation writes it or as ISO 8601, or chosen from the calendar. */
  import { ownForm } from '$lib/organisation.svelte.ts';
  import type { Reader } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { readDay } from './readers.ts';
  import DayPicker from './DayPicker.svelte';

  interface Props {
    /** ISO 8601, empty for none. */
    value: string;
    label: string;
    disabled?: boolean;
    /** A day has to be there. */
    required?: boolean;
    /** Says ISO 8601, an empty text for none. */
    commit: (day: string) => void;
  }
  const { value, label, disabled = false, required = false, commit }: Props = $props();
  const read: Reader<string> = (text) => (required && text.trim() === '' ? { problem: 'Enter a day' } : readDay(text));
</script>

<span class="inline-flex items-center gap-1.5">
  <TypedInput class="w-24" {label} {disabled} {value} show={(day) => ownForm().day(day)} {read} {commit} />
  {#if !disabled}<DayPicker {label} day={value} pick={commit} />{/if}
</span>
