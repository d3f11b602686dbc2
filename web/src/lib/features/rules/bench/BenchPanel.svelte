<script lang="ts">
  /** The bench: one sample record as a form; a change is answered at once, with the reasons. */
  import { deskOf } from '$lib/addresses.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { Field, Rule, Stored } from '@rigid-rule/core/document';
  import { recordTitle } from '@rigid-rule/core/language';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { shownValue, type FindLinks, type Titles } from '$lib/features/fields';
  import type { Bench } from './bench.svelte.ts';
  import BenchControls from './BenchControls.svelte';
  import BenchLine from './BenchLine.svelte';
  import BeyondTheRecord from './BeyondTheRecord.svelte';
  import KeptTests from './KeptTests.svelte';
  import RecordsBeside from './RecordsBeside.svelte';
  import RestOfFields from './RestOfFields.svelte';
  import RulesChanged from './RulesChanged.svelte';
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
  const title = $derived(
    recordTitle(bench.recordType, s.data) || (bench.isNew ? `New ${bench.recordType.name.toLowerCase()}` : 'no name'),
  );
  const link = $derived(deskOf(bench.typeKey));
  const open = (key: string) => (opened = [...opened, key]);
  const changedNames = $derived(bench.tried.flatMap((t) => byKey(t.key)?.name ?? []));
  const shown = (f: Field | undefined, v: Stored) => (f ? shownValue(f, v, titles) : '') || 'blank';
  const isWrong = (key: string) => stops.some((m) => m.field === key);
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
        if (e.currentTarget.value) open(e.currentTarget.value);
        e.currentTarget.value = '';
      }}
    >
      <option value="">another field</option>
      {#each fields.filter((f) => !changeable.includes(f) && !isHidden(f)) as f (f.key)}<option value={f.key}
          >{f.name}</option
        >{/each}
    </select>

    {#if written.length > 0}
      <RulesChanged changes={written} settlement={s} {fields} {rules} {titles} {changedNames} {shown} {link} {open} />
    {/if}
    <BeyondTheRecord {bench} {shown} />
    <RestOfFields {bench} {rest} {shown} {open} />
    <RecordsBeside {bench} {titles} {users} {find} />
    <Trace settlement={s} {fields} {rules} {titles} current={current?.key} {link} />
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
