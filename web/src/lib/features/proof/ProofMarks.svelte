<script lang="ts">
  /** Three small marks of a rule with words: its tests, what they reach, what they notice. */
  import { counted } from '$lib/counted.ts';
  import { testsAddress } from '$lib/addresses.ts';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import type { Rule } from '@rigid-rule/core/document';
  import { testsOf } from './of-rule.ts';
  import { useProof } from './proof.svelte.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    draft: Draft;
    rule: Rule;
  }
  const { draft, rule }: Props = $props();
  const proof = useProof();
  const tests = $derived(testsOf(draft.rulebook.tests ?? [], rule));
  const failing = $derived(tests.filter((t) => (draft.testResults.get(t.key)?.length ?? 0) > 0).length);
  const reach = $derived.by(() => {
    const cells = draft.coverage?.rules
      .find((r) => r.rule === rule.key)
      ?.cells.filter((c) => c.state !== 'cannot be reached');
    return cells && { reached: cells.filter((c) => c.state === 'reached').length, all: cells.length };
  });
  const strength = $derived(proof.strength.get(`rule:${rule.key}`));
</script>

<p class="flex flex-wrap items-center gap-x-4 gap-y-0.5 text-small">
  <a class="py-[3px] hover:text-brass" href={testsAddress(rule.recordType, rule.key)}
    ><span
      class={[
        'mr-1 inline-block size-[7px] rounded-full',
        failing > 0 ? 'bg-stop' : tests.length > 0 && draft.analysed ? 'bg-ok' : 'border border-edge',
      ]}
      aria-hidden="true"
    ></span>{failing > 0
      ? `${failing} of ${counted(tests.length, 'test')} fail`
      : tests.length === 0
        ? 'no test yet'
        : `${counted(tests.length, 'test')}${draft.analysed ? (tests.length === 1 ? ' holds' : ' hold') : ''}`}</a
  >
  {#if reach}<span class="text-soft"
      ><span
        class={['mr-1 inline-block h-[7px] w-[7px]', reach.reached === reach.all ? 'bg-ok' : 'border border-edge']}
        aria-hidden="true"
      ></span>{reach.reached} of {ownWriting(reach.all)} reached</span
    >{/if}
  {#if strength && strength.planted > 0}<span class="text-soft"
      ><span
        class={[
          'mr-1 inline-block h-[7px] w-[7px] rotate-45',
          strength.caught === strength.planted ? 'bg-ok' : 'border border-edge',
        ]}
        aria-hidden="true"
      ></span>{strength.caught} of {strength.planted} planted faults noticed</span
    >{/if}
</p>
