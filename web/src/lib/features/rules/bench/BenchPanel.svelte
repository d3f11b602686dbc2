<script lang="ts">
  /** The bench: one sample record as a form; a change is answered at once, with the reasons. */
  import { deskOf } from '$lib/addresses.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { Field, Rule, Stored } from '@rigid-rule/core/document';
  import { recordTitle } from '@rigid-rule/core/language';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { shownValue, type FindLinks, type Titles } from '$lib/features/fields';
  import { Why } from '$lib/features/trace';
  import { KindMark } from '$lib/features/rule-kinds';
  import type { Bench } from './bench.svelte.ts';
  import BenchControls from './BenchControls.svelte';
  import BenchLine from './BenchLine.svelte';
  import KeptTests from './KeptTests.svelte';
  import RecordsBeside from './RecordsBeside.svelte';
  import Trace from './Trace.svelte';

  interface Props {
    bench: Bench;
    draft: Draft;
    rules: ReadonlyMap<string, Rule>;
    /** Fields that the rule on the sheet reads: always at hand. */
    pinned: readonly string[];
    titles: Titles;
    users: readonly { email: string; name: string }[];
    find: FindLinks;
    keep: () => void;
    /** What became of keeping the try. */
    kept: string | undefined;
    /** The rule on the sheet. */
    current: Rule | undefined;
    problem: string | undefined;
  }
  const { bench, draft, rules, pinned, titles, users, find, keep, kept, current, problem }: Props = $props();

  let asked = $state<string>();
  let showAll = $state(false);
  let opened = $state<readonly string[]>([]);

  const fields = $derived(bench.recordType.fields);
  const s = $derived(bench.settlement);
  const byKey = (key: string) => fields.find((f) => f.key === key);
  const stops = $derived(s.messages.filter((m) => m.severity === 'stop'));
  const warnings = $derived(s.messages.filter((m) => m.severity === 'warn'));
  const isTried = (key: string) => opened.includes(key) || bench.triedValue(key) !== undefined;
  const byRules = $derived(s.changes.filter((c) => c.author.by === 'rule'));
  const writtenKeys = $derived(byRules.map((c) => c.field));
  /** What rules wrote; where something was tried as well, its own line says both. */
  const written = $derived(byRules.filter((c) => !isTried(c.field)));
  const isHidden = (f: Field) => s.states[f.key]?.hidden !== undefined;
  const changeable = $derived(
    fields.filter((f) => isTried(f.key) || (pinned.includes(f.key) && !writtenKeys.includes(f.key))),
  );
  const rest = $derived(fields.filter((f) => !changeable.includes(f) && !writtenKeys.includes(f.key)));
  const filled = $derived(rest.filter((f) => bench.settled(f.key) !== null));
  const demanded = $derived(rest.filter((f) => s.states[f.key]?.required && bench.settled(f.key) === null));
  const title = $derived(
    recordTitle(bench.recordType, s.data) || (bench.isNew ? `New ${bench.recordType.name.toLowerCase()}` : 'no name'),
  );
  const entryOf = (rule: string) => s.trace.find((t) => t.rule === rule);
  const changedNames = $derived(bench.tried.flatMap((t) => byKey(t.key)?.name ?? []));
  const shown = (f: Field | undefined, v: Stored) => (f ? shownValue(f, v, titles) : '') || 'blank';
  const isWrong = (key: string) => stops.some((m) => m.field === key);

  /** What rules make of other records in the same write. */
  const followers = $derived(
    bench.transaction.followers.flatMap((f) => {
      const type = bench.program.types.get(f.recordType)?.recordType;
      return type
        ? f.settlement.changes.map((c) => ({
            key: `${f.recordType} ${f.id} ${f.wave} ${c.field}`,
            name: recordTitle(type, f.settlement.data) || type.name,
            field: type.fields.find((x) => x.key === c.field),
            from: c.from,
            to: c.to,
          }))
        : [];
    }),
  );
  const later = $derived(bench.transaction.dependants.length + bench.transaction.childWrites.length);
  const toggleHeld = (key: string) =>
    (bench.held = bench.held.includes(key) ? bench.held.filter((k) => k !== key) : [...bench.held, key]);
</script>

