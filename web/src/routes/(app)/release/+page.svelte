<script lang="ts">
  import ReleaseLink from '$lib/ui/ReleaseLink.svelte';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { deskPath } from '$lib/addresses.ts';
  import {
    ChangeList,
    Checks,
    Comparison,
    Impact,
    PutBack,
    ReleaseProof,
    Timeline,
    timelineOf,
  } from '$lib/features/release';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import SentForm from '$lib/ui/SentForm.svelte';

  const { data, form } = $props();
  const offers = useOffers();
  let note = $state('');
  let reason = $state('');

  /** What the draft is compared with; another draft, another comparison. */
  const comparison = $derived.by(() => {
    void data.fingerprint;
    return new Comparison();
  });
  $effect(() => {
    const own = comparison;
    return () => own.close();
  });

  const next = $derived((data.releases[0]?.number ?? 0) + 1);
  const entries = $derived(timelineOf(data.activations));
  const earlier = $derived(data.releases.filter((r) => r.number !== data.live));
  const digest = $derived(data.releases.find((r) => r.number === data.live)?.sha256);
  $effect(() => {
    offers.status = 'Nothing goes live before it is released   ·   An earlier release can be put back at any time';
    return () => (offers.status = '');
  });
</script>

<svelte:head><title>Release · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[300px_minmax(0,1fr)_330px]">
  <section class="overflow-y-auto border-r border-line pt-4 max-lg:order-3" aria-label="Releases">
    <h2 class="px-4 font-[650]">What went live</h2>
    {#if entries.length > 0}<Timeline {entries} />{:else}<p class="quiet px-4 pt-2">
        Nothing has been released yet.
      </p>{/if}
  </section>

  <section class="overflow-y-auto bg-sheet px-8 pt-[18px] pb-10" aria-label="What the draft changes">
    {#if form?.released}
      <p class="mb-4 border-l-[3px] border-ok bg-paper px-3 py-2" role="status">
        Release {form.released} is live. Every write is settled under it from now on.
      </p>
    {:else if form?.putBack}
      <p class="mb-4 border-l-[3px] border-ok bg-paper px-3 py-2" role="status">
        Release {form.putBack} is live again. The draft stays as it is.
      </p>
    {/if}
    {#if data.changeCount === 0}
      <h1>The draft is what is live</h1>
      <p class="text-soft">
        Nothing has changed since {#if data.live !== null}<ReleaseLink number={data.live} />{/if}. Change a rule on
        <a class="editable" href={deskPath}>the desk</a>, and what it changes stands here.
      </p>
    {:else}
      <h1>Release {next}: {data.changeCount === 1 ? '1 change' : `${ownWriting(data.changeCount)} changes`}</h1>
      <p class="mb-3 text-soft">
        {data.lastEdit ? `Last changed by ${data.lastEdit.by}. ` : ''}{#if data.live === null}The first release.{:else}Against
          <ReleaseLink number={data.live} />, which is live.{/if}
      </p>
      {#key `${data.live} ${data.fingerprint}`}
        <ChangeList
          beginning={data.beginning}
          count={data.changeCount}
          of={{ fingerprint: data.fingerprint }}
          names={[data.live === null ? 'Before' : `Release ${data.live}`, 'Draft']}
          linked
        />
        <Impact {comparison} zone={data.zone} />
      {/key}
    {/if}
  </section>

  <section class="scroll-pb-52 overflow-y-auto border-l border-line px-5 pt-4 pb-8" aria-label="Before it goes live">
    <h2 class="mb-2 font-[650]">Before it goes live</h2>
    <Checks {data} />
    {#if data.changeCount > 0}{#key data.fingerprint}<div class="mb-3"><ReleaseProof {comparison} /></div>{/key}{/if}

    {#if data.mayRelease && data.changeCount > 0}
      <!-- In sight however long the lists above it are, at the very end of the column in spite of its padding. -->
      <SentForm
        action="?/release"
        reset={false}
        class="sticky -bottom-8 -mx-5 mb-6 grid gap-2.5 border-t border-ink bg-paper px-5 pt-2.5 pb-3"
      >
        {#snippet children(busy)}
          <input type="hidden" name="fingerprint" value={data.fingerprint} />
          <label class="grid gap-1">
            <span class="label">Note, kept with the release</span>
            <textarea
              name="note"
              rows="2"
              class="box py-1"
              required
              maxlength="2000"
              bind:value={note}
              placeholder="What changes, and why"></textarea>
          </label>
          {#if data.failing.length > 0}
            <label class="grid gap-1">
              <span class="label"
                >Why it goes live though {data.failing.length === 1 ? 'a test fails' : 'tests fail'}</span
              >
              <textarea name="reason" rows="2" class="box py-1" required maxlength="2000" bind:value={reason}
              ></textarea>
            </label>
          {/if}
          {#if form?.problem}<p class="text-stop" role="alert">{form.problem}</p>{/if}
          <button class="button" disabled={busy || data.blocking.length > 0 || data.late !== undefined}
            >{busy ? 'Releasing …' : `Release ${next} to everybody`}</button
          >
          <p class="text-small text-soft">Stored values stay until a save or a backfill changes them.</p>
        {/snippet}
      </SentForm>
    {:else if !data.mayRelease && data.changeCount > 0}
      <p class="mb-6 text-soft">A releaser reads these changes and lets them go live. You can read everything here.</p>
    {/if}

    {#if data.live !== null}
      <h2 class="mb-1 border-t border-line pt-3 font-[650]">Live: release {data.live}</h2>
      <p class="label">SHA-256 of the snapshot</p>
      <p class="mb-3 font-mono text-[11.5px] leading-4 break-all text-soft">{digest}</p>
    {/if}
    {#if data.mayRelease && earlier.length > 0}
      <PutBack {earlier} problem={form?.backProblem} />
    {/if}
  </section>
</div>
