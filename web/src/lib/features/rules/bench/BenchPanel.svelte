<script lang="ts">
  /** The bench: one sample record as a form; a change is answered at once, with the reasons. */
  import { fieldTypeOf, type Field, type Rule, type TraceEntry } from '@rigid-rule/core';
  import { FieldInput, shownValue, type Titles } from '$lib/features/fields';
  import KindMark from '$lib/ui/KindMark.svelte';
  import type { Bench } from './bench.svelte.ts';
  import { causeWords, verdictWords, Why } from '$lib/features/trace';

  interface Props {
    bench: Bench;
    rules: ReadonlyMap<string, Rule>;
    /** Fields that the rule on the sheet reads: always at hand. */
    pinned: readonly string[];
    titles: Titles;
    users: readonly { email: string; name: string }[];
  }
  const { bench, rules, pinned, titles, users }: Props = $props();

  let asked = $state<string>();
  let showAll = $state(false);
  let opened = $state<readonly string[]>([]);

  const fields = $derived(bench.recordType.fields);
  const s = $derived(bench.settlement);
  const byKey = (key: string) => fields.find((f) => f.key === key);
  const stops = $derived(s.messages.filter((m) => m.severity === 'stop'));
  const written = $derived(s.changes.filter((c) => c.author.by === 'rule'));
  const writtenKeys = $derived(written.map((c) => c.field));
  const changeable = $derived(
    fields.filter((f) => pinned.includes(f.key) || opened.includes(f.key) || bench.triedValue(f.key) !== undefined),
  );
  const rest = $derived(fields.filter((f) => !changeable.includes(f) && !writtenKeys.includes(f.key)));
  const filled = $derived(rest.filter((f) => bench.settled(f.key) !== null));
  const loud = $derived(s.trace.filter((t) => !['asleep', 'off'].includes(t.verdict)));
  const asleep = $derived(s.trace.filter((t) => t.verdict === 'asleep'));
  const title = $derived(
    bench.recordType.title
      .map((k) => bench.settled(k))
      .filter(Boolean)
      .join(' ') || (bench.isNew ? `New ${bench.recordType.name.toLowerCase()}` : 'no name'),
  );
  const entryOf = (rule: string) => s.trace.find((t) => t.rule === rule);
  const changedNames = $derived(bench.tried.flatMap((t) => byKey(t.key)?.name ?? []));

  function triedText(f: Field): unknown {
    return bench.triedValue(f.key)?.value;
  }
  /** What the input shows: what was tried, or what is stored. */
  function inputValue(f: Field) {
    const tried = triedText(f);
    if (tried === undefined) return bench.stored(f.key);
    const coerced = fieldTypeOf(f).coerce(tried, f);
    return 'value' in coerced ? coerced.value : (String(tried) as never);
  }
  const messageFor = (key: string) => stops.find((m) => m.field === key);
  const shown = (f: Field | undefined, v: unknown) => (f ? shownValue(f, v as never, titles) : '') || 'blank';
  const reads = (t: TraceEntry) =>
    t.read
      .map((r) =>
        shown(
          fields.find((f) => f.name === r.name.replace(/^previous\./, '')),
          r.value,
        ),
      )
      .join(', ');
</script>

