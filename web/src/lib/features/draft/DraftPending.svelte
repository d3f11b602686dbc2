<script lang="ts">
  /** What stands in the place of an area until the draft is there. */
  interface Props {
    /** Its name. */
    area: string;
    /** Reads the draft anew; undefined while it is being read. */
    again?: () => void;
  }
  const { area, again }: Props = $props();
</script>

<svelte:head><title>{area} · Rigid Rule</title></svelte:head>
<div class="mx-auto mt-[14vh] max-w-[520px] px-6">
  <h1 class="mb-2">{area}</h1>
  {#if again}
    <p class="mb-4" role="alert">The draft could not be read. Nothing is lost: it stands on the server as it was.</p>
    <button type="button" class="button" onclick={again}>Try again</button>
  {:else}<p class="text-soft" role="status">The draft is being read …</p>{/if}
</div>
