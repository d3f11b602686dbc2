<script lang="ts">
  /** The tests of one rule: pins on its ruler, families, single tests, what is proposed, what they reach. */
  import { counted } from '$lib/counted.ts';
  import { ruleAddress, testsAddress } from '$lib/addresses.ts';
  import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
  import type { RuleTest } from '@rigid-rule/core/document';
  import { familyOfTable, linesOf } from '@rigid-rule/core/rule-tests';
  import { goto } from '$app/navigation';
  import { useDraft } from '../draft/context.ts';
  import CoverageGrid from './CoverageGrid.svelte';
  import FamilyCases from './FamilyCases.svelte';
  import { caseCount } from '../proof/cases.ts';
  import { axisValue, type Pin } from './pins.ts';
  import PinRuler from './PinRuler.svelte';
  import Proposals from './Proposals.svelte';
  import { useProof } from '../proof/proof.svelte.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    compiled: CompiledRule;
    program: TypeProgram;
    tests: readonly RuleTest[];
  }
  const { compiled, program, tests }: Props = $props();
  const { draft } = useDraft();
  const proof = useProof();

  const rule = $derived(compiled.rule);
  const strength = $derived(proof.strength.get(`rule:${rule.key}`));
  const cells = $derived(
    draft.coverage?.rules.find((r) => r.rule === rule.key)?.cells.filter((c) => c.state !== 'cannot be reached') ?? [],
  );
  const branches = $derived(cells.filter((c) => c.kind === 'branch'));
  const linesBy = $derived.by(() => {
    const found = new Map<string, (typeof draft.testLines)[number][]>();
    for (const l of draft.testLines) found.set(l.of, [...(found.get(l.of) ?? []), l]);
    return found;
  });
  const fails = (t: RuleTest) => (linesBy.get(t.key) ?? []).some((l) => l.failures.length > 0);
  const families = $derived(tests.filter((t) => t.family));
  const single = $derived(tests.filter((t) => !t.family));

  const source = $derived(
    compiled.structure.division && compiled.structure.division.bands.length > 0
      ? program.slots[compiled.reads.present.find((s) => axisSlot(s)) ?? -1]?.field
      : undefined,
  );
  const axisSlot = (slot: number) => {
    const { type } = program.slots[slot]!;
    return type.numeric === true || type.at !== undefined;
  };
  const dates = $derived(compiled.structure.division?.dates ?? false);
  let proposals = $state.raw<readonly RuleTest[]>([]);

  function pinsOf(list: readonly RuleTest[]): { pins: Pin[]; blank: number } {
    const pins: Pin[] = [];
    let blank = 0;
    if (!source) return { pins, blank };
    for (const t of list)
      linesOf(t, program).forEach((line, i) => {
        const given = line.test.sent[source.key];
        const value = axisValue(given as never, dates);
        if (value !== undefined) {
          const failing = (linesBy.get(t.key)?.[i]?.failures.length ?? 0) > 0;
          pins.push({ value, failing, text: line.test.name });
        } else if (given === null && source.key in line.test.sent) blank++;
      });
    return { pins, blank };
  }
  const pinned = $derived(pinsOf(tests));
  const proposed = $derived(pinsOf(proposals).pins);
  let pasting = $state(false);
  /** A case for each row of the rule's table, where no test has them yet. */
  const ofTable = $derived.by(() => {
    const family = draft.editable ? familyOfTable(compiled, program, draft.program) : undefined;
    return family && tests.every((t) => t.name !== family.name) ? family : undefined;
  });
  function keepTable() {
    if (!ofTable) return;
    const key = draft.freeKey('test', ofTable.name);
    draft.create({ kind: 'test', key }, { ...ofTable, key }, 'make cases of the rows of a table');
    void goto(testsAddress(rule.recordType, rule.key, key));
  }
</script>

<div class="flex items-baseline justify-between gap-4">
  <h1><a class="hover:text-brass" href={ruleAddress(rule.recordType, rule.key)}>{rule.name}</a></h1>
  {#if draft.editable}
    <span class="flex shrink-0 gap-4">
      {#if ofTable}<button type="button" class="word" onclick={keepTable}
          >from its table, {counted(ofTable.family?.cases?.rows.length ?? 0, 'row')}</button
        >{/if}
      <button type="button" class="word" aria-expanded={pasting} onclick={() => (pasting = !pasting)}
        >from a list …</button
      >
    </span>
  {/if}
</div>
<p class="text-soft">
  {#if tests.length === 0}
    No test speaks of this rule yet.
  {:else}
    <b class="font-[650] text-ink">{counted(tests.length, 'test')}</b>
    {tests.length === 1 ? 'stands' : 'stand'} for {counted(caseCount(tests), 'case')}.
  {/if}
  {#if branches.length > 0}They reach {ownWriting(branches.filter((c) => c.state === 'reached').length)} of {ownWriting(
      branches.length,
    )} branches{/if}{#if strength && strength.planted > 0}{branches.length > 0 ? ' and notice' : 'They notice'}
    <b class="font-[650] text-ink">{strength.caught} of {strength.planted}</b> planted faults{/if}{#if branches.length > 0 || (strength && strength.planted > 0)}.{/if}
</p>

{#if pasting}
  {#await import('./PasteList.svelte') then { default: PasteList }}
    <PasteList {compiled} {program} close={() => (pasting = false)} />
  {/await}
{/if}

{#if source}
  <PinRuler {compiled} {program} {source} pins={pinned.pins} {proposed} blank={pinned.blank} />
{/if}

{#each families as t (t.key)}
  <section class="mt-4" aria-label={t.name}>
    <p class="flex items-baseline justify-between gap-3 border-b border-line pb-0.5">
      <span class={fails(t) ? 'text-stop' : 'text-soft'}
        >{t.name.replace(`${rule.name}: `, '')}, {counted(caseCount([t]), 'case')}</span
      >
      <a class="editable shrink-0" href={testsAddress(rule.recordType, rule.key, t.key)}>open</a>
    </p>
    <FamilyCases test={t} {program} lines={linesBy.get(t.key) ?? []} />
  </section>
{/each}

{#if single.length > 0}
  <h2 class="label mt-5">One by one</h2>
  <ul aria-label="Tests, one by one">
    {#each single as t (t.key)}
      {@const bad = fails(t)}
      <li class="border-b border-line py-[5px]">
        <a
          class="grid grid-cols-[14px_minmax(0,1fr)_auto] items-baseline gap-1 hover:text-brass"
          href={testsAddress(rule.recordType, rule.key, t.key)}
        >
          <span
            class={['inline-block size-[8px] rounded-full', bad ? 'border-[1.5px] border-stop' : 'bg-ok']}
            aria-hidden="true"
          ></span>
          <span class={bad ? 'text-stop' : ''}>{t.name.replace(`${rule.name}: `, '')}</span>
          <span class="text-small text-soft"
            >{bad ? 'fails' : ''} {program.entryPoints.get(t.entryPoint)?.name ?? t.entryPoint}</span
          >
        </a>
        {#if bad}<p class="ml-[15px] text-small text-stop">{(draft.testResults.get(t.key) ?? []).join(' ')}</p>{/if}
      </li>
    {/each}
  </ul>
{/if}

<Proposals {compiled} {program} show={(list) => (proposals = list)} />
<CoverageGrid {compiled} />
