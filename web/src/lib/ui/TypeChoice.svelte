<script lang="ts">
  /** One of many record types, to go to. */
  import { goto } from '$app/navigation';

  interface Props {
    types: readonly { readonly key: string; readonly name: string }[];
    current: string | undefined;
    addressOf: (key: string) => string;
  }
  const { types, current, addressOf }: Props = $props();
</script>

<select
  class="editable truncate font-[650]"
  aria-label="Record type"
  value={current ?? ''}
  onchange={(e) => void goto(addressOf(e.currentTarget.value))}
>
  {#if !types.some((t) => t.key === current)}<option value="" disabled>choose a record type</option>{/if}
  {#each types as { key, name } (key)}<option value={key}>{name}</option>{/each}
</select>
