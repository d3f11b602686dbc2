<script lang="ts">
  /**
   * A middle between two sides that can be made wider, narrower and folded away, by pointer and by keys (WAI-ARIA,
   * window splitter). How they were left is kept in this browser.
   */
  import { onMount, type Snippet } from 'svelte';
  import { habits } from '$lib/browser-storage.ts';
  import {
    mostOf,
    readSides,
    takenBy,
    usualSides,
    withFold,
    withKey,
    withSize,
    type SideName,
    type Sides,
    type SidesLimits,
  } from './side-sizes.ts';

  interface Props {
    /** Names the screen, for what is kept of it. */
    screen: string;
    limits: SidesLimits;
    /** What the sides are called. */
    names: Readonly<Record<SideName, string>>;
    left: Snippet;
    middle: Snippet;
    right: Snippet;
  }
  const { screen, limits, names, left, middle, right }: Props = $props();

  // svelte-ignore state_referenced_locally
  const keptAs = `rigid-rule-sides-${screen}`;
  // svelte-ignore state_referenced_locally
  let sides: Sides = $state.raw(usualSides(limits));
  let drawn = $state<SideName>();
  let whole: HTMLElement;

  function set(next: Sides) {
    sides = next;
    habits.set(keptAs, JSON.stringify(next));
  }
  onMount(() => {
    sides = readSides(habits.get(keptAs), limits);
  });

  /** Folds a side away, or back. */
  export function fold(name: SideName): void {
    set(withFold(sides, name, limits));
  }

  /** Brings a side back where it is folded away. */
  export function show(name: SideName): void {
    if (sides[name].folded) fold(name);
  }

  function draw(e: PointerEvent, name: SideName) {
    if (drawn !== name) return;
    const box = whole.getBoundingClientRect();
    const from = name === 'left' ? e.clientX - box.left : box.right - e.clientX;
    set(withSize(sides, name, (100 * from) / box.width, limits));
  }
  function press(e: KeyboardEvent, name: SideName) {
    const next = e.ctrlKey || e.altKey || e.metaKey ? undefined : withKey(sides, name, e.key, limits);
    if (!next) return;
    e.preventDefault();
    e.stopPropagation();
    set(next);
  }
</script>

{#snippet edge(name: SideName)}
  <!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_no_noninteractive_tabindex -->
  <div
    class="edge"
    role="separator"
    tabindex="0"
    aria-orientation="vertical"
    aria-label="Width of {names[name]}"
    aria-valuenow={Math.round(takenBy(sides[name]))}
    aria-valuemin={0}
    aria-valuemax={Math.round(mostOf(sides, name, limits))}
    aria-controls="{screen}-{name}"
    data-drawn={drawn === name || undefined}
    onpointerdown={(e) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      e.currentTarget.focus();
      drawn = name;
    }}
    onmousedown={(e) => e.preventDefault()}
    onpointermove={(e) => draw(e, name)}
    onlostpointercapture={() => (drawn = undefined)}
    onkeydown={(e) => press(e, name)}
  ></div>
{/snippet}

<div
  bind:this={whole}
  class="sides"
  style:grid-template-columns="minmax(0,{takenBy(sides.left)}%) 1px minmax(0,1fr) 1px minmax(0,{takenBy(sides.right)}%)"
>
  <div id="{screen}-left" class="bg-paper" inert={sides.left.folded}>{@render left()}</div>
  {@render edge('left')}
  <div class="bg-sheet">{@render middle()}</div>
  {@render edge('right')}
  <div id="{screen}-right" class="bg-paper" inert={sides.right.folded}>{@render right()}</div>
</div>

<style>
  .sides {
    display: grid;
    height: 100%;
    grid-template-rows: minmax(0, 1fr);
  }
  .sides > div:not(.edge) {
    min-width: 0;
    overflow: hidden;
  }
  .edge {
    position: relative;
    background: var(--line);
    forced-color-adjust: none;
    cursor: col-resize;
    touch-action: none;
    user-select: none;
  }
  .edge::after {
    content: '';
    position: absolute;
    inset: 0 -4px;
    z-index: 5;
  }
  .edge:hover,
  .edge:focus-visible,
  .edge[data-drawn] {
    background: var(--brass);
    outline: 1px solid var(--brass);
  }
</style>
