<script lang="ts">
  /** The draft on a whole sample set, against what is live or stored: what changes, for whom, how much; agreed or not. */
  import { counted } from '$lib/counted.ts';
  import { driftPath, dryRunOf } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { shownInstant } from '$lib/instants.ts';
  import { nowIn } from '$lib/now.ts';
  import { ownForm, ownWriting } from '$lib/organisation.svelte.ts';
  import { useDraft } from '../draft/context.ts';
  import { useSamples } from '../samples/samples.svelte.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import type { Rulebook } from '@rigid-rule/core/document';
  import { impactWays, type ImpactWay } from '@rigid-rule/core/rule-tests';
  import { onMount, untrack } from 'svelte';
  import { Agreements } from '../proof/agreements.svelte.ts';
  import { useDryRun } from '../proof/dry-run.svelte.ts';
  import Behind from './Behind.svelte';
  import Does from './Does.svelte';
  import FlowView from './FlowView.svelte';
  import Samples from './Samples.svelte';
  import SpreadView from './SpreadView.svelte';
  import Witnesses from './Witnesses.svelte';
  import type { SampleSetInfo } from './sets.ts';

  interface Props {
    typeKey: string | undefined;
    mayAgree: boolean;
    mayMakeSets: boolean;
    /** May look at all live records. */
    mayLook: boolean;
    live: number | null;
    /** Numbers of all releases. */
    releases: readonly number[];
    sets: readonly SampleSetInfo[];
  }
  const { typeKey, mayAgree, mayMakeSets, mayLook, live, releases, sets }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();
  const offers = useOffers();
  const run = useDryRun();
  const agreements = new Agreements();

  // What is compared outlives the page, as the run does.
  const { way, against, without } = $derived({ way: run.way, against: run.against, without: run.without });
  let liveBook = $state.raw<Rulebook>();
  let problem = $state<string>();
  let sampling = $state(false);
  const set = $derived(sets.find((s) => s.id === samples.set) ?? sets[0]);

  const ways: Readonly<Record<ImpactWay, string>> = {
    'next save': 'at the next save',
    'as new': 'as new records',
    backfill: 'by a backfill',
  };
  const tried = $derived<Rulebook>(
    without === ''
      ? draft.rulebook
      : { ...draft.rulebook, rules: draft.rulebook.rules.map((r) => (r.key === without ? { ...r, on: false } : r)) },
  );
  const liveQuestion = $derived({
    way,
    without,
    against: against === 'stored' ? null : against === 'live' ? live : Number(against),
  });
  const begin = (anew = false) => {
    if (run.live) return void (anew ? run.begin(liveQuestion) : run.follow(liveQuestion));
    const baseline = against === 'stored' ? against : against === 'live' ? liveBook : formerBook;
    if (!baseline) return;
    const { edition } = samples;
    void run.run(
      { draft: tried, against: baseline, way, set: set?.id, edition, now: nowIn(draft.rulebook.zone) },
      anew,
    );
  };
  onMount(() => {
    void (async () => {
      const answer = await fetch('/api/release/rulebooks');
      if (!answer.ok) throw new Error();
      ({ live: liveBook } = (await answer.json()) as { live: Rulebook });
    })().catch(() => (problem = 'The live rulebook could not be loaded.'));
    void agreements.load();
  });
  /** A release that is not live, to compare with. */
  let formerBook = $state.raw<Rulebook>();
  $effect(() => {
    formerBook = undefined;
    if (against === 'live' || against === 'stored') return;
    let gone = false;
    void fetch(`/api/release/rulebooks?number=${against}`)
      .then(async (answer) => {
        if (!answer.ok) throw new Error();
        const { live: book } = (await answer.json()) as { live: Rulebook };
        if (!gone) formerBook = book;
      })
      .catch(() => (problem = 'That release could not be loaded.'));
    return () => (gone = true);
  });
  // What is tried is said by these; an edit of the draft begins anew once it is quiet. Live records are looked at when
  // somebody says so: what was found of them stands until then.
  $effect(() => {
    if (run.live) {
      void liveQuestion;
      untrack(() => begin());
      return;
    }
    void [tried, against, way, set, liveBook, formerBook];
    const timer = setTimeout(() => untrack(() => begin()), 350);
    return () => clearTimeout(timer);
  });

  const types = $derived(run.types.filter((t) => t.samples > 0));
  const shown = $derived(
    types.find((t) => t.recordType === typeKey) ?? types.find((t) => t.figures.changed > 0) ?? types[0],
  );
  const figures = $derived(shown?.figures);
  const recordType = $derived(draft.rulebook.recordTypes.find((t) => t.key === shown?.recordType));
  const fieldKey = $derived(page.url.searchParams.get('field') ?? figures?.fields[0]?.key);
  const field = $derived(figures?.fields.find((f) => f.key === fieldKey) ?? figures?.fields[0]);
  const order = $derived(recordType?.fields.find((f) => f.key === field?.key)?.options?.map((o) => o.name) ?? []);
  const chosen = $derived.by(() => {
    const [from, to] = [page.url.searchParams.get('from'), page.url.searchParams.get('to')];
    if (from !== null && to !== null) return { from, to };
    const [first] = field?.moves ?? [];
    return first && { from: first.from, to: first.to };
  });
  const count = $derived(field?.moves.find((m) => m.from === chosen?.from && m.to === chosen.to)?.records ?? 0);
  const message = $derived(page.url.searchParams.get('message') ?? undefined);

  const agreeable = $derived(mayAgree && against === 'live' && without === '' && !run.live);
  const percent = $derived(run.all === 0 ? 0 : Math.round((run.done / run.all) * 100));
  const left = $derived(
    run.done === 0 ? '' : `, ${Math.ceil(((run.spent / run.done) * (run.all - run.done)) / 1000)} s left`,
  );
  const rate = $derived(run.spent > 0 ? `${ownWriting(Math.round(run.done / (run.spent / 1000)))} a second` : '');
  $effect(() =>
    offers.offer(
      [],
      [
        ...(run.state === 'running' ? [{ group: 'Here', name: 'Stop the dry run', run: () => run.cancel() }] : []),
        { group: 'Here', name: 'Run it again', run: () => begin(true) },
      ],
    ),
  );
  $effect(() =>
    offers.skipTo([
      { name: 'the fields that change', pane: 'fields' },
      { name: 'the picture', pane: 'picture' },
      { name: 'what the draft does', pane: 'does' },
    ]),
  );
  const baselineName = $derived(
    against === 'stored'
      ? 'As stored'
      : against !== 'live'
        ? `Release ${against}`
        : live === null
          ? 'Nothing live'
          : `Live, release ${live}`,
  );
  const draftName = $derived(without === '' ? 'Draft' : 'Draft, one rule off');
