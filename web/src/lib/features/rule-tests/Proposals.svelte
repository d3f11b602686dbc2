<script lang="ts">
  /** Proposed tests of a rule, the fewest that bring everything first; each is confirmed by a person, or put right. */
  import { counted } from '$lib/counted.ts';
  import { testsAddress } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
  import { settingsKey, type RuleTest } from '@rigid-rule/core/document';
  import { acceptedSteps, settleTest, type Offer } from '@rigid-rule/core/rule-tests';
  import { uniqueId } from '$lib/unique-id.ts';
  import { untrack } from 'svelte';
  import { useDraft } from '../draft/context.ts';
  import FamilyCases from './FamilyCases.svelte';
  import { useProof } from '../proof/proof.svelte.ts';
  import { shownValue } from '$lib/features/fields';
  import { testSentences } from '../proof/sentences.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    compiled: CompiledRule;
    program: TypeProgram;
    /** Tells which tests are proposed now. */
    show: (tests: readonly RuleTest[]) => void;
  }
  const { compiled, program, show }: Props = $props();
  const { draft } = useDraft();
  const proof = useProof();

  let offers = $state.raw<readonly Offer[]>();
  let failed = $state(false);
  let open = $state<string>();
  let everything = $state(false);

  /** What is proposed for the draft as it stands; asked again once it has been quiet. */
  $effect(() => {
    const { rulebook } = draft;
    const { key } = compiled.rule;
    let gone = false;
    const timer = setTimeout(
      () =>
        void proof.offers(rulebook, key).then(
          (found) => {
            if (gone) return;
            offers = found;
            failed = false;
          },
          () => (failed = !gone),
        ),
      untrack(() => offers) ? 400 : 0,
    );
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  });
  const adds = (o: Offer) => o.adds.cells.length + o.adds.rows + o.adds.faults.length;
  const useful = $derived((offers ?? []).filter((o) => adds(o) > 0));
  const rest = $derived((offers ?? []).filter((o) => adds(o) === 0));
  const last = $derived(useful.at(-1));
  $effect(() => show(useful.map((o) => o.test)));

  const told = (o: Offer) =>
    [
      ...(o.adds.faults.length > 0 ? [counted(o.adds.faults.length, 'planted fault')] : []),
      ...(o.adds.cells.length > 0 ? [counted(o.adds.cells.length, 'place', 'places') + ' not reached'] : []),
      ...(o.adds.rows > 0 ? [counted(o.adds.rows, 'table row')] : []),
    ].join(', ');

  /** `group`: several are kept as one act. */
  function keep(o: Offer, group?: string): string {
    if (o.amends !== undefined) {
      draft.edit(
        { kind: 'test', key: o.amends },
        [{ op: 'replace', path: '/expect', value: o.test.expect }],
        'let a test look at more',
        group,
      );
      return o.amends;
    }
    const key = draft.freeKey('test', o.test.name);
    const accepted = o.test.family ? undefined : acceptedSteps(settleTest(draft.program, o.test), program);
    draft.create(
      { kind: 'test', key },
      { ...o.test, key, ...(accepted ? { accepted } : {}) },
      group === undefined ? 'confirm a proposed test' : 'confirm proposed tests',
      group,
    );
    return key;
  }
  function keepAll(list: readonly Offer[]) {
    const group = uniqueId();
    for (const o of list) keep(o, group);
  }
  /** Kept as it is and opened: what it should be is said there, and until the rule is mended it fails. */
  const otherwise = (o: Offer) =>
    void goto(`${testsAddress(compiled.rule.recordType, compiled.rule.key, keep(o))}&edit=1`);
  function refuse(o: Offer) {
    const refused = [...(draft.rulebook.refused ?? []), o.identity];
    draft.edit(
      { kind: 'settings', key: settingsKey },
      [{ op: 'add', path: '/refused', value: refused }],
      'refuse a proposed test',
    );
  }
</script>

{#snippet line(o: Offer)}
  {@const { act, then } = testSentences(o.test, draft.rulebook, shownValue)}
  <li class="border-b border-line py-[5px]">
    <div class="grid grid-cols-[14px_minmax(0,1fr)_auto] items-baseline gap-1">
      <span class="inline-block size-[8px] rounded-full border border-dashed border-brass" aria-hidden="true"></span>
      <button
        type="button"
        class="cursor-pointer text-left text-brass-ink hover:text-brass"
        aria-expanded={open === o.identity}
        onclick={() => (open = open === o.identity ? undefined : o.identity)}
        >{o.why}{o.cases > 1 ? `, ${o.cases} cases` : ''}</button
      >
      <span class="text-small text-soft">{told(o) ? `adds ${told(o)}` : ''}</span>
    </div>
    {#if open === o.identity}
      <div class="mt-1 ml-[15px]">
        <p>{act}</p>
        {#if o.test.family}<FamilyCases test={o.test} {program} lines={[]} />{/if}
        <p class="text-soft">Then {then.join(', ')}.</p>
        {#if draft.editable}
          <p class="mt-1 flex flex-wrap gap-x-4">
            <button type="button" class="word" onclick={() => keep(o)}>yes, that is right</button>
            <button type="button" class="word" onclick={() => otherwise(o)}>no, it should be …</button>
            <button type="button" class="word" onclick={() => refuse(o)}>do not propose it again</button>
          </p>
        {/if}
      </div>
    {/if}
  </li>
{/snippet}

<h2 class="label mt-6">Proposed</h2>
{#if !compiled.compiles}<p class="text-soft">The rule has a mistake: tests are proposed once it is put right.</p>
{:else if failed}<p class="text-stop" role="alert">What could be proposed could not be worked out.</p>
{:else if !offers}<p class="text-soft" role="status">Being worked out …</p>
{:else if useful.length === 0}<p class="text-soft">Nothing that could be proposed adds to the tests that there are.</p>
{:else}
  <p class="flex flex-wrap items-baseline justify-between gap-x-4 pb-1">
    <span
      >{useful.length === 1 ? 'This one brings' : `These ${ownWriting(useful.length)} bring`} the rule to {Math.floor(
        last!.strengthAfter * 100,
      )} % of the planted faults.</span
    >
    {#if draft.editable && useful.length > 1}
      <button type="button" class="word" onclick={() => keepAll(useful)}
        >all {ownWriting(useful.length)} are right</button
      >
    {/if}
  </p>
  <ul aria-label="Proposed tests">
    {#each useful as o (o.identity)}{@render line(o)}{/each}
  </ul>
{/if}
{#if rest.length > 0}
  <button type="button" class="word mt-1" aria-expanded={everything} onclick={() => (everything = !everything)}
    >{everything ? 'hide' : 'show'}
    {counted(rest.length, 'more', 'more')} that {rest.length === 1 ? 'adds' : 'add'} nothing to them</button
  >
  {#if everything}
    <ul aria-label="Proposed tests that add nothing">
      {#each rest as o (o.identity)}{@render line(o)}{/each}
    </ul>
  {/if}
{/if}
