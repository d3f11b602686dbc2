<script lang="ts">
  /** What writes what on a record type: fields as ruled lines, rules between them, and the same as a list. */
  import { mapOf } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { findRuleKind, ruleKinds } from '@rigid-rule/core/compile';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { useDraft } from '../draft/context.ts';
  import { KindMark } from '$lib/features/rule-kinds';
  import { fieldId, graphOf, reach, type RuleNode } from './graph.ts';
  import { layOut, type Placed } from './layout.ts';

  interface Props {
    typeKey: string;
    /** Key of the field that the address names. */
    fieldKey: string | undefined;
  }
  const { typeKey, fieldKey }: Props = $props();
  const { draft } = useDraft();

  const type = $derived(draft.program.types.get(typeKey) ?? [...draft.program.types.values()][0]!);
  const graph = $derived(graphOf(type, draft.program));
  const drawing = $derived(layOut(graph));
  let pointed = $state<string>();
  const lit = $derived.by(() => {
    const named = fieldKey ? fieldId(type.recordType.key, fieldKey) : undefined;
    const id = pointed ?? named;
    return id !== undefined && graph.nodes.has(id) ? id : undefined;
  });
  const up = $derived(lit === undefined ? new Set<string>() : reach(graph, lit, 'up'));
  const down = $derived(lit === undefined ? new Set<string>() : reach(graph, lit, 'down'));
  const node = $derived(lit === undefined ? undefined : graph.nodes.get(lit));

  type Light = 'at' | 'up' | 'down' | 'circle' | '';
  function light(id: string, circle: boolean): Light {
    if (id === lit) return 'at';
    // In a ring a node is both; what decides is told first.
    if (up.has(id)) return circle ? 'circle' : 'up';
    if (down.has(id)) return circle ? 'circle' : 'down';
    return circle && lit === undefined ? 'circle' : '';
  }
  function lightOfEdge(from: string, to: string, circle: boolean): Light {
    if (circle && (lit === undefined || up.has(from) || down.has(to) || from === lit || to === lit)) return 'circle';
    if ((to === lit || up.has(to)) && up.has(from)) return 'up';
    if ((from === lit || down.has(from)) && down.has(to)) return 'down';
    return '';
  }
  const rules = $derived([...graph.nodes.values()].filter((n): n is RuleNode => n.is === 'rule'));
  const listed = $derived(
    node
      ? [
          { title: 'Upstream: what decides it', rules: rules.filter((r) => up.has(r.id)).reverse(), none: 'no rule' },
          { title: 'Downstream: what it decides', rules: rules.filter((r) => down.has(r.id)), none: 'no rule' },
        ]
      : [{ title: 'Rules, in the order in which they run', rules, none: 'No rule looks at these records yet.' }],
  );
  const namesOf = (ids: readonly string[]) => [...new Set(ids.map((id) => graph.nodes.get(id)!.name))].join(', ');
  const readBy = (id: string) => namesOf(graph.edges.filter((e) => e.to === id).map((e) => e.from));
  const writtenBy = (id: string) => namesOf(graph.edges.filter((e) => e.from === id).map((e) => e.to));
  const dealings = (r: RuleNode) =>
    `reads ${readBy(r.id) || 'nothing'}, ${r.checks ? 'checks' : 'writes'} ${writtenBy(r.id) || 'nothing'}`;
  const circleFindings = $derived(
    draft.findings.filter((f) => f.kind === 'circle' && rules.some((r) => r.href.endsWith(`/${f.part.key}`))),
  );

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

