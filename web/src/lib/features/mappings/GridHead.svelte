<script lang="ts">
  /** The names of a grid's columns, by which its rows are sorted. Its lines are those of the grid around it. */
  import ArrowDown from 'lucide/dist/esm/icons/arrow-down.mjs';
  import ArrowUp from 'lucide/dist/esm/icons/arrow-up.mjs';
  import Icon from '$lib/ui/Icon.svelte';
  import type { TableState } from './table.svelte.ts';

  interface Props {
    state: TableState;
    columnKeys: readonly string[];
    /** Pixels. */
    minWidth: number;
  }
  const { state: grid, columnKeys, minWidth }: Props = $props();
  const isKey = (column: number) => column < grid.table.keys.length;
</script>

<div role="row" aria-rowindex={1} class="line head" style:min-width="{minWidth}px">
  <span role="columnheader" class="number">#</span>
  {#each grid.columns as column, i (columnKeys[i])}
    <span
      role="columnheader"
      class={[isKey(i) && 'key-head']}
      aria-sort={grid.sort?.column === column.key ? (grid.sort.descending ? 'descending' : 'ascending') : 'none'}
    >
      <button type="button" tabindex="-1" onclick={() => grid.sortBy(column.key)}
        >{column.name}{#if grid.sort?.column === column.key}{#if grid.sort.descending}<Icon
              of={ArrowDown}
              size={11}
            />{:else}<Icon of={ArrowUp} size={11} />{/if}{/if}</button
      >
    </span>
  {/each}
  {#if grid.coverage}<span role="columnheader" class="number"
      ><button type="button" tabindex="-1" onclick={() => grid.sortBy('seen')}>Seen</button></span
    >{/if}
</div>

<style>
  .head {
    position: sticky;
    top: 0;
    z-index: 3;
    background: var(--sheet);
    color: var(--faint);
    font-size: 12.5px;
  }
  .head button {
    display: flex;
    gap: 4px;
    align-items: center;
    width: 100%;
    height: 100%;
    cursor: pointer;
  }
  .key-head {
    box-shadow: inset 0 -2px var(--ink);
  }
  .number button {
    justify-content: flex-end;
  }
</style>
