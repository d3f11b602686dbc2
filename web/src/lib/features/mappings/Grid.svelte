<script lang="ts">
  /**
   * The rows of a mapping table as a grid: cells are gone to by keys, typed over, copied, pasted, filled. Only the lines in
   * sight are drawn.
   */
  import type { TableColumn } from '@rigid-rule/core/document';
  import Icon from '$lib/ui/Icon.svelte';
  import ArrowDown from 'lucide/dist/esm/icons/arrow-down.mjs';
  import ArrowUp from 'lucide/dist/esm/icons/arrow-up.mjs';
  import { untrack } from 'svelte';
  import { Windowed } from '$lib/ui/windowed.svelte.ts';
  import { readClipboard } from './sheet-files.ts';
  import type { TableState } from './table.svelte.ts';
  import { distinct } from '$lib/ui/distinct.ts';

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
  let editing = $state<{ line: number; column: number; text: string }>();
  let filling = $state<number>();
  let dragging = false;

  $effect(() => (box ? windowed.watch(box) : undefined));
  $effect(() => {
    const count = grid.view.length;
    untrack(() => windowed.resize(count));
  });

  const template = $derived(
    `44px ${grid.columns.map((_, i) => (i < grid.table.keys.length ? 'minmax(130px, 1.1fr)' : 'minmax(120px, 1fr)')).join(' ')}${grid.coverage ? ' 64px' : ''}`,
  );
  const minWidth = $derived(44 + grid.columns.length * 124 + (grid.coverage ? 64 : 0));
  const isIn = (line: number, column: number) => {
    const c = grid.chosen;
    return line >= c.top && line <= c.bottom && column >= c.left && column <= c.right;
  };
  const cellId = (line: number, column: number) => `${id}-${line}-${column}`;
  const shown = (row: number, column: TableColumn) => {
    const cell = grid.cell(row, column);
    if (Array.isArray(cell)) return cell.join(', ');
    return grid.text(row, column);
  };
  const isKey = (column: number) => column < grid.table.keys.length;

  function go(line: number, column: number, extend = false) {
    grid.choose({ line, column }, extend);
    windowed.scrollTo(grid.head.line);
  }
  function begin(text?: string) {
    if (readonly || grid.view.length === 0) return;
    const { line, column } = grid.head;
    grid.choose({ line, column });
    editing = { line, column, text: text ?? grid.text(grid.view[line]!, grid.columns[column]!) };
  }
  function commit() {
    const typed = editing;
    editing = undefined;
    if (typed)
      grid.write([{ row: grid.view[typed.line]!, column: typed.column, text: typed.text }], 'type into a cell');
  }
  function leave(down: number, right: number) {
    const { line, column } = grid.head;
    commit();
    box?.focus({ preventScroll: true });
    if (down > 0 && line === grid.view.length - 1) {
      grid.addRow();
      windowed.scrollTo(grid.head.line);
    } else go(line + down, column + right);
  }
  const pageLines = () => Math.max(1, Math.floor((box?.clientHeight ?? 400) / lineHeight) - 2);

  const acts: Readonly<Record<string, (e: KeyboardEvent) => void>> = {
    ArrowDown: (e) => go(grid.head.line + 1, grid.head.column, e.shiftKey),
    ArrowUp: (e) => go(grid.head.line - 1, grid.head.column, e.shiftKey),
    ArrowRight: (e) => go(grid.head.line, grid.head.column + 1, e.shiftKey),
    ArrowLeft: (e) => go(grid.head.line, grid.head.column - 1, e.shiftKey),
    PageDown: (e) => go(grid.head.line + pageLines(), grid.head.column, e.shiftKey),
    PageUp: (e) => go(grid.head.line - pageLines(), grid.head.column, e.shiftKey),
    Home: (e) => go(e.ctrlKey ? 0 : grid.head.line, 0, e.shiftKey),
    End: (e) => go(e.ctrlKey ? grid.view.length - 1 : grid.head.line, grid.columns.length - 1, e.shiftKey),
    Enter: () => begin(),
    F2: () => begin(),
    Delete: () => !readonly && grid.clearChosen(),
    Backspace: () => !readonly && grid.clearChosen(),
  };
  function press(e: KeyboardEvent) {
    if (editing) return;
    const word = e.key.toLowerCase();
    if (e.ctrlKey || e.metaKey) {
      if (word === 'd' && !readonly) grid.fillDown();
      else if (word === 'a') grid.chooseAll();
      else if ((word === 'home' || word === 'end') && acts[e.key]) acts[e.key]!(e);
      else return;
    } else if (e.altKey && word === 'insert' && !readonly) grid.addRow();
    else if (e.altKey && word === 'delete' && !readonly) grid.removeRows();
    else if (acts[e.key]) acts[e.key]!(e);
    else if (e.key.length === 1 && !e.altKey) begin(e.key);
    else return;
    e.preventDefault();
    e.stopPropagation();
  }
  function inEditor(e: KeyboardEvent) {
    e.stopPropagation();
    if (e.key === 'Escape') {
      editing = undefined;
      box?.focus({ preventScroll: true });
    } else if (e.key === 'Enter') leave(e.shiftKey ? -1 : 1, 0);
    else if (e.key === 'Tab') leave(0, e.shiftKey ? -1 : 1);
    else return;
    e.preventDefault();
  }
  function paste(e: ClipboardEvent) {
    if (readonly || editing) return;
    e.preventDefault();
    const read = readClipboard(e.clipboardData?.getData('text/plain') ?? '');
    if ('problems' in read) grid.problems = read.problems;
    else grid.paste(read.lines);
  }
  function copy(e: ClipboardEvent, cut = false) {
    if (editing) return;
    e.preventDefault();
    e.clipboardData?.setData('text/plain', grid.copied());
    if (cut && !readonly) grid.clearChosen();
  }
  /** The cell that an event happened on. */
  function placeOf(e: Event): { line: number; column: number } | undefined {
    const { line, column } = (e.target as HTMLElement).closest<HTMLElement>('[data-line]')?.dataset ?? {};
    return line === undefined ? undefined : { line: Number(line), column: Number(column) };
  }
  function point(e: PointerEvent) {
    const place = placeOf(e);
    if (e.button !== 0 || !place || (e.target as HTMLElement).matches('input')) return;
    if ((e.target as HTMLElement).matches('.handle')) {
      e.preventDefault();
      filling = grid.chosen.bottom;
      return;
    }
    if (editing) commit();
    grid.choose(place, e.shiftKey);
    dragging = true;
  }
  function over(e: PointerEvent) {
    const place = placeOf(e);
    if (!place) return;
    if (filling !== undefined) filling = place.line;
    else if (dragging) grid.choose(place, true);
  }
  const isFilled = (line: number, column: number) =>
    filling !== undefined && line > grid.chosen.bottom && line <= filling && isIn(grid.chosen.top, column);
  function release() {
    if (filling !== undefined) grid.fillTo(filling);
    filling = undefined;
    dragging = false;
  }
  function sortBy(column: string) {
    const now = grid.sort;
    grid.sort =
      now?.column !== column
        ? { column, descending: false }
        : now.descending
          ? undefined
          : { column, descending: true };
  }
  const focusNow = (node: HTMLInputElement) => {
    node.focus();
    node.setSelectionRange(node.value.length, node.value.length);
  };
  const said = $derived(
    grid.wrong.get(`${grid.view[grid.head.line]}/${grid.columns[grid.head.column]?.key}`) ??
      grid.named.get(grid.view[grid.head.line] ?? -1)?.sentence,
  );
