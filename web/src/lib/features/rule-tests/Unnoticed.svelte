<script lang="ts">
  /** What no test of a rule would notice, alike faults together, with the tests that would. */
  import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
  import { survivorGroups } from './groups.ts';
  import { useProof } from '../proof/proof.svelte.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    compiled: CompiledRule;
    program: TypeProgram;
  }
  const { compiled }: Props = $props();
  const proof = useProof();

  const ids = $derived([`rule:${compiled.rule.key}`, ...[...compiled.tables].map((t) => `table:${t}`)]);
  const parts = $derived(ids.flatMap((id) => proof.strength.get(id) ?? []));
  const groups = $derived(survivorGroups(parts));
  const sum = $derived(parts.reduce((s, p) => [s[0]! + p.caught, s[1]! + p.planted], [0, 0]));
  const same = $derived(parts.reduce((n, p) => n + p.same, 0));
  const undecided = $derived(parts.flatMap((p) => p.undecided));
  /** Groups whose single faults are on show. */
  let open = $state<string>();
</script>

<h2 class="font-[650]">What no test would notice</h2>
{#if parts.length === 0}
  <p class="text-small text-soft">{compiled.rule.on ? 'Not weighed yet.' : 'The rule is switched off.'}</p>
{:else if sum[1] === 0}
  <p class="text-small text-soft">No small fault in this rule could be told from the rule as it is.</p>
{:else}
  <p class="mb-2 text-small text-soft">
    {sum[1]! - sum[0]! === 0
      ? `All ${sum[1]} planted faults would be noticed.`
      : `${sum[1]! - sum[0]!} of ${sum[1]} planted faults in this rule`}
  </p>
{/if}
<ul>
  {#each groups as group (group.kind)}
    <li class="border-b border-line py-1.5">
      <p>{group.sentence}</p>
      <p class="text-small text-soft">
        {group.tests.length === 1 ? 'One test' : `${ownWriting(group.tests.length)} tests`} would catch {group.survivors
          .length === 1
          ? 'it'
          : 'them'}, among the proposed: “{group.tests[0]!.name.replace(`${compiled.rule.name}: `, '')}”.
      </p>
      {#if group.survivors.length > 1}
        <button
          type="button"
          class="word"
          aria-expanded={open === group.kind}
          onclick={() => (open = open === group.kind ? undefined : group.kind)}
          >{open === group.kind ? 'hide them' : 'which ones'}</button
        >
        {#if open === group.kind}
          <ul class="mt-1 text-small text-soft">
            {#each group.survivors as s, i (i)}<li class="py-px">{s.text}</li>{/each}
          </ul>
        {/if}
      {/if}
    </li>
  {/each}
</ul>
{#if same > 0 || undecided.length > 0}
  <p class="mt-1.5 text-small text-soft">
    {#if same > 0}{same} {same === 1 ? 'is' : 'are'} the same as the rule itself.{/if}
    {#if undecided.length > 0}
      <span title={undecided.map((u) => u.text).join('\n')}
        >{ownWriting(undecided.length)} could not be told apart by any record tried.</span
      >{/if}
  </p>
{/if}
