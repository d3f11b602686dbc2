<script lang="ts">
  /** The tests of the draft by field and rule: where they stand, what they reach, what none of them would notice. */
  import { testsAddress } from '$lib/addresses.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import type { PartRef } from '@rigid-rule/core/document';
  import { goto } from '$app/navigation';
  import { untrack } from 'svelte';
  import { useDraft } from '../draft/context.ts';
  import Claims from './Claims.svelte';
  import { testsOf } from '../proof/of-rule.ts';
  import { useProof } from '../proof/proof.svelte.ts';
  import RuleList from './RuleList.svelte';
  import RuleTests from './RuleTests.svelte';
  import TestPage from './TestPage.svelte';
  import TypeCoverage from './TypeCoverage.svelte';
  import Unnoticed from './Unnoticed.svelte';
  import WholeDraft from './WholeDraft.svelte';

  interface Props {
    typeKey: string;
    ruleKey: string | undefined;
    testKey: string | undefined;
  }
  const { typeKey, ruleKey, testKey }: Props = $props();
  const { draft } = useDraft();
  const proof = useProof();
  const offers = useOffers();

  const program = $derived(draft.program.types.get(typeKey));
  const compiled = $derived(program?.rules.find((r) => r.rule.key === ruleKey));
  const test = $derived(draft.rulebook.tests?.find((t) => t.key === testKey));
  const rules = $derived(program?.rules.map((r) => r.rule) ?? []);

  /** What is on show is weighed first. */
  const wanted = $derived<PartRef[]>([
    ...(ruleKey === undefined ? [] : [{ kind: 'rule', key: ruleKey } as const]),
    ...[...(compiled?.tables ?? [])].map((key) => ({ kind: 'table', key }) as const),
  ]);

  // Whoever comes here wants to know: from now on the draft's strength is followed.
  $effect(() => untrack(() => void (proof.follows || proof.sweep(draft.rulebook, wanted))));

  function step(by: 1 | -1) {
    const at = rules.findIndex((r) => r.key === ruleKey);
    const next = rules[(at + by + rules.length) % rules.length];
    if (next) void goto(testsAddress(typeKey, next.key));
  }
  $effect(() =>
    offers.offer(
      [
        { keys: 'J', does: 'tests of the next rule', run: () => step(1) },
        { keys: 'K', does: 'tests of the rule before', run: () => step(-1) },
      ],
      [
        ...rules.map((r) => ({ group: 'Tests', name: `Tests of ${r.name}`, href: testsAddress(typeKey, r.key) })),
        ...(proof.state === 'running'
          ? [{ group: 'Here', name: 'Stop weighing the tests', run: () => void proof.cancel() }]
          : [{ group: 'Here', name: 'Weigh the tests again', run: () => void proof.sweep(draft.rulebook) }]),
      ],
    ),
  );
  $effect(() =>
    offers.skipTo([
      { name: 'the rules', pane: 'rules' },
      { name: 'the tests', pane: 'tests' },
      { name: 'what no test would notice', pane: 'unnoticed' },
    ]),
  );
  const own = $derived(compiled ? testsOf(draft.rulebook.tests ?? [], compiled.rule) : []);
</script>

<svelte:head><title>{test?.name ?? compiled?.rule.name ?? 'Tests'} · Tests · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[250px_minmax(0,1fr)_272px]">
  <section class="overflow-y-auto border-r border-line pt-3" aria-label="Rules" data-keypane="rules">
    <RuleList {draft} {typeKey} {ruleKey} />
  </section>
  <section class="overflow-y-auto bg-sheet px-8 pt-[18px] pb-10" aria-label="Tests" data-keypane="tests">
    {#if test && program}
      {#key test.key}<TestPage {test} {program} rule={compiled?.rule} />{/key}
    {:else if compiled && program}
      {#key compiled.rule.key}<RuleTests {compiled} {program} tests={own} />{/key}
    {:else if program && program.rules.length > 0}
      <TypeCoverage {program} />
    {:else}
      <h1>Tests</h1>
      <p class="text-soft">There is no rule on this record type yet: what there is to test begins with one.</p>
    {/if}
  </section>
  <section
    class="overflow-y-auto border-l border-line px-5 pt-4 pb-8"
    aria-label="What no test would notice"
    data-keypane="unnoticed"
  >
    {#if compiled && program}{#key compiled.rule.key}<Unnoticed {compiled} {program} />{/key}{/if}
    <WholeDraft />
    <Claims {typeKey} />
  </section>
</div>
