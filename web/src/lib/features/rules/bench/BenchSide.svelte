<script lang="ts">
  /**
   * The bench beside the sheet, with all that settles records. The desk loads it on its own: fields and rules are on
   * show, and can be edited, before it is there.
   */
  import { replaceState } from '$app/navigation';
  import { page } from '$app/state';
  import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
  import type { Stored } from '@rigid-rule/core/document';
  import { useDraft } from '$lib/features/draft/context.ts';
  import { titlesBy } from '$lib/features/fields';
  import { handedKey, takeHanded } from '$lib/features/proof/handover.ts';
  import { useSamples } from '$lib/features/samples/samples.svelte.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { untrack } from 'svelte';
  import type { Kept } from '$lib/ui/kept.svelte.ts';
  import { Bench } from './bench.svelte.ts';
  import BenchPanel from './BenchPanel.svelte';
  import { benchActs, type PressedAhead } from '../bench-keys.ts';
  import { keepProblem, testOf } from './keep-test.ts';

  interface Props {
    program: TypeProgram;
    /** The rule on the sheet. */
    compiled: CompiledRule | undefined;
    ruleKey: string | undefined;
    /** Place of the sample to begin with, from 1. */
    sampleNumber: number;
    /** One bench a record type, by its key; kept while people go from rule to rule. */
    benches: Kept<Bench>;
    /** Keys that were pressed before it was there. */
    ahead: PressedAhead;
    /** What the record on the bench holds in a field, by its key, once rules have acted. */
    settled?: ((field: string) => Stored) | undefined;
  }
  let { program, compiled, ruleKey, sampleNumber, benches, ahead, settled = $bindable() }: Props = $props();
  const { draft, users } = useDraft();
  const samples = useSamples();
  const offers = useOffers();

  const typeKey = $derived(program.recordType.key);
  const bench = $derived(
    benches.of(typeKey, () => new Bench(typeKey, { program: () => draft.program, samples, users })),
  );
  $effect.pre(() => {
    const mine = bench;
    settled = (field) => mine.settled(field);
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

  const rules = $derived(new Map(draft.rulebook.rules.map((r) => [r.key, r])));
  const reads = $derived(
    (compiled ? [...compiled.reads.present, ...compiled.reads.previous] : []).map((s) => program.slots[s]!.field.key),
  );
  const titles = titlesBy((key, id) => {
    if (key === 'user') return users.find((u) => u.email === id)?.name;
    const type = draft.rulebook.recordTypes.find((t) => t.key === key);
    return type && samples.title(type, id);
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

  // A kept test is opened by its address.
  const askedTest = $derived(page.url.searchParams.get('test'));
  $effect(() => {
    const test = askedTest === handedKey ? takeHanded(typeKey) : draft.rulebook.tests?.find((t) => t.key === askedTest);
    if (test) untrack(() => bench.show(test));
  });

  const acts = { J: () => step(1), K: () => step(-1), T: keepTest };
  // Once the sample that the address names is on show.
  $effect(() => untrack(() => ahead.take().forEach((key) => acts[key]())));
  $effect(() =>
    offers.offer(
      [...benchActs((key) => acts[key]), { keys: 'Escape', does: 'take the try back', run: () => bench.clear() }],
      [
        ...(draft.editable ? [{ group: 'Here', name: 'Keep the try as a test', hint: 'T', run: keepTest }] : []),
        { group: 'Here', name: 'Next sample record', hint: 'J', run: () => step(1) },
        { group: 'Here', name: 'Take the try back', hint: 'Escape', run: () => bench.clear() },
      ],
    ),
  );
</script>

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
