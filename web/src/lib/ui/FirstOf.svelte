<script lang="ts" generics="Item">
  /** The beginning of a list, and the rest once it is asked for: nothing is left out in silence. */
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { Snippet } from 'svelte';

  interface Props {
    items: readonly Item[];
    /** Shown at first; where only one more would be left, that one too. */
    most: number;
    /** What the items are called, several of them. */
    what: string;
    /** Element that the button for the rest stands in, as the list wants it. */
    tag?: 'li' | 'p' | 'span';
    item: Snippet<[item: Item, index: number]>;
  }
  const { items, most, what, tag = 'p', item }: Props = $props();
  /** Shown at a time after that. */
  const step = 200;
  let asked = $state(0);
  const count = $derived(items.length <= most + asked + 1 ? items.length : most + asked);
  const shown = $derived(items.slice(0, count));
  const left = $derived(items.length - count);
</script>

{#each shown as one, i (i)}{@render item(one, i)}{/each}{#if left > 0}<svelte:element this={tag}
    ><button
      type="button"
      class="word"
      aria-label="{ownWriting(Math.min(step, left))} more {what}"
      onclick={() => (asked += step)}
      >{ownWriting(Math.min(step, left))} more{left > step ? ` of ${ownWriting(left)}` : ''}</button
    ></svelte:element
  >{/if}
