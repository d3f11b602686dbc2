<script lang="ts">
  /** What a dry run tries, against what and how, and how far it has come. */
  import { impactWays } from '@rigid-rule/core/rule-tests';
  import { driftPath } from '$lib/addresses.ts';
  import { counted } from '$lib/counted.ts';
  import { shownInstant } from '$lib/instants.ts';
  import { ownForm, ownWriting } from '$lib/organisation.svelte.ts';
  import { useDraft } from '../draft/context.ts';
  import { useDryRun } from '../proof/dry-run.svelte.ts';
  import { useSamples } from '../samples/samples.svelte.ts';
  import type { SampleSetInfo } from './sets.ts';
  import { wayWords } from './way-words.ts';

  interface Props {
    sets: readonly SampleSetInfo[];
    set: SampleSetInfo | undefined;
    live: number | null;
    /** Numbers of all releases. */
    releases: readonly number[];
    /** May look at all live records. */
    mayLook: boolean;
    /** Why what is compared with is not there. */
    problem: string | undefined;
    begin: (anew: boolean) => void;
    /** Opens and closes what makes sample sets; absent for those who may not. */
    makeSets?: { readonly open: boolean; readonly toggle: () => void };
  }
  const { sets, set, live, releases, mayLook, problem, begin, makeSets }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();
  const run = useDryRun();

  const percent = $derived(run.all === 0 ? 0 : Math.round((run.done / run.all) * 100));
  const left = $derived(
    run.done === 0 ? '' : `, ${Math.ceil(((run.spent / run.done) * (run.all - run.done)) / 1000)} s left`,
  );
  const rate = $derived(run.spent > 0 ? `${ownWriting(Math.round(run.done / (run.spent / 1000)))} a second` : '');
</script>

<div class="grid gap-y-1 border-b border-line px-4 pb-3">
  <label class="flex items-baseline justify-between gap-2"
    ><span class="text-soft">Samples</span>
    <select
      class="editable max-w-[150px]"
      aria-label="Samples"
      value={run.live ? 'live' : String(set?.id ?? '')}
      onchange={(e) => {
        const { value } = e.currentTarget;
        run.live = value === 'live';
        // Live records are compared with a release or with what they hold: before the first release with the latter.
        if (run.live && live === null) run.against = 'stored';
        if (!run.live) samples.choose(Number(value));
      }}
    >
      {#each sets as s (s.id)}<option value={String(s.id)}>{s.name}</option>{/each}
      {#if mayLook}<option value="live">live records, read only</option>{/if}
    </select></label
  >
  <label class="flex items-baseline justify-between gap-2"
    ><span class="text-soft">Against</span>
    <select class="editable" aria-label="Against" bind:value={run.against}>
      {#if !run.live || live !== null}
        <option value="live">{live === null ? 'nothing live' : `release ${live}`}</option>
      {/if}
      <option value="stored">what is stored</option>
      {#each releases.filter((r) => r !== live) as r (r)}<option value={String(r)}>release {r}</option>{/each}
    </select></label
  >
  <label class="flex items-baseline justify-between gap-2"
    ><span class="text-soft">How</span>
    <select class="editable" aria-label="How" bind:value={run.way}>
      {#each impactWays as w (w)}<option value={w}>{wayWords[w]}</option>{/each}
    </select></label
  >
  <label class="flex items-baseline justify-between gap-2"
    ><span class="text-soft">Without</span>
    <select class="editable max-w-[150px]" aria-label="Without" bind:value={run.without}>
      <option value="">all rules as drafted</option>
      {#each draft.rulebook.rules.filter((r) => r.on) as r (r.key)}<option value={r.key}>{r.name}</option>{/each}
    </select></label
  >
  {#if makeSets}<button
      type="button"
      class="word justify-self-start"
      aria-expanded={makeSets.open}
      onclick={makeSets.toggle}>sample sets …</button
    >{/if}
  <a class="word justify-self-start" href={driftPath}>drift of live records</a>
  <p class="text-small text-soft" role="status">
    {#if problem ?? run.problem}<span class="text-stop">{problem ?? run.problem}</span>
    {:else if run.state === 'running'}{percent} %{left}{rate ? `, ${rate}` : ''}
      <button type="button" class="word ml-1" onclick={() => run.cancel()}>stop</button>
    {:else if run.state === 'cancelled'}Stopped at {percent} %.
      <button type="button" class="word" onclick={() => begin(true)}>run it again</button>
    {:else if run.state === 'done' && run.asker}{ownWriting(run.done)} live records, asked for by {run.asker.by},
      {shownInstant(run.asker.at, draft.rulebook.zone, ownForm())}
      <button type="button" class="word" onclick={() => begin(true)}>look again</button>
    {:else if run.state === 'done'}{counted(run.done, 'record')} in {ownWriting(Math.round(run.spent / 100) / 10)} s
    {:else if run.live}<button type="button" class="button mt-1" onclick={() => begin(true)}
        >Look at live records</button
      >
      <span class="mt-1 block">Each is settled on the server; nothing is stored.</span>
    {:else}Being made ready …{/if}
  </p>
</div>
