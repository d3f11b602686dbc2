<script lang="ts">
  /** Fields as ruled lines and rules between them, in the order in which they run. */
  import { goto } from '$app/navigation';
  import { KindMark } from '$lib/features/rule-kinds';
  import type { Graph, RuleNode } from './graph.ts';
  import { layOut, type Placed } from './layout.ts';
  import type { MapLight } from './light.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    graph: Graph;
    light: MapLight;
    /** What a rule reads and writes, in words. */
    dealings: (rule: RuleNode) => string;
    /** Somebody points at a node, or at none. */
    point: (id: string | undefined) => void;
  }
  const { graph, light, dealings, point }: Props = $props();
  const drawing = $derived(layOut(graph));

  /** Arrow keys go along the lines, and up and down among what stands in one column. */
  function walk(e: KeyboardEvent, from: Placed) {
    const id = from.node.id;
    const near = (ids: readonly string[]) =>
      drawing.placed
        .filter((p) => ids.includes(p.node.id))
        .sort((a, b) => Math.abs(a.y - from.y) - Math.abs(b.y - from.y))[0];
    const column = drawing.placed.filter((p) => Math.abs(p.x - from.x) < 60).sort((a, b) => a.y - b.y);
    const i = column.indexOf(from);
    const to =
      e.key === 'ArrowRight'
        ? near(graph.edges.filter((x) => x.from === id).map((x) => x.to))
        : e.key === 'ArrowLeft'
          ? near(graph.edges.filter((x) => x.to === id).map((x) => x.from))
          : e.key === 'ArrowDown'
            ? column[i + 1]
            : e.key === 'ArrowUp'
              ? column[i - 1]
              : undefined;
    if (!to) return;
    e.preventDefault();
    document.getElementById(to.node.id)?.focus();
  }
</script>

<svg width={drawing.width} height={drawing.height} class="map">
  {#each drawing.rings as ring, i (i)}
    <rect {...{ x: ring.x, y: ring.y, width: ring.width, height: ring.height }} class="ring" />
    <text x={ring.x + 10} y={ring.y + 14} class="ring-name">a circle of {ownWriting(ring.count)} rules</text>
  {/each}
  {#each drawing.drawn as { edge, path }, nth (nth)}
    <path d={path} class={['edge', light.ofEdge(edge), edge.previous && 'previous']} />
  {/each}
  {#each drawing.placed as p (p.node.id)}
    {@const n = p.node}
    {@const own = light.ofNode(n)}
    <g transform="translate({p.x - p.width / 2} {p.y - p.height / 2})">
      <a
        href={n.href}
        id={n.id}
        class={['node', own, light.at !== undefined && own === '' && 'dim']}
        aria-label={n.is === 'rule'
          ? `Rule ${n.order}, ${n.name}: ${dealings(n)}`
          : `${n.name}${n.elsewhere ? ` of ${n.elsewhere}` : ''}`}
        onpointerenter={() => point(n.id)}
        onpointerleave={() => point(undefined)}
        onfocus={() => point(n.id)}
        onblur={() => point(undefined)}
        onkeydown={(e) => walk(e, p)}
        onclick={(e) => {
          e.preventDefault();
          void goto(n.href);
        }}
      >
        {#if n.is === 'rule'}
          <title>{n.name}{n.on ? '' : ' (off)'}</title>
          <rect width={p.width} height={p.height} rx="2.5" class="rule" stroke-dasharray={n.on ? undefined : '3 2'} />
          <text x="19" y="15.5" text-anchor="end" class="order">{n.order}</text>
          <g transform="translate(26 5)" class="mark"><KindMark kind={n.kind} /></g>
        {:else}
          <rect width={p.width} height={p.height} class="back" />
          <text x="2" y={p.height - 10}
            >{n.name}{#if n.elsewhere}<tspan class="elsewhere" dx="6">{n.elsewhere}</tspan>{/if}</text
          >
          <line
            x1="0"
            x2={p.width}
            y1={p.height - 4}
            y2={p.height - 4}
            class={n.written ? 'written-line' : 'plain-line'}
          />
        {/if}
      </a>
    </g>
  {/each}
</svg>

<style>
  .map {
    font-size: 13px;
    fill: var(--ink);
  }
  .edge {
    fill: none;
    stroke: var(--tick);
    stroke-width: 1.2;
  }
  .previous {
    stroke-dasharray: 3 3;
  }
  .edge.up {
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .edge.down {
    stroke: var(--held);
    stroke-width: 1.6;
  }
  .edge.circle {
    stroke: var(--stop);
    stroke-width: 1.6;
  }
  .node {
    cursor: pointer;
    outline: none;
  }
  .node:focus-visible .rule,
  .node:focus-visible .back {
    stroke: var(--brass);
    stroke-width: 2;
  }
  .back {
    fill: transparent;
  }
  .at .back {
    fill: var(--brass-wash);
  }
  .rule {
    fill: var(--sheet);
    stroke: var(--edge);
    stroke-width: 1.2;
  }
  .order {
    font: 500 12px var(--font-mono);
  }
  .mark {
    color: var(--soft);
  }
  .elsewhere {
    font-size: 11.5px;
    fill: var(--faint);
  }
  .plain-line {
    stroke: var(--tick);
    stroke-width: 1.2;
  }
  .written-line {
    stroke: var(--held);
    stroke-width: 1.4;
  }
  .dim text,
  .dim .mark {
    fill: var(--faint);
    color: var(--faint);
  }
  .at text,
  .up text,
  .down text {
    font-weight: 650;
  }
  .at line {
    stroke: var(--brass);
    stroke-width: 3;
  }
  .at .rule {
    fill: var(--brass-wash);
    stroke: var(--brass);
    stroke-width: 2;
  }
  .up line,
  .up .rule {
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .down line,
  .down .rule {
    stroke: var(--held);
    stroke-width: 1.8;
  }
  .down text {
    fill: var(--held);
  }
  .circle line,
  .circle .rule {
    stroke: var(--stop);
    stroke-width: 1.6;
  }
  .circle .rule {
    fill: var(--stop-wash);
  }
  .circle text {
    fill: var(--stop);
  }
  .ring {
    fill: none;
    stroke: var(--stop);
    stroke-dasharray: 3 3;
  }
  .ring-name {
    fill: var(--stop);
    font-size: 11.5px;
    font-weight: 650;
  }
</style>