</script>

<svelte:window onpointerup={release} />

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
  onkeydown={press}
  onpaste={paste}
  oncopy={(e) => copy(e)}
  oncut={(e) => copy(e, true)}
>
  <div role="row" aria-rowindex={1} class="line head" style:min-width="{minWidth}px">
    <span role="columnheader" class="number">#</span>
    {#each grid.columns as column, i (columnKeys[i])}
      <span
        role="columnheader"
        class={[isKey(i) && 'key-head']}
        aria-sort={grid.sort?.column === column.key ? (grid.sort.descending ? 'descending' : 'ascending') : 'none'}
      >
        <button type="button" tabindex="-1" onclick={() => sortBy(column.key)}
          >{column.name}{#if grid.sort?.column === column.key}{#if grid.sort.descending}<Icon
                of={ArrowDown}
                size={11}
              />{:else}<Icon of={ArrowUp} size={11} />{/if}{/if}</button
        >
      </span>
    {/each}
    {#if grid.coverage}<span role="columnheader" class="number"
        ><button type="button" tabindex="-1" onclick={() => sortBy('seen')}>Seen</button></span
      >{/if}
  </div>
  <div
    role="rowgroup"
    class="relative"
    style:height="{windowed.height}px"
    style:min-width="{minWidth}px"
    onpointerdown={point}
    onpointerover={over}
    ondblclick={() => begin()}
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
            {@const inside = isIn(item.index, c)}
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
                (inside || isFilled(item.index, c)) && 'in',
                grid.head.line === item.index && grid.head.column === c && 'at',
                typeof cell === 'number' && 'text-right',
              ]}
            >
              {#if editing?.line === item.index && editing.column === c}
                <input
                  class="typing"
                  aria-label="{column.name} of row {row + 1}"
                  list={optionsOf(column) ? `${id}-options-${column.key}` : undefined}
                  bind:value={editing.text}
                  use:focusNow
                  onkeydown={inEditor}
                  onblur={commit}
                  onpaste={(e) => e.stopPropagation()}
                />
              {:else}
                <span class={['truncate', problem && 'wrong', cell === null && 'quiet']}
                  >{cell === null ? (isKey(c) ? 'any' : '') : shown(row, column)}</span
                >
                {#if !readonly && filling === undefined && grid.chosen.bottom === item.index && grid.chosen.right === c}
                  <i class="handle" title="drag to fill; Ctrl D fills down"></i>
                {/if}
              {/if}
            </span>
          {/each}
          {#if grid.coverage}<span role="gridcell" class="number">{grid.coverage.hits[row] || '–'}</span>{/if}
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
  .line {
    display: grid;
    grid-template-columns: var(--columns);
    height: 26px;
    width: 100%;
    border-bottom: 1px solid var(--line);
  }
  [role='rowgroup'] .line {
    position: absolute;
    top: 0;
    left: 0;
  }
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
  .line > .number button {
    justify-content: flex-end;
  }
  .key-cell {
    font-weight: 650;
  }
  .named > span {
    background: var(--stop-wash);
  }
  .named > .number {
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
