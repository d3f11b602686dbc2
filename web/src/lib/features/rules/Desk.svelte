<script lang="ts">
  /** The desk: ledger, sheet and bench side by side. */
  import { handedKey, takeHanded } from '../proof/handover.ts';
  import { goto, replaceState } from '$app/navigation';
  import { page } from '$app/state';
  import { findRuleKind, ruleKinds } from '@rigid-rule/core/compile';
  import type { Rule } from '@rigid-rule/core/document';
  import { useDraft } from '$lib/features/draft/context.ts';
  import { titlesBy } from '$lib/features/fields';
  import { useSamples } from '$lib/features/samples/samples.svelte.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { Pane, PaneGroup, PaneResizer } from 'paneforge';
  import { untrack } from 'svelte';
  import { followMedia } from '$lib/ui/media.ts';
  import { Bench } from './bench/bench.svelte.ts';
  import BenchPanel from './bench/BenchPanel.svelte';
  import { keepProblem, testOf } from './bench/keep-test.ts';
  import { noteField } from '$lib/features/rule-kinds/parts/recent-fields.ts';
  import { createRule, pasteRule, ruleFromText } from './new-rule.ts';
  import Ledger from './ledger/Ledger.svelte';
  import { noValues, numericSource, sampleValues } from '$lib/features/rule-kinds/parts/sample-values.ts';
  import RuleSheet from './sheet/RuleSheet.svelte';

  interface Props {
    typeKey: string;
    ruleKey: string | undefined;
    fieldKey: string | undefined;
    sampleNumber: number;
  }
  const { typeKey, ruleKey, fieldKey, sampleNumber }: Props = $props();
  const { draft, users } = useDraft();
  const samples = useSamples();
  const offers = useOffers();

  const program = $derived(draft.program.types.get(typeKey) ?? [...draft.program.types.values()][0]!);
  const compiled = $derived(ruleKey ? program.rules.find((r) => r.rule.key === ruleKey) : undefined);
  const targets = $derived(compiled ? targetsOf(compiled.rule) : []);
  const field = $derived(
    program.recordType.fields.find((f) => f.key === fieldKey) ??
      program.recordType.fields.find((f) => targets.includes(f.key)),
  );
  const rules = $derived(new Map(draft.rulebook.rules.map((r) => [r.key, r])));
  const reads = $derived(
    (compiled ? [...compiled.reads.present, ...compiled.reads.previous] : []).map((s) => program.slots[s]!.field.key),
  );

  function targetsOf(rule: Rule): readonly string[] {
    return findRuleKind(rule.kind)?.targets(rule.outcome) ?? [];
  }

  $effect(() => {
    if (field && !ruleKey) noteField(typeKey, field.key);
  });

  // One bench a record type, kept while people go from rule to rule.
  const benches = new Map<string, Bench>();
  const bench = $derived.by(() => {
    const type = program.recordType.key;
    const found = benches.get(type) ?? new Bench(type, { program: () => draft.program, samples, users });
    benches.set(type, found);
    return found;
  });
  $effect(() => {
    bench.asked = ruleKey;
  });
  // The sample that the address names, where nobody has gone on from it.
  $effect(() => {
    const mine = bench;
    if (untrack(() => mine.index) === 0) mine.index = Math.max(0, sampleNumber - 1);
  });
  // Whoever goes on to the next sample finds what its rules read at hand.
  const quiet = 100;
  $effect(() => {
    if (bench.settlement.verdict === 'waiting') return;
    const timer = setTimeout(() => untrack(() => bench.lookAhead()), quiet);
    return () => clearTimeout(timer);
  });
  const typeOf = (key: string) => draft.rulebook.recordTypes.find((t) => t.key === key);
  const titles = titlesBy((key, id) => {
    if (key === 'user') return users.find((u) => u.email === id)?.name;
    const type = typeOf(key);
    return type && samples.title(type, id);
  });

  const source = $derived(numericSource(compiled?.rule, program.recordType)?.key);
  const sample = $derived.by(() => {
    const held = source === undefined ? undefined : samples.values(program.recordType.key, [source]);
    return held ? sampleValues(held) : noValues;
  });
  const marked = $derived.by(() => {
    const slot = compiled?.reads.present[0];
    const value = slot === undefined ? null : bench.settled(program.slots[slot]!.field.key);
    return typeof value === 'number' ? value : null;
  });

  function step(by: 1 | -1) {
    bench.step(by);
    const url = new URL(page.url);
    url.searchParams.set('sample', String(bench.index + 1));
    replaceState(url, page.state);
  }

  /** What became of keeping the try, until something else is tried. */
  let kept = $state<string>();
  $effect(() => {
    void [bench.tried, bench.index, bench.subject, bench.entryPoint, bench.moment, bench.user, bench.clock, ruleKey];
    kept = undefined;
  });
  function keepTest() {
    if (!draft.editable) return;
    const key = draft.freeKey('test', compiled?.rule.name ?? typeKey);
    const test = testOf(bench, compiled?.rule, key, titles);
    const problem = keepProblem(bench, test, draft.rulebook.tests ?? []);
    if (!problem) draft.create({ kind: 'test', key }, test, 'keep a test');
    kept = problem ?? `Kept as “${test.name}”.`;
  }

  /** Why what was pasted is no rule, until something else is on show. */
  let refused = $state<string>();
  $effect(() => {
    void [typeKey, field, ruleKey];
    refused = undefined;
  });
  /** A rule that was copied, from here or as text from anywhere, is made on the record type on show. */
  function paste(e: ClipboardEvent) {
    if (!draft.editable || (e.target as HTMLElement).closest('input, textarea, [contenteditable]')) return;
    const rule = ruleFromText(e.clipboardData?.getData('text/plain') ?? '');
    if (!rule) return;
    e.preventDefault();
    refused = 'problem' in rule ? rule.problem : undefined;
    if (!('problem' in rule)) void goto(pasteRule(draft, rule, program.recordType));
  }

  let ledgerPane: Pane | undefined = $state();
  let benchPane: Pane | undefined = $state();
  const fold = (pane: Pane | undefined) => (pane?.isCollapsed() ? pane.expand() : pane?.collapse());

  $effect(() =>
    offers.offer(
      [
        { keys: 'J', does: 'next sample record', run: () => step(1) },
        { keys: 'K', does: 'previous sample record', run: () => step(-1) },
        { keys: 'T', does: 'keep the try as a test', run: keepTest },
        { keys: '/', does: 'filter the fields', run: () => document.getElementById('ledger-filter')?.focus() },
        { keys: 'Escape', does: 'take the try back', run: () => bench.clear() },
        { keys: '[', does: 'fold the ledger away, or back', run: () => fold(ledgerPane) },
        { keys: ']', does: 'fold the bench away, or back', run: () => fold(benchPane) },
      ],
      [
        ...(draft.editable && field
          ? ruleKinds.map((kind) => ({
              group: 'Here',
              name: `${kind.name}: new rule on ${field.name}`,
              run: () => void goto(createRule(draft, kind, field, program.recordType)),
            }))
          : []),
        ...(draft.editable ? [{ group: 'Here', name: 'Keep the try as a test', hint: 'T', run: keepTest }] : []),
        { group: 'Here', name: 'Next sample record', hint: 'J', run: () => step(1) },
        { group: 'Here', name: 'Take the try back', hint: 'Escape', run: () => bench.clear() },
      ],
    ),
  );
  // A kept test is opened by its address.
  const askedTest = $derived(page.url.searchParams.get('test'));
  $effect(() => {
    const test = askedTest === handedKey ? takeHanded(typeKey) : draft.rulebook.tests?.find((t) => t.key === askedTest);
    if (test) untrack(() => bench.show(test));
  });
  $effect(() =>
    offers.skipTo([
      { name: 'the fields', pane: 'fields' },
      { name: compiled ? 'the rule' : 'the sheet', pane: 'sheet' },
      { name: 'the bench', pane: 'bench' },
    ]),
  );
  let wide = $state(true);
  followMedia('(min-width: 1024px)', (holds) => (wide = holds));