<section class="flex h-full flex-col" aria-label="Bench">
  <div class="min-h-0 flex-1 overflow-y-auto px-[18px] pt-3 pb-4">
    <div class="flex items-baseline justify-between gap-3">
      <h2 class="truncate text-[15px] font-bold">{title}</h2>
      <span class="quiet shrink-0 text-small">
        {#if bench.isNew}nothing stored{:else if bench.samples.length > 0}
          <button
            type="button"
            class="cursor-pointer px-1 hover:text-ink"
            aria-label="Previous sample, K"
            onclick={() => bench.step(-1)}>‹</button
          >sample {(bench.index + 1).toLocaleString('en')} of {bench.samples.length.toLocaleString('en')}<button
            type="button"
            class="cursor-pointer px-1 hover:text-ink"
            aria-label="Next sample, J"
            onclick={() => bench.step(1)}>›</button
          >
        {/if}
      </span>
    </div>
    <div class="mt-[3px] mb-0.5 flex gap-3.5 text-small">
      <select class="editable" aria-label="Came in through" bind:value={bench.entryPoint}>
        {#each bench.entries as entry (entry.key)}<option value={entry.key}>{entry.name}</option>{/each}
      </select>
      <select
        class="editable"
        aria-label="New or existing"
        value={bench.isNew ? 'new' : 'existing'}
        onchange={(e) => (bench.isNew = e.currentTarget.value === 'new')}
      >
        <option>existing</option><option>new</option>
      </select>
    </div>

    {#if stops.length > 0}
      <h3 class="head text-stop">Stops the save</h3>
      {#each stops as m, i (i)}
        <div class="line">
          <span class="text-soft">{byKey(m.field ?? '')?.name ?? ''}</span><span class="text-stop">{m.text}</span>
        </div>
      {/each}
    {/if}

    <h3 class="head">{bench.tried.length > 0 ? 'You changed' : 'Change a value'}</h3>
    {#each changeable as f (f.key)}
      {@const tried = bench.triedValue(f.key) !== undefined}
      <div class="line">
        <label class="text-soft" for="bench-{f.key}">{f.name}</label>
        <span class="flex min-w-0 items-center gap-2">
          {#if tried}<span class="was">{shown(f, bench.stored(f.key))}</span>{/if}
          <FieldInput
            id="bench-{f.key}"
            field={f}
            value={inputValue(f)}
            live
            commit={(v) => bench.try(f.key, v)}
            invalid={messageFor(f.key) !== undefined && tried}
            autofocus={opened.includes(f.key)}
            {titles}
            {users}
            linksTo="samples"
            class="w-[130px]"
          />
        </span>
        <span>
          {#if tried}<button
              type="button"
              class="quiet cursor-pointer text-small hover:text-ink"
              onclick={() => bench.try(f.key, bench.stored(f.key))}>put back</button
            >{/if}
        </span>
      </div>
    {/each}

    {#if written.length > 0}
      <h3 class="head">Rules changed</h3>
      {#each written as change (change.field)}
        {@const f = byKey(change.field)}
        {@const rule = change.author.by === 'rule' ? rules.get(change.author.rule) : undefined}
        {@const open = asked === change.field}
        <div class="line" data-written={change.field}>
          <span class="text-soft">{f?.name}</span>
          <span
            ><span class="was mr-2">{shown(f, change.from)}</span>{#key change.to}<span class="written arrive"
                >{shown(f, change.to)}</span
              >{/key}</span
          >
          <button
            type="button"
            class="flex cursor-pointer items-center gap-1 text-[12px] text-held"
            aria-expanded={open}
            onclick={() => (asked = open ? undefined : change.field)}
          >
            {#if rule}<KindMark kind={rule.kind} />{/if}why?
          </button>
        </div>
        {#if open && f && rule && entryOf(rule.key)}
          <Why field={f} {rule} entry={entryOf(rule.key)!} recordType={bench.recordType} changed={changedNames} />
        {/if}
      {/each}
    {/if}

    <h3 class="head flex justify-between">
      <span>As it {bench.isNew ? 'would be' : 'was'}</span>
      <button type="button" class="cursor-pointer hover:text-ink" onclick={() => (showAll = !showAll)}>
        {showAll ? 'show fewer' : `show ${rest.length} fields`}
      </button>
    </h3>
    {#each showAll ? rest : filled.slice(0, 4) as f (f.key)}
      <div class="line">
        <span class="text-soft">{f.name}</span>
        <button
          type="button"
          class="truncate text-left hover:text-brass"
          title="Change {f.name}"
          onclick={() => (opened = [...opened, f.key])}
          >{#if bench.settled(f.key) === null}<span class="quiet">blank</span>{:else}{shown(
              f,
              bench.settled(f.key),
            )}{/if}</button
        >
        {#if s.states[f.key]?.locked}<span class="quiet text-small">locked</span>{/if}
      </div>
    {/each}

    <h3 class="head">Trace, {s.trace.length} rule{s.trace.length === 1 ? '' : 's'} in order</h3>
    {#each loud as t (t.rule)}
      {@const word = verdictWords[t.verdict]}
      <div class="trace">
        <b class={{ held: 'text-held', stop: 'text-stop', faint: 'text-faint' }[word.tone]}>{word.text}</b>
        <span>
          <a href="/desk/{bench.typeKey}/{t.rule}" class="hover:text-brass">{rules.get(t.rule)?.name ?? t.rule}</a>
          {#if t.read.length > 0}
            <br /><span class="quiet"
              >read {reads(t)}{#each t.outcomes as o (o.field)}{#if o.from !== o.to}, wrote {shown(
                    byKey(o.field),
                    o.from,
                  )} → {shown(byKey(o.field), o.to)}{/if}{#if o.cause}; {causeWords[o.cause]}{/if}{/each}</span
            >
          {/if}
          {#if t.message}<br /><span class="text-stop">{t.message}</span>{/if}
        </span>
      </div>
    {/each}
    {#if asleep.length > 0}
      <div class="trace text-faint">
        <b>asleep</b>
        <span
          >{#if asleep.length === 1}{rules.get(asleep[0]!.rule)?.name}{:else}{asleep.length} rules{/if}, woken by {[
            ...new Set(asleep.flatMap((t) => t.wokenBy)),
          ]
            .slice(0, 4)
            .join(', ')}</span
        >
      </div>
    {/if}
    {#if s.trace.length === 0}<p class="quiet">No rule looks at {bench.recordType.plural.toLowerCase()} yet.</p>{/if}
  </div>
  <div class="flex gap-2.5 border-t border-line px-[18px] py-2.5">
    <button type="button" class="button plain" disabled={bench.tried.length === 0} onclick={() => bench.clear()}
      >Undo my try</button
    >
    <span class="quiet self-center text-small"
      >{bench.tried.length > 0 ? 'Nothing here is stored.' : 'Try it: nothing here is stored.'}</span
    >
  </div>
</section>

<style>
  .head {
    font-size: 12.5px;
    color: var(--faint);
    margin: 9px 0 1px;
  }
  .head.text-stop {
    color: var(--stop);
  }
  .line {
    display: grid;
    grid-template-columns: 118px minmax(0, 1fr) auto;
    gap: 8px;
    padding: 4px 0;
    border-bottom: 1px solid var(--line);
    align-items: center;
    min-height: 29px;
  }
  .trace {
    display: grid;
    grid-template-columns: 84px minmax(0, 1fr);
    gap: 10px;
    padding: 3px 0;
  }
  .trace b {
    font-weight: 650;
  }
  .arrive {
    animation: arrive 150ms ease-out;
  }
  @keyframes arrive {
    from {
      background: var(--held-wash);
      transform: translateX(-6px);
    }
  }
</style>
