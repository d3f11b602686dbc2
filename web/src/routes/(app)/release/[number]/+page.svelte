<script lang="ts">
  /** A release as it was: its note, what it changed, and what putting it back would change. */
  import { releaseAddress, releasePath } from '$lib/addresses.ts';
  import { counted } from '$lib/counted.ts';
  import { ChangeList, PutBack, Timeline, timelineOf } from '$lib/features/release';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { ownMoments } from '$lib/organisation.svelte.ts';

  const { data, form } = $props();
  const offers = useOffers();
  const { release, live, against, other } = $derived(data);
  const isLive = $derived(release.number === live);
  const moment = $derived(ownMoments({ dateStyle: 'long', timeStyle: 'short' }));
  const head = $derived.by(() => {
    if (against === 'live') return `Putting it back: ${counted(data.count, 'change')} to release ${live}`;
    return other === null ? 'What it began with' : `${counted(data.count, 'change')} to release ${other}`;
  });
  $effect(() => {
    offers.status = 'A release never changes   ·   Stored values stay until a save or a backfill changes them';
    return () => (offers.status = '');
  });
</script>

<svelte:head><title>Release {release.number} · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[300px_minmax(0,1fr)_330px]">
  <section class="overflow-y-auto border-r border-line pt-4 max-lg:order-3" aria-label="Releases">
    <h2 class="px-4 font-[650]">What went live</h2>
    <Timeline entries={timelineOf(data.activations)} current={release.number} />
  </section>

  <section class="overflow-y-auto bg-sheet px-8 pt-[18px] pb-10" aria-label="What the release changes">
    {#if form?.putBack}
      <p class="mb-4 border-l-[3px] border-ok bg-paper px-3 py-2" role="status">
        Release {form.putBack} is live again. The draft stays as it is.
      </p>
    {/if}
    <h1>
      Release {release.number}{#if isLive}<span class="text-brass">, live</span>{/if}
    </h1>
    <p class="text-soft">
      Released by {release.releasedBy ?? 'the installation'}, {moment.format(release.releasedAt)}.
    </p>
    <p class="my-3 max-w-[68ch] whitespace-pre-line">{release.note}</p>
    {#if live !== null && !isLive}
      <nav class="mb-1 flex flex-wrap gap-x-5" aria-label="Compared with">
        {#each [['before', 'What it changed'], ['live', `What putting it back would change`]] as const as [key, text] (key)}
          <a
            class={key === against ? 'font-[650] shadow-[0_2px_var(--ink)]' : 'text-soft hover:text-ink'}
            aria-current={key === against ? 'page' : undefined}
            href={releaseAddress(release.number, key === 'live' ? key : undefined)}>{text}</a
          >
        {/each}
      </nav>
    {/if}
    <h2 class="mt-3 border-b border-line pb-1.5 text-[15px] font-[650]">{head}</h2>
    {#key `${release.number} ${against} ${live}`}
      <ChangeList
        beginning={data.beginning}
        count={data.count}
        of={{ release: release.number, against }}
        names={[other === null ? 'Before' : `Release ${other}`, `Release ${release.number}`]}
      />
    {/key}
  </section>

  <section class="overflow-y-auto border-l border-line px-5 pt-4 pb-8" aria-label="About the release">
    <p class="mb-4"><a class="editable" href={releasePath}>What the draft changes now</a></p>
    <p class="label">SHA-256 of the snapshot</p>
    <p class="mb-4 font-mono text-[11.5px] leading-4 break-all text-soft">{release.sha256}</p>
    {#if data.mayRelease && live !== null && !isLive}
      <PutBack earlier={[release]} problem={form?.backProblem} only />
    {:else if !isLive}<p class="text-soft">A releaser can put it back.</p>{/if}
  </section>
</div>
