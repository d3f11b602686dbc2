<script lang="ts">
  /** An icon beside words that say the same, drawn from the lines that its package has of it. */
  import type Lines from 'lucide/dist/esm/icons/*.mjs';

  interface Props {
    of: typeof Lines;
    /** Pixels. */
    size: number;
    class?: string;
  }
  const { of, size, class: more = '' }: Props = $props();
</script>

<svg
  width={size}
  height={size}
  viewBox="0 0 24 24"
  fill="none"
  stroke="currentColor"
  stroke-width="2"
  stroke-linecap="round"
  stroke-linejoin="round"
  aria-hidden="true"
  class={more}
>
  {#each of as [tag, a], i (i)}
    {#if tag === 'path'}<path d={a.d} />{:else if tag === 'circle'}<circle cx={a.cx} cy={a.cy} r={a.r} />{:else}<rect
        x={a.x}
        y={a.y}
        width={a.width}
        height={a.height}
        rx={a.rx}
      />{/if}
  {/each}
</svg>
