<script lang="ts">
  /** Takes something out of use, after a word on what becomes of those who name it. */
  import type { Snippet } from 'svelte';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    /** Within a sentence: `this field`. */
    what: string;
    name: string;
    /** What not to do it is called. */
    keep: string;
    retire: () => void;
    children: Snippet;
  }
  const { what, name, keep, retire, children }: Props = $props();
  let asked = $state(false);
</script>

<SheetRow label="Out of use">
  {#if !asked}<button type="button" class="word" onclick={() => (asked = true)}>Retire {what}</button>
  {:else}
    <div class="border-l-[3px] border-stop bg-stop-wash px-2.5 py-1.5">
      <p>{@render children()}</p>
      <p class="mt-1 flex gap-2">
        <button type="button" class="button" onclick={retire}>Retire {name}</button>
        <button type="button" class="button plain" onclick={() => (asked = false)}>{keep}</button>
      </p>
    </div>
  {/if}
</SheetRow>
