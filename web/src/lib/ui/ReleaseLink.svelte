<script lang="ts">
  /** A release where it is named within a sentence: it leads to what the release changed. */
  import { releaseAddress } from '$lib/addresses.ts';

  const { number }: { number: number } = $props();
</script>

<a class="underline decoration-1 underline-offset-2 hover:text-brass" href={releaseAddress(number)}>release {number}</a>
