<script lang="ts">
  /** All that the rules as a whole say is wrong or doubtful, the worst first; what was accepted, with its reason. */
  import { findingKinds } from '@rigid-rule/core/analysis';
  import type { Severity } from '@rigid-rule/core/diagnostics';
  import { useDraft } from '../draft/context.ts';
  import FindingActs from './FindingActs.svelte';
  import { placeOf } from './places.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  const { draft } = useDraft();

  const severities: readonly { key: Severity; name: string; plural: string; means: string }[] = [
    { key: 'error', name: 'mistake', plural: 'mistakes', means: 'has to be put right before a release' },
    { key: 'warning', name: 'likely mistake', plural: 'likely mistakes', means: 'is probably not what was meant' },
    { key: 'info', name: 'remark', plural: 'remarks', means: 'could be tidier' },
  ];
  let severity = $state<Severity | 'accepted' | ''>('');
  let text = $state('');

  const kindName = new Map(findingKinds.map((k) => [k.key, k.name]));
  const placed = $derived(draft.allFindings.map((finding) => ({ finding, place: placeOf(finding, draft.rulebook) })));
  const count = (key: Severity) => draft.findings.filter((f) => f.severity === key).length;
  const accepted = $derived(draft.allFindings.length - draft.findings.length);
  const shown = $derived(
    placed.filter(({ finding: f, place }) => {
      const state = severity === 'accepted' ? f.accepted !== undefined : f.accepted === undefined;
      const wanted = severity === '' || severity === 'accepted' || f.severity === severity;
      const said = `${f.sentence} ${place.name} ${kindName.get(f.kind) ?? ''}`.toLowerCase();
      return state && wanted && said.includes(text.trim().toLowerCase());
    }),
  );
  /** Findings of one kind stand together, under what they have in common. */
  const groups = $derived.by(() => {
    const found = new Map<string, typeof shown>();
    for (const item of shown) found.set(item.finding.kind, [...(found.get(item.finding.kind) ?? []), item]);
    return [...found];
  });
</script>

<svelte:head><title>Findings · Rigid Rule</title></svelte:head>

<div class="page bg-sheet">
  <div class="mx-auto max-w-[980px] px-6 pt-[18px] pb-12">
    <div class="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-ink pb-2">
      <h1>Findings</h1>
      {#each [{ key: '', name: `${ownWriting(draft.findings.length)} open` }, ...severities.map( (s) => ({ key: s.key, name: `${count(s.key)} ${count(s.key) === 1 ? s.name : s.plural}` }) ), { key: 'accepted', name: `${accepted} accepted` }] as choice (choice.key)}
        <button
          type="button"
          class={['word', severity === choice.key && 'chosen']}
          aria-pressed={severity === choice.key}
          onclick={() => (severity = choice.key as typeof severity)}>{choice.name}</button
        >
      {/each}
      <input
        type="search"
        class="editable ml-auto w-52"
        aria-label="Filter findings"
        placeholder="Filter findings"
        bind:value={text}
      />
    </div>
    {#if draft.allFindings.length === 0}
      <p class="pt-6 text-soft">Nothing is wrong that the rules themselves could tell.</p>
    {:else if shown.length === 0}
      <p class="pt-6 text-soft">{severity === 'accepted' ? 'None was accepted.' : 'None of these.'}</p>
    {/if}
    {#each groups as [kind, items] (kind)}
      {@const first = items[0]!.finding}
      <section class="pt-5" aria-label={kindName.get(kind) ?? kind}>
        <h2 class="flex items-baseline gap-2.5 text-[14px] font-[650]">
          <span
            class={[
              'size-1.5 shrink-0 self-center',
              first.severity === 'error' ? 'bg-stop' : first.severity === 'warning' ? 'bg-brass' : 'border border-edge',
            ]}
          ></span>
          {kindName.get(kind) ?? kind}
          <span class="text-small font-normal text-faint"
            >{items.length > 1 ? `${ownWriting(items.length)} times; ` : ''}{severities.find(
              (s) => s.key === first.severity,
            )?.means}</span
          >
        </h2>
        <ul>
          {#each items as { finding: f, place }, i (`${f.key} ${i}`)}
            <li class="grid grid-cols-[200px_minmax(0,1fr)] gap-x-5 border-t border-line py-1.5 max-md:grid-cols-1">
              <a href={place.href} class="hover:text-brass"
                >{place.name}<span class="block text-small text-faint">{place.within}</span></a
              >
              <div>
                <p class={f.severity === 'error' ? 'text-stop' : ''}>{f.sentence}</p>
                {#if f.accepted !== undefined}<p class="text-small text-soft">Accepted: {f.accepted}</p>{/if}
                <FindingActs {draft} finding={f} />
              </div>
            </li>
          {/each}
        </ul>
      </section>
    {/each}
  </div>
</div>

<style>
  .chosen {
    color: var(--ink);
    font-weight: 650;
    box-shadow: inset 0 -2px var(--brass);
  }
</style>
