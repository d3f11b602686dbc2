<script lang="ts">
  /** Says how the numbers and dates of a file are written, where it makes a difference. */
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { Written } from '$lib/written-lines.ts';

  interface Props {
    value: Written;
    choose: (written: Written) => void;
  }
  const { value, choose }: Props = $props();
  const id = $props.id();
</script>

<p class="mt-2 flex flex-wrap items-baseline gap-x-2">
  <label class="text-soft" for={id}>Numbers and dates in the file are written</label>
  <select {id} class="editable" {value} onchange={(e) => choose(e.currentTarget.value as Written)}>
    <option value="neutral">1234.5 and 2026-05-03</option>
    <option value="own">{ownWriting(1234.5)} and {ownWriting('2026-05-03')}</option>
  </select>
</p>
