<script lang="ts">
  /**
   * The rows of a mapping table as a grid: cells are gone to by keys, typed over, copied, pasted, filled. Only the lines in
   * sight are drawn.
   */
  import type { TableColumn } from '@rigid-rule/core/document';
  import { untrack } from 'svelte';
  import { clipboard } from '$lib/ui/clipboard.ts';
  import { Windowed } from '$lib/ui/windowed.svelte.ts';
  import GridHead from './GridHead.svelte';
  import { GridHand } from './grid-hand.svelte.ts';
  import type { TableState } from './table.svelte.ts';
  import { distinct } from '$lib/ui/distinct.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    state: TableState;
    readonly: boolean;
    /** Options that a column holds, offered while a cell is typed. */
    optionsOf: (column: TableColumn) => readonly string[] | undefined;
  }
  const { state: grid, readonly, optionsOf }: Props = $props();
  const id = $props.id();
  const columnKeys = $derived(distinct(grid.columns.map((c) => c.key)));

  const lineHeight = 26;
  const windowed = new Windowed(lineHeight);
  let box: HTMLDivElement | undefined = $state();
  const hand = new GridHand({
    grid: () => grid,
    readonly: () => readonly,
    scrollTo: (line) => windowed.scrollTo(line),
    pageLines: () => Math.max(1, Math.floor((box?.clientHeight ?? 400) / lineHeight) - 2),
    focus: () => box?.focus({ preventScroll: true }),
  });

  $effect(() => (box ? windowed.watch(box) : undefined));
  $effect(() => {
    const count = grid.view.length;
    untrack(() => windowed.resize(count));
  });

  const template = $derived(
    `44px ${grid.columns.map((_, i) => (i < grid.table.keys.length ? 'minmax(130px, 1.1fr)' : 'minmax(120px, 1fr)')).join(' ')}${grid.coverage ? ' 64px' : ''}`,
  );
  const minWidth = $derived(44 + grid.columns.length * 124 + (grid.coverage ? 64 : 0));
  const cellId = (line: number, column: number) => `${id}-${line}-${column}`;
  const shown = (row: number, column: TableColumn) => {
    const cell = grid.cell(row, column);
    if (Array.isArray(cell)) return cell.join(', ');
    return grid.text(row, column);
  };
  const isKey = (column: number) => column < grid.table.keys.length;

  const focusNow = (node: HTMLInputElement) => {
    node.focus();
    node.setSelectionRange(node.value.length, node.value.length);
  };
  const said = $derived(
    grid.wrong.get(`${grid.view[grid.head.line]}/${grid.columns[grid.head.column]?.key}`) ??
      grid.named.get(grid.view[grid.head.line] ?? -1)?.sentence,
  );
</script>

<svelte:window onpointerup={() => hand.release()} />

<!-- The grid holds the focus; the chosen cell is told by aria-activedescendant. -->
<div
  bind:this={box}
  class="grid-box"
  role="grid"
  tabindex="0"
  aria-label="Rows of {grid.table.name}"
  aria-rowcount={grid.view.length + 1}
  aria-colcount={grid.columns.length + 1}
  aria-multiselectable="true"
  aria-activedescendant={grid.view.length > 0 ? cellId(grid.head.line, grid.head.column) : undefined}
  style:--columns={template}
  onkeydown={(e) => hand.press(e)}
  use:clipboard={{
    paste: (e) => hand.paste(e),
    copy: (e) => hand.copy(e),
    cut: (e) => hand.copy(e, true),
  }}