</script>

<svelte:head><title>Dry run · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[236px_minmax(0,1fr)_272px]">
  <section class="overflow-y-auto border-r border-line pt-3" aria-label="What is tried" data-keypane="fields">
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
          {#each impactWays as w (w)}<option value={w}>{ways[w]}</option>{/each}
        </select></label
      >
      <label class="flex items-baseline justify-between gap-2"
        ><span class="text-soft">Without</span>
        <select class="editable max-w-[150px]" aria-label="Without" bind:value={run.without}>
          <option value="">all rules as drafted</option>
          {#each draft.rulebook.rules.filter((r) => r.on) as r (r.key)}<option value={r.key}>{r.name}</option>{/each}
        </select></label
      >
      {#if mayMakeSets}<button
          type="button"
          class="word justify-self-start"
          aria-expanded={sampling}
          onclick={() => (sampling = !sampling)}>sample sets …</button
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
    <nav aria-label="Record types" class="flex flex-wrap gap-x-3 gap-y-1 px-4 pt-2 pb-1 whitespace-nowrap">
      {#each types as t (t.recordType)}
        <a
          href={dryRunOf(t.recordType)}
          aria-current={t === shown ? 'page' : undefined}
          class={t === shown ? 'font-[650] shadow-[0_2px_var(--ink)]' : 'text-soft hover:text-ink'}
          >{draft.rulebook.recordTypes.find((x) => x.key === t.recordType)?.name ?? t.plural}
          {ownWriting(t.figures.changed)}</a
        >
      {/each}
    </nav>
    {#if figures && shown}
      <p class="flex justify-between px-4 pt-2 text-small text-soft">
        <span>Values changed</span><span>{shown.plural.toLowerCase()}</span>
      </p>
      {@const largest = Math.max(1, ...figures.fields.map((f) => f.records))}
      <ul aria-label="Fields that change">
        {#each figures.fields as f (f.key)}
          <li>
            <a
              href={dryRunOf(shown.recordType, { field: f.key })}
              aria-current={f === field && message === undefined ? 'true' : undefined}
              class={[
                'block px-4 py-[5px] hover:bg-sheet',
                f === field && message === undefined && 'bg-sheet font-[650] shadow-[inset_3px_0_var(--brass)]',
              ]}
            >
              <span class="flex justify-between"><span>{f.field}</span><span>{ownWriting(f.records)}</span></span>
              <span class="mt-[3px] block h-[3px] bg-line" aria-hidden="true"
                ><span class="block h-full bg-held" style:width="{Math.max(2, (f.records / largest) * 100)}%"
                ></span></span
              >
            </a>
          </li>
        {/each}
      </ul>
      {#if figures.onForm.length > 0}
        <p class="flex justify-between px-4 pt-3 text-small text-soft">
          <span>On the form</span><span>{shown.plural.toLowerCase()}</span>
        </p>
        <ul>
          {#each figures.onForm as o, nth (nth)}
            <li class="flex justify-between px-4 py-[3px]">
              <span>{o.text}</span><span>{ownWriting(o.records)}</span>
            </li>
          {/each}
        </ul>
      {/if}
      <p class="px-4 pt-3 text-small text-soft">
        {counted(
          (recordType?.fields.length ?? 0) - figures.fields.length,
          'field stays as it is',
          'fields stay as they are',
        )}.
      </p>
    {/if}
  </section>

  <section class="overflow-y-auto bg-sheet px-8 pt-[18px] pb-10" aria-label="Before and after" data-keypane="picture">
    {#if sampling}<Samples {sets} close={() => (sampling = false)} />{/if}
    {#if !shown || !figures}
      <h1>Dry run</h1>
      <p class="text-soft">
        {run.state === 'running' || run.state === 'not begun'
          ? run.live && run.state === 'not begun'
            ? 'What the draft would make of every live record is worked out when you say so: a job looks at them one by one and changes none.'
            : 'Being worked out …'
          : 'There are no samples of a record type that has rules.'}
      </p>
    {:else if !field && message === undefined}
      <h1>{shown.plural}: nothing changes in {run.live ? 'live records' : 'the samples'}</h1>
      <p class="text-soft">
        None of {ownWriting(figures.tried)} ends with another value {ways[way]}. That is not yet to say that nothing
        changes: look for records that would show a difference.
      </p>
    {:else if message === undefined && field && chosen}
      <div class="flex items-baseline justify-between gap-4"><h1>{field.field}, before and after</h1></div>
      <p class="mb-3 text-soft">
        {ownWriting(field.records)} of {ownWriting(figures.tried)}
        {shown.plural.toLowerCase()} end with another value. Moves are drawn to scale; what stays is cut short at the break.
      </p>
      {#if field.spread}<SpreadView {field} before={baselineName} after={draftName} />{/if}
      <FlowView
        {field}
        {order}
        before={baselineName}
        after={draftName}
        {chosen}
        choose={(from, to) =>
          void goto(dryRunOf(shown.recordType, { field: field.key, from, to }), { noScroll: true, keepFocus: true })}
      />
    {:else if message !== undefined}
      <h1>Newly stopped</h1>
      <p class="mb-3 text-[15px] text-stop">{message}</p>
    {/if}

    {#if recordType && shown && figures && run.state === 'done' && (message !== undefined || (field && chosen))}
      <Behind
        {run}
        {agreements}
        {recordType}
        plural={shown.plural}
        {way}
        of={message === undefined ? { field: field!.key, ...chosen! } : { message }}
        {count}
        mayAgree={agreeable}
      />
    {/if}
  </section>

  <section
    class="overflow-y-auto border-l border-line px-5 pt-4 pb-8"
    aria-label="What this draft does"
    data-keypane="does"
  >
    {#if figures && shown}<Does
        {shown}
        {agreements}
        {field}
        mayAgree={agreeable}
        counts={against === 'live' && without === '' && !run.live}
      />{/if}
    {#if liveBook}{#key tried}<Witnesses {run} live={liveBook} draft={tried} />{/key}{/if}
  </section>
</div>
