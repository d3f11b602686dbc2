<script lang="ts">
  /** What a second person wants to know before a release: claims, strength before and after, what no sample shows. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { testsOfType, testsPath } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import type { Witness } from '@rigid-rule/core/rule-tests';
  import { doing } from '../proof/doing.ts';
  import { handover } from '../proof/handover.ts';
  import { Proof, useProof } from '../proof/proof.svelte.ts';
  import { onMount } from 'svelte';
  import type { Compared, Comparison } from './comparison.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    comparison: Comparison;
  }
  const { comparison }: Props = $props();

  const proof = useProof();
  /** The tests of the live rulebook, weighed on its rules. */
  const before = new Proof();
  let books = $state.raw<Compared>();
  let problem = $state<string>();
  let witnesses = $state.raw<readonly Witness[]>();

  onMount(() => {
    void (async () => {
      books = await comparison.books();
      witnesses = await comparison.run.witnesses(books.live, books.draft);
    })().catch(() => (problem = 'What the tests come to could not be worked out.'));
    return () => before.close();
  });
  async function weigh() {
    if (!books) return;
    await proof.sweep(books.draft);
    await before.sweep(books.live);
  }
  const percent = (s: { caught: number; planted: number } | undefined) =>
    s && s.planted > 0 ? Math.floor((s.caught / s.planted) * 100) : undefined;
  const claims = $derived(books?.draft.claims ?? []);
  const known = $derived(claims.map((c) => ({ claim: c, result: proof.claims.get(c.key)?.result })));
  const broken = $derived(known.filter((k) => k.result?.state === 'broken'));
  const name = (key: string) =>
    books?.draft.rules.find((r) => r.key === key) ?? books?.live.rules.find((r) => r.key === key);
</script>

<dl>
  <div class="check-line">
    <dt>Planted faults noticed</dt>
    <dd>
      {#if percent(proof.whole) !== undefined && proof.state === 'done'}
        <a class="editable" href={testsPath}
          >{percent(proof.whole)} of 100{percent(before.whole) === undefined || before.state !== 'done'
            ? ''
            : `, were ${percent(before.whole)}`}</a
        >
      {:else if before.state === 'running'}What is live: {doing(before.progress)}
      {:else if proof.state === 'running'}{doing(proof.progress)}
      {:else}<button type="button" class="word" disabled={!books} onclick={() => void weigh()}>weigh the tests</button
        >{/if}
    </dd>
  </div>
  <div class="check-line">
    <dt>Claims</dt>
    <dd class={broken.length > 0 ? 'text-stop' : ''}>
      {#if claims.length === 0}none made
      {:else if known.every((k) => !k.result)}{ownWriting(claims.length)}, checked with the tests
      {:else}<a class="editable" href={testsOfType(claims[0]!.recordType)}
          >{broken.length === 0
            ? `none of ${ownWriting(claims.length)} broken`
            : `${ownWriting(broken.length)} of ${ownWriting(claims.length)} broken`}</a
        >{/if}
    </dd>
  </div>
</dl>
{#each broken as { claim } (claim.key)}<p class="pb-1 text-small text-stop">{claim.name}</p>{/each}
<dl>
  <div class="check-line">
    <dt>Made-up records that differ</dt>
    <dd>{witnesses ? ownWriting(witnesses.length) : 'being looked for …'}</dd>
  </div>
</dl>
<FirstOf items={witnesses ?? []} most={6} what="made-up records">
  {#snippet item(w)}<p class="pb-1 text-small">
      <button
        type="button"
        class="cursor-pointer text-left hover:text-brass"
        title="Try it on the bench"
        onclick={() =>
          void goto(handover(w.test, books?.draft.rules.some((r) => r.key === w.rule) ? w.rule : undefined))}
        >{w.text}</button
      >
      <span class="text-soft">{name(w.rule)?.name ?? w.rule}</span>
    </p>{/snippet}
</FirstOf>
{#if problem}<p class="text-stop">{problem}</p>{/if}