<section class="flex h-full flex-col" aria-label="Bench">
  <div class="min-h-0 flex-1 overflow-y-auto px-[18px] pt-3 pb-4">
    <div class="flex items-baseline justify-between gap-3">
      <h2 class="truncate text-[15px] font-bold">{title}</h2>
      <span class="quiet shrink-0 text-small">
        {#if bench.shown}a kept test{:else if bench.total}
          <button
            type="button"
            class="cursor-pointer px-1 hover:text-ink"
            aria-label="Previous sample, K"
            onclick={() => bench.step(-1)}>‹</button
          >sample {ownWriting(bench.index + 1)} of {ownWriting(bench.total)}<button
            type="button"
            class="cursor-pointer px-1 hover:text-ink"
            aria-label="Next sample, J"
            onclick={() => bench.step(1)}>›</button
          >
        {:else if bench.total === 0}no samples yet{/if}
      </span>
    </div>
    <BenchControls {bench} {users} />
    {#if problem}<p class="text-stop">{problem}</p>
    {:else if s.verdict === 'waiting'}<p class="quiet late" role="status">
        Sample records that the rules read are still being loaded.
      </p>{/if}

    {#if stops.length > 0}
      <h3 class="bench-head text-stop!">Problems that stop the save</h3>
      {#each stops as m, i (i)}
        <div class="bench-line">
          <span class="text-soft">{byKey(m.field ?? '')?.name ?? ''}</span><span class="text-stop">{m.text}</span>
        </div>
      {/each}
    {/if}
    {#if warnings.length > 0}
      <h3 class="bench-head">Warns</h3>
      {#each warnings as m, i (i)}
        <div class="bench-line">
          <span class="text-soft">{byKey(m.field ?? '')?.name ?? ''}</span><span class="text-brass-ink">{m.text}</span>
        </div>
      {/each}
    {/if}

    <h3 class="bench-head">{bench.tried.length > 0 ? 'You changed' : 'Change a value'}</h3>
    {#each changeable.filter((f) => !isHidden(f)) as f (f.key)}
      <BenchLine
        id="bench-{f.key}"
        field={f}
        starting={bench.starting(f.key)}
        tried={bench.triedValue(f.key)}
        commit={(v) => bench.override(f.key, v)}
        overruledBy={bench.overruled(f) === undefined ? undefined : shown(f, bench.settled(f.key))}
        invalid={isWrong(f.key) && bench.triedValue(f.key) !== undefined}
        autofocus={opened.includes(f.key)}
        allowed={s.states[f.key]?.allowed}
        {titles}
        {users}
        {find}
      />
    {/each}
    <select
      class="editable quiet mt-1 text-small"
      aria-label="Change another field"
      value=""
      onchange={(e) => {
        if (e.currentTarget.value) opened = [...opened, e.currentTarget.value];
        e.currentTarget.value = '';
      }}
    >
      <option value="">another field</option>
      {#each fields.filter((f) => !changeable.includes(f) && !isHidden(f)) as f (f.key)}<option value={f.key}
          >{f.name}</option
        >{/each}
    </select>

    {#if written.length > 0}
      <h3 class="bench-head">Rules changed</h3>
      {#each written as change (change.field)}
        {@const f = byKey(change.field)}
        {@const rule = change.author.by === 'rule' ? rules.get(change.author.rule) : undefined}
        {@const open = asked === change.field}
        <div class="bench-line" data-written={change.field}>
          <span class="text-soft">{f?.name}</span>
          <span
            ><span class="was mr-2">{shown(f, change.from)}</span>{#key change.to}<button
                type="button"
                class="written arrive cursor-pointer text-left"
                title="Change {f?.name}"
                onclick={() => (opened = [...opened, change.field])}>{shown(f, change.to)}</button
              >{/key}</span
          >
          <button
            type="button"
            class="flex cursor-pointer items-center gap-1 text-[12px] text-held"
            aria-expanded={open}
            aria-label="Why is {f?.name} {shown(f, change.to)}?"
            onclick={() => (asked = open ? undefined : change.field)}
          >
            {#if rule}<KindMark kind={rule.kind} />{/if}why?
          </button>
        </div>
        {#if open && f && rule && entryOf(rule.key)}
          <Why
            field={f}
            {fields}
            trace={s.trace}
            {rules}
            entry={entryOf(rule.key)!}
            changed={changedNames}
            {titles}
            link={deskOf(bench.typeKey)}
          />
        {/if}
      {/each}
    {/if}
    {#if followers.length > 0}
      <h3 class="bench-head">On other records</h3>
      {#each followers as f (f.key)}
        <div class="bench-line" data-follower>
          <span class="truncate text-soft">{f.name}</span>
          <span
            >{f.field?.name} <span class="was mr-1">{shown(f.field, f.from)}</span><span class="written"
              >{shown(f.field, f.to)}</span
            ></span
          >
        </div>
      {/each}
    {/if}
    {#if later > 0}<p class="quiet text-small">Records that read this one follow after the save.</p>{/if}
    {#if s.notifications.length > 0}
      <h3 class="bench-head">Would be sent</h3>
      {#each s.notifications as n, i (i)}
        <div class="bench-line" data-notification>
          <span class="text-soft">{n.channel}</span>
          <span
            >{n.subject}
            <span class="quiet"
              >to {n.to}{#if n.due}, due {n.due}{/if}</span
            ><br /><span class="quiet whitespace-pre-line text-small">{n.body}</span></span
          >
        </div>
      {/each}
    {/if}

    <h3 class="bench-head flex justify-between">
      <span>As it {bench.isNew ? 'would be' : 'was'}</span>
      <button type="button" class="word" onclick={() => (showAll = !showAll)}>
        {showAll ? 'show fewer' : `show ${rest.length} fields`}
      </button>
    </h3>
    {#each [...new Set( [...demanded, ...(showAll ? rest : filled.slice(0, 4))] )].filter((f) => !isHidden(f)) as f (f.key)}
      <div class="bench-line">
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
        <span class="quiet text-small">
          {#if s.states[f.key]?.locked}locked{:else if s.states[f.key]?.required && bench.settled(f.key) === null}<span
              class="text-stop">required</span
            >{:else if !bench.isNew && showAll}<label class="flex items-center gap-1"
              ><input
                type="checkbox"
                class="check"
                checked={bench.held.includes(f.key)}
                onchange={() => toggleHeld(f.key)}
              />set by hand</label
            >{/if}
        </span>
      </div>
    {/each}

    <RecordsBeside {bench} {titles} {users} {find} />
    <Trace settlement={s} {fields} {rules} {titles} current={current?.key} link={deskOf(bench.typeKey)} />
    <KeptTests {draft} {bench} rule={current} />
  </div>
  <div class="flex gap-2.5 border-t border-line px-[18px] py-2.5">
    {#if draft.editable}<button type="button" class="button" onclick={keep}
        >Keep as test <span class="font-mono font-normal">T</span></button
      >{/if}
    <button type="button" class="button plain" disabled={!bench.isTouched} onclick={() => bench.clear()}
      >Undo my try</button
    >
    <span class="quiet min-w-0 self-center text-small leading-tight line-clamp-2" role="status" title={kept}
      >{kept ?? 'Nothing here is stored.'}</span
    >
  </div>
</section>

<style>
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
