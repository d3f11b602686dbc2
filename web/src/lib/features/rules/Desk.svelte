<script lang="ts">
  /** The desk: ledger, sheet and bench side by side. */
  import { replaceState } from '$app/navigation';
  import { page } from '$app/state';
  import { findRuleKind, type Rule } from '@rigid-rule/core';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import type { Titles } from '$lib/features/fields';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { Pane, PaneGroup, PaneResizer } from 'paneforge';
  import { onMount, untrack } from 'svelte';
  import { Bench, type SampleRecord } from './bench/bench.svelte.ts';
  import BenchPanel from './bench/BenchPanel.svelte';
  import FieldSheet from './FieldSheet.svelte';
  import Ledger from './ledger/Ledger.svelte';
  import { sampleValues } from './sample-values.ts';
  import RuleSheet from './sheet/RuleSheet.svelte';

  interface Props {
    draft: Draft;
    types: readonly { key: string; name: string }[];
    typeKey: string;
    ruleKey: string | undefined;
    fieldKey: string | undefined;
    sampleNumber: number;
    users: readonly { email: string; name: string }[];
  }
  const { draft, types, typeKey, ruleKey, fieldKey, sampleNumber, users }: Props = $props();
  const offers = useOffers();

  const program = $derived(draft.program.types.get(typeKey)!);
  const compiled = $derived(ruleKey ? program.rules.find((r) => r.rule.key === ruleKey) : undefined);
  const field = $derived(
    compiled
      ? program.recordType.fields.find((f) => compiled.rule && targets(compiled.rule).includes(f.key))
      : program.recordType.fields.find((f) => f.key === fieldKey),
  );
  const rules = $derived(new Map(draft.rulebook.rules.map((r) => [r.key, r])));
  const reads = $derived(
    (compiled ? [...compiled.reads.present, ...compiled.reads.previous] : []).map((s) => program.slots[s]!.field.key),
  );

  function targets(rule: Rule): readonly string[] {
    return findRuleKind(rule.kind)?.targets(rule.outcome) ?? [];
  }

  // One bench a record type, kept while people go from rule to rule.
  const benches = new Map<string, Bench>();
  const bench = $derived.by(() => {
    const found = benches.get(typeKey) ?? new Bench(() => draft.program, typeKey);
    benches.set(typeKey, found);
    return found;
  });
  let linked = $state.raw<Titles>({});
  const titles = $derived<Titles>({ ...linked, user: Object.fromEntries(users.map((u) => [u.email, u.name])) });
  let sampleProblem = $state<string>();

  $effect(() => {
    const mine = bench;
    if (untrack(() => mine.samples.length) > 0) return;
    void loadSamples(mine);
  });

  async function loadSamples(mine: Bench) {
    try {
      const answer = await fetch(`/api/samples/${mine.typeKey}`);
      if (!answer.ok) throw new Error();
      const { samples, titles: names } = (await answer.json()) as { samples: SampleRecord[]; titles: Titles };
      mine.samples = samples;
      linked = names;
      mine.index = Math.min(Math.max(0, sampleNumber - 1), Math.max(0, mine.samples.length - 1));
      sampleProblem = undefined;
    } catch {
      sampleProblem = 'The sample records could not be loaded.';
    }
  }

  const sample = $derived(sampleValues(compiled?.rule, program.recordType, bench.samples));
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

  let ledgerPane: Pane | undefined = $state();
  let benchPane: Pane | undefined = $state();
  const fold = (pane: Pane | undefined) => (pane?.isCollapsed() ? pane.expand() : pane?.collapse());

  $effect(() =>
    offers.offer(
      [
        { keys: 'Ctrl Z', does: 'undo the last change to the draft', run: () => draft.undo() },
        { keys: 'Ctrl Shift Z', does: 'redo it', run: () => draft.redo() },
        { keys: 'Ctrl Y', does: 'redo it', run: () => draft.redo() },
        { keys: 'J', does: 'next sample record', run: () => step(1) },
        { keys: 'K', does: 'previous sample record', run: () => step(-1) },
        { keys: '/', does: 'filter the fields', run: () => document.getElementById('ledger-filter')?.focus() },
        { keys: '[', does: 'fold the ledger away, or back', run: () => fold(ledgerPane) },
        { keys: ']', does: 'fold the bench away, or back', run: () => fold(benchPane) },
      ],
      untrack(() => [
        ...draft.rulebook.rules.map((r) => ({
          group: 'Rules',
          name: r.name,
          hint: findRuleKind(r.kind)?.name ?? r.kind,
          href: `/desk/${r.recordType}/${r.key}`,
        })),
        ...draft.rulebook.recordTypes.flatMap((t) =>
          t.fields.map((f) => ({ group: 'Fields', name: f.name, hint: t.name, href: `/desk/${t.key}?field=${f.key}` })),
        ),
        { group: 'Acts', name: 'Undo', hint: 'Ctrl Z', run: () => draft.undo() },
        { group: 'Acts', name: 'Redo', hint: 'Ctrl Shift Z', run: () => draft.redo() },
      ]),
    ),
  );

  /** Milliseconds of quiet before the rules are looked through as a whole, so that typing never waits for it. */
  const quiet = 250;
  $effect(() => {
    void draft.program;
    const timer = setTimeout(() => draft.analyse(), quiet);
    return () => clearTimeout(timer);
  });

  const time = new Intl.DateTimeFormat('en-GB', { timeStyle: 'medium' });
  const findings = $derived(draft.findings.length);
  $effect(() => {
    const saved = draft.savedAt ? `Saved ${time.format(draft.savedAt)}` : 'Nothing changed yet';
    const words = { saved, saving: 'Saving …', 'kept here': 'Could not save; kept here', refused: 'Not taken' }[
      draft.state
    ];
    const count = draft.rulebook.rules.length;
    offers.status = [
      draft.problem ?? words,
      `${count} rule${count === 1 ? '' : 's'}`,
      `${findings} finding${findings === 1 ? '' : 's'}`,
    ].join('   ·   ');
    return () => (offers.status = '');
  });

  onMount(() => {
    draft.takeUpKept();
    // A key press that the browser would lose on closing the tab is sent at once.
    const leave = () => void draft.save();
    addEventListener('pagehide', leave);
    return () => {
      removeEventListener('pagehide', leave);
      draft.close();
    };
  });
