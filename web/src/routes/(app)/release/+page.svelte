<script lang="ts">
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { deskPath, findingsPath, ruleAddress } from '$lib/addresses.ts';
  import type { Rule } from '@rigid-rule/core/document';
  import { Comparison, Impact, ReleaseProof, Timeline } from '$lib/features/release';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { kindFace, KindMark } from '$lib/features/rule-kinds';
  import SentForm from '$lib/ui/SentForm.svelte';

  const { data, form } = $props();
  const offers = useOffers();
  /** Changes that are told at once. */
  let most = $state(200);
  let note = $state('');
  let reason = $state('');
  let chosen = $state<number>();
  let why = $state('');
  let backOpen = $state(false);

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
  const entries = $derived(
    data.activations.map((a, i) => ({
      id: String(a.id),
      at: a.activatedAt,
      head: `Release ${a.release}${data.activations.slice(i + 1).some((b) => b.release === a.release) ? ', put back' : ''}`,
      note: a.note,
      by: a.activatedBy,
      live: i === 0,
    })),
  );
  const earlier = $derived(data.releases.filter((r) => r.number !== data.live));
  const digest = $derived(data.releases.find((r) => r.number === data.live)?.sha256);
  function pictureOf(c: (typeof data.changes)[number]) {
    const picture = kindFace(c.ruleKind ?? '')?.picture;
    if (!picture || !c.before || !c.after) return undefined;
    const [before, after] = [c.before as Rule, c.after as Rule];
    return picture.shows(before, after) ? { load: picture.load, before, after } : undefined;
  }
  const typeOf = (rule: Rule) => data.recordTypes.find((t) => t.key === rule.recordType)!;
  const verb = { added: 'New.', removed: 'Removed.', changed: '' } as const;

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
    {#if data.changes.length === 0}
      <h1>The draft is what is live</h1>
      <p class="text-soft">
        Nothing has changed since release {data.live}. Change a rule on
        <a class="editable" href={deskPath}>the desk</a>, and what it changes stands here.
      </p>
    {:else}
      <h1>Release {next}: {data.changes.length === 1 ? '1 change' : `${ownWriting(data.changes.length)} changes`}</h1>
      <p class="mb-3 text-soft">
        {data.lastEdit ? `Last changed by ${data.lastEdit.by}. ` : ''}{data.live === null
          ? 'The first release.'
          : `Against release ${data.live}, which is live.`}
      </p>
      <ol>
        {#each data.changes.slice(0, most) as c, i (c.part.kind + c.part.key)}
          {@const picture = pictureOf(c)}
          <li class="grid grid-cols-[22px_20px_minmax(0,1fr)] border-b border-line py-2.5 last:border-0">
            <span class="quiet text-right pr-2">{i + 1}</span>
            <span class="text-held"
              >{#if c.ruleKind}<KindMark kind={c.ruleKind} label={c.ruleKind} />{/if}</span
            >
            <div class="min-w-0">
              <p>
                {#if c.recordType}<a class="font-[650] hover:text-brass" href={ruleAddress(c.recordType, c.part.key)}
                    >{c.name}.</a
                  >{:else}<b class="font-[650]">{c.name}.</b>{/if}
                {verb[c.what]}
                {#each c.phrases as phrase, j (j)}<span class="block first-letter:uppercase"
                    >{phrase}{phrase.endsWith('.') ? '' : '.'}</span
                  >{/each}
              </p>
              {#if picture}
                {@const { before, after } = picture}
                {#await picture.load() then { default: Picture }}
                  <Picture {before} {after} recordType={typeOf(after)} live={data.live} />
                {/await}
              {/if}
            </div>
          </li>
        {/each}
      </ol>
      {#if data.changes.length > most}<button type="button" class="word my-3" onclick={() => (most = Infinity)}
          >show the other {ownWriting(data.changes.length - most)} changes</button
        >{/if}
      {#key data.fingerprint}<Impact {comparison} zone={data.zone} />{/key}
    {/if}
  </section>

  <section class="scroll-pb-52 overflow-y-auto border-l border-line px-5 pt-4 pb-8" aria-label="Before it goes live">
    <h2 class="mb-2 font-[650]">Before it goes live</h2>
    <dl>
      <div class="check-line">
        <dt>To put right first</dt>
        <dd class={data.blocking.length > 0 || data.late ? 'text-stop' : 'text-ok'}>
          {data.late ?? (data.blocking.length === 0 ? 'nothing' : data.blocking.length)}
        </dd>
      </div>
      {#each data.blocking as f, nth (nth)}
        <p class="pb-1 text-small">
          <a class="editable" href={f.place.href}>{f.place.name}</a>{f.sentence.startsWith(f.place.name)
            ? f.sentence.slice(f.place.name.length)
            : `: ${f.sentence}`}
        </p>
      {/each}
      <div class="check-line">
        <dt>Tests</dt>
        <dd class={data.failing.length > 0 ? 'text-stop' : 'text-ok'}>
          {data.tests === 0
            ? 'none kept'
            : data.failing.length === 0
              ? `all ${data.tests} hold`
              : `${data.failing.length} of ${data.tests} fail`}
        </dd>
      </div>
      {#each data.failing as test, nth (nth)}
        <p class="pb-1 text-small"><b class="font-[650]">{test.name}</b> {test.failures.join(' ')}</p>
      {/each}
      <div class="check-line">
        <dt>Other findings</dt>
        <dd class={data.open > 0 ? 'text-brass-ink' : 'text-ok'}>
          {#if data.open === 0}none{:else}<a class="editable" href={findingsPath}>{data.open} open</a>{/if}
        </dd>
      </div>
    </dl>
    {#if data.changes.length > 0}{#key data.fingerprint}<div class="mb-3"><ReleaseProof {comparison} /></div>{/key}{/if}

    {#if data.mayRelease && data.changes.length > 0}
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
    {:else if !data.mayRelease && data.changes.length > 0}
      <p class="mb-6 text-soft">A releaser reads these changes and lets them go live. You can read everything here.</p>
    {/if}

    {#if data.live !== null}
      <h2 class="mb-1 border-t border-line pt-3 font-[650]">Live: release {data.live}</h2>
      <p class="label">SHA-256 of the snapshot</p>
      <p class="mb-3 font-mono text-[11.5px] leading-4 break-all text-soft">{digest}</p>
    {/if}
    {#if data.mayRelease && earlier.length > 0}
      <details bind:open={backOpen}>
        <summary class="cursor-pointer"><span class="editable">Put an earlier release back</span></summary>
        <SentForm action="?/putBack" class="mt-3 grid gap-2.5">
          {#snippet children(busy)}
            <fieldset class="grid gap-1.5">
              <legend class="label">Which one</legend>
              {#each earlier as r (r.number)}
                <label class="flex gap-2"
                  ><input
                    type="radio"
                    name="number"
                    value={r.number}
                    bind:group={chosen}
                    class="mt-1 accent-(--brass)"
                  /><span><b class="font-[650]">Release {r.number}</b> <span class="text-soft">{r.note}</span></span
                  ></label
                >
              {/each}
            </fieldset>
            <label class="grid gap-1"
              ><span class="label">Why</span><input
                name="note"
                required
                maxlength="2000"
                class="box py-1"
                bind:value={why}
              /></label
            >
            {#if form?.backProblem}<p class="text-stop" role="alert">{form.backProblem}</p>{/if}
            <button class="button plain" disabled={chosen === undefined || busy}
              >{busy ? 'Putting it back …' : `Put release ${chosen ?? '…'} back`}</button
            >
          {/snippet}
        </SentForm>
      </details>
    {/if}
  </section>
</div>

<style>
  .check-line {
    display: flex;
    justify-content: space-between;
    border-bottom: 1px solid var(--line);
    padding: 5px 0;
  }
</style>