</script>

<svelte:window onpaste={paste} />
<svelte:head><title>{compiled?.rule.name ?? field?.name ?? program.recordType.plural} · Rigid Rule</title></svelte:head>

{#snippet ledger()}
  <Ledger {draft} {program} field={field?.key} rule={ruleKey} />
{/snippet}
{#snippet sheet()}
  {#if refused}
    <div class="mx-6 mt-4 flex gap-3 border-l-[3px] border-stop bg-stop-wash px-3 py-2" role="alert">
      <p class="grow"><strong>This rule was not pasted.</strong> {refused}</p>
      <button type="button" class="editable self-start" onclick={() => (refused = undefined)}>Close</button>
    </div>
  {/if}
  {#if compiled}
    {#key compiled.rule.key}
      <RuleSheet rule={compiled.rule} {compiled} {program} {draft} {sample} {marked} />
    {/key}
  {:else if field && !ruleKey}
    {#await import('./FieldSheet.svelte') then { default: FieldSheet }}
      <FieldSheet {field} {program} {draft} />
    {/await}
  {:else}
    {#await import('./TypeSheet.svelte') then { default: TypeSheet }}
      <TypeSheet {program} {draft} missing={ruleKey !== undefined} />
    {/await}
  {/if}
{/snippet}
{#snippet benchSide()}
  <BenchPanel
    {bench}
    {draft}
    {rules}
    pinned={reads}
    {titles}
    {users}
    find={samples.find}
    keep={keepTest}
    {kept}
    current={compiled?.rule}
    problem={samples.problem}
  />
{/snippet}

{#if wide}
  <PaneGroup direction="horizontal" autoSaveId="desk" class="h-full">
    <Pane bind:this={ledgerPane} defaultSize={18.5} minSize={14} collapsible class="bg-paper" order={1}>
      <div class="h-full" data-keypane="fields">{@render ledger()}</div>
    </Pane>
    <PaneResizer class="resizer" />
    <Pane defaultSize={50.5} minSize={36} order={2} class="bg-sheet">
      <div class="h-full overflow-y-auto" data-keypane="sheet">{@render sheet()}</div>
    </Pane>
    <PaneResizer class="resizer" />
    <Pane bind:this={benchPane} defaultSize={31} minSize={22} collapsible order={3} class="bg-paper">
      <div class="h-full" data-keypane="bench">{@render benchSide()}</div>
    </Pane>
  </PaneGroup>
{:else}
  <div class="h-full overflow-y-auto">
    <details class="border-b border-line" open={!compiled && !field}>
      <summary class="cursor-pointer px-3.5 py-2">Fields of {program.recordType.plural}</summary>
      {@render ledger()}
    </details>
    <div class="bg-sheet px-4">{@render sheet()}</div>
    {@render benchSide()}
  </div>
{/if}

<style>
  :global(.resizer) {
    position: relative;
    width: 1px;
    background: var(--line);
  }
  :global(.resizer)::after {
    content: '';
    position: absolute;
    inset: 0 -4px;
    z-index: 5;
  }
  :global(.resizer:hover),
  :global(.resizer:focus-visible),
  :global(.resizer[data-active]) {
    background: var(--brass);
    outline: 1px solid var(--brass);
  }
</style>