</script>

<svelte:head><title>{compiled?.rule.name ?? field?.name ?? program.recordType.plural} · Rigid Rule</title></svelte:head>

<PaneGroup direction="horizontal" autoSaveId="desk" class="h-full">
  <Pane bind:this={ledgerPane} defaultSize={18.5} minSize={14} collapsible class="bg-paper" order={1}>
    <Ledger {types} {program} field={field?.key} rule={ruleKey} />
  </Pane>
  <PaneResizer class="resizer" />
  <Pane defaultSize={50.5} minSize={36} order={2} class="bg-sheet">
    <div class="h-full overflow-y-auto">
      {#if compiled}
        {#key compiled.rule.key}
          <RuleSheet rule={compiled.rule} {compiled} recordType={program.recordType} {draft} {sample} {marked} />
        {/key}
      {:else if field}
        <FieldSheet {field} {program} />
      {:else}
        <div class="mx-auto max-w-[440px] px-6 pt-[16vh]">
          <h1 class="mb-2">{program.recordType.plural}</h1>
          <p class="mb-4 text-soft">
            {#if program.rules.length > 0}Choose a field at the left: its rules stand below it.{:else}No rule looks at {program.recordType.plural.toLowerCase()}
              yet. Choose a field at the left to see what it is.{/if}
          </p>
          {#each program.rules as r (r.rule.key)}<p>
              <a class="editable" href="/desk/{typeKey}/{r.rule.key}">{r.rule.name}</a>
            </p>{/each}
        </div>
      {/if}
    </div>
  </Pane>
  <PaneResizer class="resizer" />
  <Pane bind:this={benchPane} defaultSize={31} minSize={22} collapsible order={3} class="bg-paper">
    {#if sampleProblem}
      <p class="px-[18px] pt-3 text-stop">
        {sampleProblem} <button type="button" class="editable" onclick={() => loadSamples(bench)}>Try again</button>
      </p>
    {/if}
    <BenchPanel {bench} {rules} pinned={reads} {titles} {users} />
  </Pane>
</PaneGroup>

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
