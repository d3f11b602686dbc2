<script lang="ts">
  /** What writes what on a record type: fields as ruled lines, rules between them, and the same as a list. */
  import { mapOf } from '$lib/addresses.ts';
  import { findRuleKind, ruleKinds } from '@rigid-rule/core/compile';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { useDraft } from '../draft/context.ts';
  import { KindMark } from '$lib/features/rule-kinds';
  import { fieldId, graphOf, type RuleNode } from './graph.ts';
  import { MapLight } from './light.ts';
  import MapDrawing from './MapDrawing.svelte';
  import TypeTabs from '$lib/ui/TypeTabs.svelte';

  interface Props {
    typeKey: string;
    /** Key of the field that the address names. */
    fieldKey: string | undefined;
  }
  const { typeKey, fieldKey }: Props = $props();
  const { draft } = useDraft();

  const type = $derived(draft.program.types.get(typeKey)!);
  const graph = $derived(graphOf(type, draft.program));
  let pointed = $state<string>();
  const lit = $derived.by(() => {
    const named = fieldKey ? fieldId(type.recordType.key, fieldKey) : undefined;
    const id = pointed ?? named;
    return id !== undefined && graph.nodes.has(id) ? id : undefined;
  });
  const light = $derived(new MapLight(graph, lit));
  const node = $derived(lit === undefined ? undefined : graph.nodes.get(lit));

  const rules = $derived([...graph.nodes.values()].filter((n): n is RuleNode => n.is === 'rule'));
  const listed = $derived(
    node
      ? [
          {
            title: 'Upstream: what decides it',
            rules: rules.filter((r) => light.up.has(r.id)).reverse(),
            none: 'no rule',
          },
          { title: 'Downstream: what it decides', rules: rules.filter((r) => light.down.has(r.id)), none: 'no rule' },
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
</script>

<svelte:head><title>What writes what on {type.recordType.name} · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[minmax(0,1fr)_300px]">
  <section class="flex min-h-0 flex-col bg-sheet max-lg:h-[max(70vh,420px)]" aria-label="Map">
    <div class="flex flex-wrap items-baseline gap-x-6 gap-y-1 px-7 pt-[18px] pb-2">
      <h1>What writes what, on {type.recordType.name}</h1>
      <TypeTabs types={draft.rulebook.recordTypes} current={type.recordType.key} addressOf={mapOf} class="gap-x-3" />
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
      <MapDrawing {graph} {light} {dealings} point={(id) => (pointed = id)} />
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
