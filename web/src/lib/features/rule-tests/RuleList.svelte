<script lang="ts">
  /** The rules of a record type with how many tests each has and the share of its planted faults that they notice. */
  import { testsAddress, testsOfType } from '$lib/addresses.ts';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { KindMark } from '$lib/features/rule-kinds';
  import { arrows } from '$lib/ui/panes.ts';
  import { findRuleKind } from '@rigid-rule/core/compile';
  import { caseCount } from '../proof/cases.ts';
  import { testsOf } from '../proof/of-rule.ts';
  import { useProof } from '../proof/proof.svelte.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import TypeTabs from '$lib/ui/TypeTabs.svelte';

  interface Props {
    draft: Draft;
    typeKey: string;
    ruleKey: string | undefined;
  }
  const { draft, typeKey, ruleKey }: Props = $props();
  const proof = useProof();

  const failing = $derived(new Set(draft.testLines.flatMap((l) => (l.failures.length > 0 ? [l.of] : []))));
  const lines = $derived(
    (draft.program.types.get(typeKey)?.rules ?? []).map(({ rule }) => {
      const tests = testsOf(draft.rulebook.tests ?? [], rule);
      const strength = proof.strength.get(`rule:${rule.key}`);
      return {
        rule,
        count: tests.length,
        cases: caseCount(tests),
        bad: tests.filter((t) => failing.has(t.key)).length,
        share: strength && strength.planted > 0 ? strength.caught / strength.planted : undefined,
        strength,
      };
    }),
  );
  const typeHas = (key: string) => (draft.rulebook.rules ?? []).some((r) => r.recordType === key);
</script>

<TypeTabs
  types={draft.rulebook.recordTypes.filter((t) => typeHas(t.key) || t.key === typeKey)}
  current={typeKey}
  addressOf={testsOfType}
  class="gap-x-3 px-4 pb-2"
/>
<p class="flex justify-between px-4 pt-1 pb-1 text-small text-soft"><span>Rules</span><span>tests</span></p>
<ul aria-label="Rules with their tests" use:arrows>
  {#each lines as { rule, count, cases, bad, share, strength } (rule.key)}
    {@const on = rule.key === ruleKey}
    <li>
      <a
        href={testsAddress(typeKey, rule.key)}
        aria-current={on ? 'true' : undefined}
        data-first={on ? '' : undefined}
        class={[
          'grid grid-cols-[16px_minmax(0,1fr)_auto] gap-x-[7px] px-4 pt-[5px] pb-[7px] hover:bg-sheet',
          on && 'bg-sheet font-[650] shadow-[inset_3px_0_var(--brass)]',
        ]}
        title={cases > count ? `${cases} cases` : undefined}
      >
        <span class="pt-px text-held"
          ><KindMark kind={rule.kind} label={findRuleKind(rule.kind)?.name ?? rule.kind} /></span
        >
        <span>{rule.name}</span>
        <span class={['font-mono text-[12px]', bad > 0 ? 'text-stop' : 'font-normal text-soft']}
          >{bad > 0 ? `${bad} of ${ownWriting(count)}` : count === 0 ? 'none' : ownWriting(count)}{#if bad > 0}<span
              class="sr-only"
            >
              fail</span
            >{/if}</span
        >
        <span class="col-start-2 col-end-4 mt-[3px] h-[3px] bg-line" aria-hidden="true"
          ><span class="block h-full bg-held" style:width="{share === undefined ? 0 : Math.round(share * 100)}%"
          ></span></span
        >
        {#if strength}<span class="sr-only">{strength.caught} of {strength.planted} planted faults noticed</span>{/if}
      </a>
    </li>
  {/each}
</ul>
<p class="px-4 pt-3 text-small text-soft">bars: planted faults that some test notices</p>