<svelte:head><title>What writes what on {type.recordType.name} · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[minmax(0,1fr)_300px]">
  <section class="flex min-h-0 flex-col bg-sheet max-lg:h-[max(70vh,420px)]" aria-label="Map">
    <div class="flex flex-wrap items-baseline gap-x-6 gap-y-1 px-7 pt-[18px] pb-2">
      <h1>What writes what, on {type.recordType.name}</h1>
      <nav class="flex gap-3" aria-label="Record types">
        {#each draft.rulebook.recordTypes as t (t.key)}
          <a
            href={mapOf(t.key)}
            aria-current={t.key === type.recordType.key ? 'page' : undefined}
            class={t.key === type.recordType.key ? 'font-[650] shadow-[0_2px_var(--ink)]' : 'text-soft hover:text-ink'}
            >{t.name}</a
          >
        {/each}
      </nav>
    </div>
    <p class="flex flex-wrap gap-x-4 px-7 pb-2 text-small text-soft">
      {#each ruleKinds as k (k.key)}<span class="inline-flex items-center gap-1.5"
          ><span class="text-held"><KindMark kind={k.key} /></span>{k.name.toLowerCase()}</span
        >{/each}
      <span class="ml-auto text-faint">the number is the order in which they run; arrow keys go along the lines</span>
    </p>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      class="min-h-0 flex-1 overflow-auto border-t border-line"
      tabindex="0"
      role="group"
      aria-label="Drawing; the list beside it says the same"
    >
      {#if rules.length === 0}<p class="px-7 pt-6 text-soft">
          No rule looks at {type.recordType.plural.toLowerCase()} yet; there is nothing to draw.
        </p>{/if}
      <svg width={drawing.width} height={drawing.height} class="map">
        {#each drawing.rings as ring, i (i)}
          <rect {...{ x: ring.x, y: ring.y, width: ring.width, height: ring.height }} class="ring" />
          <text x={ring.x + 10} y={ring.y + 14} class="ring-name">a circle of {ring.count} rules</text>
        {/each}
        {#each drawing.drawn as { edge, path }, nth (nth)}
          <path
            d={path}
            class={['edge', lightOfEdge(edge.from, edge.to, edge.circle === true), edge.previous && 'previous']}
          />
        {/each}
        {#each drawing.placed as p (p.node.id)}
          {@const n = p.node}
          {@const circle = n.is === 'rule' ? n.circle >= 0 : n.circle}
          <g transform="translate({p.x - p.width / 2} {p.y - p.height / 2})">
            <a
              href={n.href}
              id={n.id}
              class={['node', light(n.id, circle), lit !== undefined && light(n.id, circle) === '' && 'dim']}
              aria-label={n.is === 'rule'
                ? `Rule ${n.order}, ${n.name}: ${dealings(n)}`
                : `${n.name}${n.elsewhere ? ` of ${n.elsewhere}` : ''}`}
              onpointerenter={() => (pointed = n.id)}
              onpointerleave={() => (pointed = undefined)}
              onfocus={() => (pointed = n.id)}
              onblur={() => (pointed = undefined)}
              onkeydown={(e) => walk(e, p)}
              onclick={(e) => {
                e.preventDefault();
                void goto(n.href);
              }}
            >
              {#if n.is === 'rule'}
                <title>{n.name}{n.on ? '' : ' (off)'}</title>
                <rect
                  width={p.width}
                  height={p.height}
                  rx="2.5"
                  class="rule"
                  stroke-dasharray={n.on ? undefined : '3 2'}
                />
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
    </div>
  </section>
  <aside class="overflow-y-auto border-l border-line px-5 pt-[18px] pb-8" aria-label="List">
    {#if node}
      <h2 class="text-[15px] font-[650]">{node.name}</h2>
      <p class="border-b border-ink pb-2 text-small text-faint">
        {#if node.is === 'rule'}{findRuleKind(node.kind)?.name ?? node.kind}; reads {readBy(node.id) || 'nothing'},
          writes {writtenBy(node.id) || 'nothing'}{:else}{@const field = type.recordType.fields.find(
            (f) => fieldId(type.recordType.key, f.key) === node.id,
          )}{node.elsewhere ? `on the ${node.elsewhere.toLowerCase()}` : field ? fieldTypeOf(field).name : ''}{/if}
      </p>
    {/if}
    {#each listed as part, nth (nth)}
      <h2 class="label mt-3">{part.title}</h2>
      <ol>
        {#each part.rules as r (r.id)}
          <li>
            <a
              href={r.href}
              class={[
                'grid grid-cols-[20px_18px_minmax(0,1fr)] gap-1.5 py-1 hover:text-brass',
                r.circle >= 0 && 'text-stop',
              ]}
              onpointerenter={() => node === undefined && (pointed = r.id)}
              onpointerleave={() => pointed === r.id && (pointed = undefined)}
            >
              <span class="text-right text-small text-faint">{r.order}</span>
              <span class="text-held"><KindMark kind={r.kind} label={findRuleKind(r.kind)?.name ?? r.kind} /></span>
              <span>{r.name}<span class="block text-small text-faint">{dealings(r)}</span></span>
            </a>
          </li>
        {:else}<li class="quiet">{part.none}</li>{/each}
      </ol>
    {/each}
    {#each graph.circles as ring, i (i)}
      <section class="mt-4 border-l-[3px] border-stop bg-stop-wash px-3 py-2" aria-label="Circle">
        <h2 class="font-[650] text-stop">Rules {ring.map((r) => r.order).join(', ')} run in a circle</h2>
        {#each circleFindings as f, nth (nth)}<p>{f.sentence}</p>{:else}<p>
            Each waits for what another writes. They repeat until nothing changes, at most 20 times.
          </p>{/each}
      </section>
    {/each}
    {#if !node && graph.apart.length > 0}
      <h2 class="label mt-4">Touched by no rule</h2>
      <p class="text-small text-soft">{graph.apart.join(', ')}</p>
    {/if}
  </aside>
</div>

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
