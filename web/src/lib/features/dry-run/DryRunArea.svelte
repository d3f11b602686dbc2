<script lang="ts">
  /** The draft on a whole sample set, against what is live or stored: what changes, for whom, how much; agreed or not. */
  import { ask } from '$lib/network.ts';
  import { dryRunOf } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { nowIn } from '$lib/now.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { useDraft } from '../draft/context.ts';
  import { useSamples } from '../samples/samples.svelte.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import type { Rulebook } from '@rigid-rule/core/document';
  import { onMount, untrack } from 'svelte';
  import { Agreements } from '../proof/agreements.svelte.ts';
  import { useDryRun } from '../proof/dry-run.svelte.ts';
  import Behind from './Behind.svelte';
  import ChangedFields from './ChangedFields.svelte';
  import Does from './Does.svelte';
  import FlowView from './FlowView.svelte';
  import RunChoices from './RunChoices.svelte';
  import Samples from './Samples.svelte';
  import SpreadView from './SpreadView.svelte';
  import Witnesses from './Witnesses.svelte';
  import type { SampleSetInfo } from './sets.ts';
  import { wayWords } from './way-words.ts';

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

  const makeSets = $derived({ open: sampling, toggle: () => (sampling = !sampling) });
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
      const answer = await ask('/api/release/rulebooks');
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
    void ask(`/api/release/rulebooks?number=${against}`)
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
    <RunChoices {sets} {set} {live} {releases} {mayLook} {problem} {begin} {...mayMakeSets ? { makeSets } : {}} />
    <ChangedFields {types} {shown} field={message === undefined ? field : undefined} />
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
        None of {ownWriting(figures.tried)} ends with another value {wayWords[way]}. That is not yet to say that nothing
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
