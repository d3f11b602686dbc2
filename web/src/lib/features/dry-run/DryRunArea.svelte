<script lang="ts">
  /** The draft on a whole sample set, against what is live or stored: what changes, for whom, how much; agreed or not. */
  import { dryRunOf } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { nowIn } from '$lib/now.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { handover } from '../rule-tests/handover.ts';
  import { useDraft } from '../draft/context.ts';
  import { chooseSet, useSamples } from '../samples/samples.svelte.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { recordTitle } from '@rigid-rule/core/language';
  import type { Rulebook } from '@rigid-rule/core/document';
  import { impactWays, type ImpactWay, type MovedRecord, type Witness } from '@rigid-rule/core/rule-tests';
  import { onMount, untrack } from 'svelte';
  import { agreementKey, Agreements } from './agreements.svelte.ts';
  import { DryRun } from './dry-run.svelte.ts';
  import { csvOf } from './csv.ts';
  import FlowView from './FlowView.svelte';
  import Samples from './Samples.svelte';
  import SpreadView from './SpreadView.svelte';
  import type { SampleSetInfo } from './sets.ts';

  interface Props {
    typeKey: string | undefined;
    mayAgree: boolean;
    mayMakeSets: boolean;
    live: number | null;
    sets: readonly SampleSetInfo[];
  }
  const { typeKey, mayAgree, mayMakeSets, live, sets }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();
  const offers = useOffers();
  const run = new DryRun();
  const agreements = new Agreements();

  let way = $state<ImpactWay>('backfill');
  let against = $state<'live' | 'stored'>('live');
  /** Key of a rule that is switched off in what is tried. */
  let without = $state('');
  let setId = $state(untrack(() => samples.set));
  let liveBook = $state.raw<Rulebook>();
  let problem = $state<string>();
  let sampling = $state(false);
  const set = $derived(sets.find((s) => s.id === setId) ?? sets[0]);

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
  const begin = () => {
    const baseline = against === 'stored' ? against : liveBook;
    if (!baseline) return;
    void run.run({ draft: tried, against: baseline, way, set: set?.id, now: nowIn(draft.rulebook.zone) });
  };
  onMount(() => {
    void (async () => {
      const answer = await fetch('/api/release/rulebooks');
      if (!answer.ok) throw new Error();
      ({ live: liveBook } = (await answer.json()) as { live: Rulebook });
    })().catch(() => (problem = 'The live rulebook could not be loaded.'));
    void agreements.load();
    return () => run.close();
  });
  // What is tried is said by these; an edit of the draft begins anew once it is quiet.
  $effect(() => {
    void [tried, against, way, set, liveBook];
    const timer = setTimeout(() => untrack(begin), 350);
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

  let behind = $state.raw<{ records: readonly MovedRecord[]; trait: string | undefined }>();
  const mostRows = 100;
  $effect(() => {
    const type = shown?.recordType;
    const key = field?.key;
    const of =
      message !== undefined ? { message } : chosen && key !== undefined ? { field: key, ...chosen } : undefined;
    if (run.state !== 'done' || type === undefined || !of) return;
    let gone = false;
    void run.behind(type, of, mostRows).then((found) => {
      if (!gone) behind = found;
    });
    return () => (gone = true);
  });
  const columns = $derived(
    recordType?.fields.filter((f) => f.key !== field?.key && !recordType.title.includes(f.key)).slice(0, 2) ?? [],
  );
  const value = (r: MovedRecord, key: string) => {
    const own = draft.program.types.get(recordType!.key)!;
    const slot = own.slots[own.slotOf.get(key)!]!;
    return slot.type.format(r.data[key] ?? null, slot.field);
  };

  let witnesses = $state.raw<readonly Witness[]>();
  let looking = $state(false);
  async function look() {
    if (!liveBook) return;
    looking = true;
    witnesses = await run.witnesses(liveBook, tried).catch(() => []);
    looking = false;
  }
  $effect(() => {
    void tried;
    untrack(() => (witnesses = undefined));
  });

  const agreedHere = $derived(
    (figures?.fields ?? [])
      .flatMap((f) => f.moves.map((m) => ({ field: f.key, ...m })))
      .reduce((n, m) => n + (agreements.covers(shown!.recordType, m) ? m.records : 0), 0),
  );
  const movedHere = $derived((figures?.fields ?? []).reduce((n, f) => n + f.records, 0));
  const agreedNow = $derived(
    field && chosen
      ? agreements.known.get(agreementKey({ recordType: shown!.recordType, field: field.key, ...chosen }))
      : undefined,
  );
  const percent = $derived(run.all === 0 ? 0 : Math.round((run.done / run.all) * 100));
  const left = $derived(
    run.done === 0 ? '' : `, ${Math.ceil(((run.spent / run.done) * (run.all - run.done)) / 1000)} s left`,
  );
  const rate = $derived(run.spent > 0 ? `${ownWriting(Math.round(run.done / (run.spent / 1000)))} a second` : '');
  const openOnBench = (r: MovedRecord) =>
    goto(
      handover({
        key: 'dry-run',
        name: recordType ? recordTitle(recordType, r.data) : r.id,
        recordType: shown!.recordType,
        before: way === 'as new' ? null : { data: r.data },
        sent: way === 'as new' ? r.data : {},
        moment: way === 'as new' ? 'creating' : 'updating',
        entryPoint: way === 'backfill' ? 'backfill' : `form:${recordType?.forms[0]?.key ?? 'full'}`,
        now: nowIn(draft.rulebook.zone),
        ...(way === 'backfill'
          ? {
              woken: draft.program.types
                .get(shown!.recordType)!
                .rules.filter((x) => x.standing)
                .map((x) => x.rule.key),
            }
          : {}),
        expect: {},
      }),
    );
  async function download() {
    if (!shown || !recordType || !field || !chosen) return;
    const all = await run.behind(
      shown.recordType,
      message !== undefined ? { message } : { field: field.key, ...chosen },
      200_000,
    );
    const link = document.createElement('a');
    link.href = URL.createObjectURL(csvOf(recordType, field.key, all.records));
    link.download = `${recordType.key}-${message === undefined ? `${field.key}-${chosen.from}-${chosen.to}` : 'stopped'}.csv`;
    link.click();
    URL.revokeObjectURL(link.href);
  }
  $effect(() =>
    offers.offer(
      [],
      [
        ...(run.state === 'running' ? [{ group: 'Here', name: 'Stop the dry run', run: () => run.cancel() }] : []),
        { group: 'Here', name: 'Run it again', run: begin },
        { group: 'Here', name: 'Look for differences that no sample shows', run: () => void look() },
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
    against === 'stored' ? 'As stored' : live === null ? 'Nothing live' : `Live, release ${live}`,
  );
  const draftName = $derived(without === '' ? 'Draft' : 'Draft, one rule off');
</script>

<svelte:head><title>Dry run · Rigid Rule</title></svelte:head>

<div
  class="grid h-full grid-cols-[236px_minmax(0,1fr)_272px] max-lg:content-start max-lg:grid-cols-1 max-lg:overflow-y-auto"
>
  <section class="overflow-y-auto border-r border-line pt-3" aria-label="What is tried" data-keypane="fields">
    <div class="grid gap-y-1 border-b border-line px-4 pb-3">
      <label class="flex items-baseline justify-between gap-2"
        ><span class="text-soft">Samples</span>
        <select
          class="editable max-w-[150px]"
          value={String(set?.id ?? '')}
          onchange={(e) => {
            setId = Number(e.currentTarget.value);
            chooseSet(setId);
          }}
        >
          {#each sets as s (s.id)}<option value={String(s.id)}>{s.name}</option>{/each}
        </select></label
      >
      <label class="flex items-baseline justify-between gap-2"
        ><span class="text-soft">Against</span>
        <select class="editable" bind:value={against}>
          <option value="live">{live === null ? 'nothing live' : `release ${live}`}</option>
          <option value="stored">what is stored</option>
        </select></label
      >
      <label class="flex items-baseline justify-between gap-2"
        ><span class="text-soft">How</span>
        <select class="editable" bind:value={way}>
          {#each impactWays as w (w)}<option value={w}>{ways[w]}</option>{/each}
        </select></label
      >
      <label class="flex items-baseline justify-between gap-2"
        ><span class="text-soft">Without</span>
        <select class="editable max-w-[150px]" bind:value={without}>
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
      <p class="text-small text-soft" role="status">
        {#if problem ?? run.problem}<span class="text-stop">{problem ?? run.problem}</span>
        {:else if run.state === 'running'}{percent} %{left}{rate ? `, ${rate}` : ''}
          <button type="button" class="word ml-1" onclick={() => run.cancel()}>stop</button>
        {:else if run.state === 'cancelled'}Stopped at {percent} %.
          <button type="button" class="word" onclick={begin}>run it again</button>
        {:else if run.state === 'done'}{ownWriting(run.done)} records in {(run.spent / 1000).toFixed(1)} s
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
          {#each figures.onForm as o (o.text)}
            <li class="flex justify-between px-4 py-[3px]">
              <span>{o.text}</span><span>{ownWriting(o.records)}</span>
            </li>
          {/each}
        </ul>
      {/if}
      <p class="px-4 pt-3 text-small text-soft">
        {(recordType?.fields.length ?? 0) - figures.fields.length} fields stay as they are.
      </p>
    {/if}
  </section>

  <section class="overflow-y-auto bg-sheet px-8 pt-[18px] pb-10" aria-label="Before and after" data-keypane="picture">
    {#if sampling}<Samples {sets} close={() => (sampling = false)} />{/if}
    {#if !shown || !figures}
      <h1>Dry run</h1>
      <p class="text-soft">
        {run.state === 'running' || run.state === 'not begun'
          ? 'Being worked out …'
          : 'There are no samples of a record type that has rules.'}
      </p>
    {:else if !field && message === undefined}
      <h1>{shown.plural}: nothing changes in the samples</h1>
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

    {#if behind && recordType && (chosen || message !== undefined) && figures && (figures.fields.length > 0 || message !== undefined)}
      <div class="mt-4 flex flex-wrap items-baseline justify-between gap-x-4">
        <p>
          {#if message === undefined && chosen}<b class="font-[650]"
              >{ownWriting(count)} {shown!.plural.toLowerCase()}, {chosen.from} → {chosen.to}</b
            >{:else}<b class="font-[650]">{shown!.plural}</b>{/if}
          {#if behind.trait}<span class="ml-2 text-soft">{behind.trait}</span>{/if}
        </p>
        <span class="flex gap-4">
          <button type="button" class="word" onclick={() => void download()}>as CSV</button>
          {#if mayAgree && message === undefined && field && chosen && against === 'live' && without === ''}
            {@const move = { recordType: shown!.recordType, field: field.key, ...chosen }}
            <label class="flex items-center gap-1.5"
              ><input
                type="checkbox"
                class="check"
                checked={agreements.covers(move.recordType, { ...move, records: count })}
                onchange={(e) =>
                  void (e.currentTarget.checked ? agreements.agree(move, count) : agreements.takeBack(move))}
              />agree to all {ownWriting(count)}</label
            >
          {/if}
        </span>
      </div>
      {#if agreedNow}
        <p class="text-small text-soft">
          {agreedNow.lapsed
            ? `Agreed by ${agreedNow.by}, and lapsed: a rule that it covers has changed.`
            : agreedNow.most < count
              ? `Agreed by ${agreedNow.by} for ${ownWriting(agreedNow.most)}; ${ownWriting(count - agreedNow.most)} are new since.`
              : `Agreed by ${agreedNow.by}, up to ${ownWriting(agreedNow.most)}.`}
        </p>
      {/if}
      <table class="mt-1 w-full">
        <thead>
          <tr class="border-b border-line text-left text-soft">
            <th class="py-1 font-normal">{recordType.name}</th>
            {#each columns as c (c.key)}<th class="font-normal">{c.name}</th>{/each}
            {#if message === undefined}<th class="font-normal">Before</th><th class="font-normal">After</th><th
                class="font-normal">Written by</th
              >{/if}
          </tr>
        </thead>
        <tbody>
          {#each behind.records as r (r.id)}
            <tr class="border-b border-line">
              <td class="py-[3px] pr-3"
                ><button
                  type="button"
                  class="cursor-pointer text-left hover:text-brass"
                  title="Try it on the bench"
                  onclick={() => void openOnBench(r)}>{recordTitle(recordType, r.data) || `no name, ${r.id}`}</button
                ></td
              >
              {#each columns as c (c.key)}<td class="pr-3">{value(r, c.key)}</td>{/each}
              {#if message === undefined && chosen}
                <td class="pr-3"><span class="was">{chosen.from}</span></td>
                <td class="pr-3"
                  >{#if chosen.to === 'blank'}<b class="text-stop">blank</b>{:else}<span class="written"
                      >{chosen.to}</span
                    >{/if}</td
                >
                <td class="text-soft">{r.by ?? ''}</td>
              {/if}
            </tr>
          {/each}
        </tbody>
      </table>
      {#if behind.records.length === mostRows}<p class="text-small text-soft">
          The first {mostRows} are shown; the CSV has all.
        </p>{/if}
    {/if}
  </section>

  <section
    class="overflow-y-auto border-l border-line px-5 pt-4 pb-8"
    aria-label="What this draft does"
    data-keypane="does"
  >
    <h2 class="font-[650]">What this draft does</h2>
    {#if figures && shown}
      {@const lines = [
        {
          n: figures.changed,
          name: 'changed',
          says: `of the ${ownWriting(figures.tried)} ${shown.plural.toLowerCase()} tried`,
          bad: false,
          message: undefined,
        },
        ...(figures.newlyBlank > 0
          ? [
              {
                n: figures.newlyBlank,
                name: 'newly blank',
                says: 'values that were there and go',
                bad: true,
                message: undefined,
              },
            ]
          : []),
        ...figures.messages
          .slice(0, 4)
          .map((m) => ({ n: m.records, name: 'newly stopped', says: m.text, bad: true, message: m.text })),
        ...(figures.noLongerStopped > 0
          ? [
              {
                n: figures.noLongerStopped,
                name: 'no longer stopped',
                says: 'could not be saved before',
                bad: false,
                message: undefined,
              },
            ]
          : []),
        ...(figures.failing > 0
          ? [
              {
                n: figures.failing,
                name: 'failing',
                says: 'the rules do not settle on them',
                bad: true,
                message: undefined,
              },
            ]
          : []),
        ...figures.notices.map((m) => ({
          n: m.records,
          name: m.records > 0 ? 'more notices' : 'fewer notices',
          says: m.text,
          bad: false,
          message: undefined,
        })),
      ]}
      <ul>
        {#each lines as line, i (i)}
          <li class="grid grid-cols-[64px_minmax(0,1fr)] gap-x-3 border-b border-line py-2">
            <span class={['text-right text-[30px] leading-[32px] font-[300]', line.bad && line.n > 0 && 'text-stop']}
              >{ownWriting(line.n)}</span
            >
            <span class="min-w-0"
              ><b class={['font-[650]', line.bad && line.n > 0 && 'text-stop']}>{line.name}</b>
              <span class="block text-small text-soft">{line.says}</span>
              {#if line.message !== undefined}<a
                  class="editable text-small"
                  href={dryRunOf(shown.recordType, { message: line.message })}>see who</a
                >{/if}</span
            >
          </li>
        {/each}
      </ul>
      {#if figures.writers.length > 0}
        <p class="mt-3 flex justify-between text-small text-soft">
          <span>Written by</span><span>{shown.plural.toLowerCase()}</span>
        </p>
        <ul>
          {#each figures.writers as w (w.text)}
            <li class="flex justify-between gap-2 py-[2px]">
              <span>{w.text}</span><span>{ownWriting(w.records)}</span>
            </li>
          {/each}
        </ul>
      {/if}
      {#if against === 'live' && without === '' && movedHere > 0}
        <div class="mt-3 border-t border-ink pt-2">
          <p class="flex justify-between text-small text-soft">
            <span>Agreed</span><span>{ownWriting(agreedHere)} of {ownWriting(movedHere)}</span>
          </p>
          <div class="mt-1 h-[9px] border border-edge" aria-hidden="true">
            <span class="block h-full bg-ink" style:width="{Math.round((agreedHere / movedHere) * 100)}%"></span>
          </div>
          {#if mayAgree && agreedHere < movedHere && field}
            <button
              type="button"
              class="button mt-2 w-full whitespace-normal"
              onclick={() =>
                void agreements.agreeAll(
                  shown.recordType,
                  field.moves.map((m) => ({ ...m, field: field.key })),
                )}>Agree to what {field.field} becomes</button
            >
            <p class="mt-1 text-small text-soft">
              Takes all its moves as seen. Lapses when a rule that it covers changes.
            </p>
          {/if}
          {#if agreements.problem}<p class="text-stop" role="alert">{agreements.problem}</p>{/if}
        </div>
      {/if}
    {/if}
    <h2 class="mt-5 font-[650]">What no sample shows</h2>
    {#if witnesses === undefined}
      <button type="button" class="word" disabled={looking || !liveBook} onclick={() => void look()}
        >{looking ? 'being looked for …' : 'look for differences'}</button
      >
    {:else if witnesses.length === 0}
      <p class="text-small text-soft">No record could be made up on which the draft and the live rules differ.</p>
    {:else}
      <ul>
        {#each witnesses.slice(0, 12) as w, i (i)}
          <li class="border-b border-line py-1.5">
            <button
              type="button"
              class="cursor-pointer text-left hover:text-brass"
              title="Try it on the bench"
              onclick={() =>
                void goto(handover(w.test, draft.rulebook.rules.some((r) => r.key === w.rule) ? w.rule : undefined))}
              >{w.text}</button
            >
            <span class="block text-small text-soft"
              >{draft.rulebook.rules.find((r) => r.key === w.rule)?.name ??
                liveBook?.rules.find((r) => r.key === w.rule)?.name ??
                w.rule}</span
            >
          </li>
        {/each}
      </ul>
      <p class="mt-1 text-small text-soft">
        {witnesses.length}
        {witnesses.length === 1 ? 'record was' : 'records were'} made up to show differences.
      </p>
    {/if}
  </section>
</div>