>
  <GridHead state={grid} {columnKeys} {minWidth} />
  <div
    role="rowgroup"
    class="relative"
    style:height="{windowed.height}px"
    style:min-width="{minWidth}px"
    onpointerdown={(e) => hand.point(e)}
    onpointerover={(e) => hand.over(e)}
    ondblclick={() => hand.begin()}
  >
    <!-- By place in the window: while scrolling, lines are filled anew rather than made anew. -->
    {#each windowed.items as item, place (place)}
      {@const row = grid.view[item.index]}
      {#if row !== undefined}
        {@const finding = grid.named.get(row)}
        <div
          role="row"
          aria-rowindex={item.index + 2}
          class={['line', finding && 'named']}
          style:transform="translateY({item.start}px)"
        >
          <span role="rowheader" class="number" title={finding?.sentence}>{row + 1}</span>
          {#each grid.columns as column, c (columnKeys[c])}
            {@const problem = grid.wrong.get(`${row}/${column.key}`)}
            {@const cell = grid.cell(row, column)}
            {@const inside = hand.isIn(item.index, c)}
            <span
              role="gridcell"
              tabindex="-1"
              id={cellId(item.index, c)}
              data-line={item.index}
              data-column={c}
              aria-selected={inside}
              aria-invalid={problem ? 'true' : undefined}
              title={problem}
              class={[
                isKey(c) && 'key-cell',
                (inside || hand.isFilled(item.index, c)) && 'in',
                grid.head.line === item.index && grid.head.column === c && 'at',
                typeof cell === 'number' && 'text-right',
              ]}
            >
              {#if hand.editing?.line === item.index && hand.editing.column === c}
                <input
                  class="typing"
                  aria-label="{column.name} of row {row + 1}"
                  list={optionsOf(column) ? `${id}-options-${column.key}` : undefined}
                  bind:value={hand.editing.text}
                  use:focusNow
                  onkeydown={(e) => hand.inEditor(e)}
                  onblur={() => hand.commit()}
                />
              {:else}
                <span class={['truncate', problem && 'wrong', cell === null && 'quiet']}
                  >{cell === null ? (isKey(c) ? 'any' : '') : shown(row, column)}</span
                >
                {#if !readonly && !hand.isFilling && grid.chosen.bottom === item.index && grid.chosen.right === c}
                  <i class="handle" title="drag to fill; Ctrl D fills down"></i>
                {/if}
              {/if}
            </span>
          {/each}
          {#if grid.coverage}<span role="gridcell" class="number"
              >{grid.coverage.hits[row] ? ownWriting(grid.coverage.hits[row]) : '–'}</span
            >{/if}
        </div>
      {/if}
    {/each}
  </div>
  {#if grid.view.length === 0}
    <p class="p-4 text-soft">
      {#if grid.filter}No row holds “{grid.filter}”.{:else if readonly}There are no rows yet.{:else}No rows yet. Paste
        them from a spreadsheet here (the first line may say the columns), or add a row.{/if}
    </p>
  {/if}
</div>
{#if said}<p class="border-t border-line bg-stop-wash px-3 py-1 text-small text-stop" role="status">{said}</p>{/if}
{#each grid.columns as column, nth (nth)}
  {@const options = optionsOf(column)}
  {#if options}<datalist id="{id}-options-{column.key}">
      {#each options as o, nth (nth)}<option value={o}></option>{/each}
    </datalist>{/if}
{/each}

<style>
  .grid-box {
    flex: 1;
    min-height: 0;
    overflow: auto;
    border-top: 1px solid var(--line);
    border-bottom: 1px solid var(--line);
    user-select: none;
  }
  /* Its head has the same lines. */
  .grid-box :global {
    .line {
      display: grid;
      grid-template-columns: var(--columns);
      height: 26px;
      width: 100%;
      border-bottom: 1px solid var(--line);
    }
    .line > span {
      position: relative;
      display: block;
      padding: 2px 9px;
      line-height: 21px;
      border-right: 1px solid var(--line);
      min-width: 0;
      white-space: nowrap;
    }
    .line > .number {
      color: var(--faint);
      text-align: right;
      font-size: 12.5px;
    }
  }
  [role='rowgroup'] .line {
    position: absolute;
    top: 0;
    left: 0;
  }
  .key-cell {
    font-weight: 650;
  }
  .named > span {
    background: var(--stop-wash);
  }
  .line.named > .number {
    color: var(--stop);
  }
  .line > .in {
    background: var(--brass-wash);
  }
  .grid-box:focus-within .at {
    outline: 2px solid var(--brass);
    outline-offset: -2px;
    z-index: 1;
  }
  .truncate {
    display: block;
  }
  .wrong {
    color: var(--stop);
    text-decoration: underline wavy var(--stop) 1px;
    text-underline-offset: 3px;
  }
  .typing {
    position: absolute;
    inset: 0;
    width: 100%;
    padding: 0 8px;
    background: var(--field);
    outline: 2px solid var(--brass);
    outline-offset: -2px;
  }
  .handle {
    position: absolute;
    right: -4px;
    bottom: -4px;
    z-index: 2;
    width: 8px;
    height: 8px;
    background: var(--brass);
    border: 1px solid var(--sheet);
    cursor: crosshair;
  }
</style>
