<script lang="ts">
  /** Why a field holds what it holds: a rule in this sitting, a write of before, a person; and what the rules say. */
  import ReleaseLink from '$lib/ui/ReleaseLink.svelte';
  import type { TraceEntry } from '@rigid-rule/core/compile';
  import type { Field, Rule } from '@rigid-rule/core/document';
  import { shownValue, type Titles } from '$lib/features/fields';
  import { causeWords, verdictWord, Why } from '$lib/features/trace';
  import { shownInstant } from '$lib/instants.ts';
  import { organisation, ownForm } from '$lib/organisation.svelte.ts';
  import type { FieldAuthor, KeptTrace } from './record-server.ts';
  import type { RecordForm } from './form.svelte.ts';

  interface Props {
    form: RecordForm;
    field: Field;
    rules: ReadonlyMap<string, Rule>;
    /** Names of the rules of all releases that history speaks of. */
    ruleNames: Readonly<Record<string, { name: string; kind: string }>>;
    entryNames: Readonly<Record<string, string>>;
    author: FieldAuthor | undefined;
    titles: Titles;
    locked: boolean;
  }
  const { form, field, rules, ruleNames, entryNames, author, titles, locked }: Props = $props();

  const value = $derived(form.value(field.key));
  const written = $derived(form.written(field.key));
  /** A value from before the history began that a rule would give. */
  const standing = $derived(form.standing(field.key));
  const typed = $derived(form.typedValue(field.key));
  const changedNames = $derived(
    form.typed.flatMap((t) => form.recordType.fields.find((f) => f.key === t.key)?.name ?? []),
  );
  const shown = $derived(shownValue(field, value, titles) || 'blank');
  const when = (at: Date) => shownInstant(at.toISOString(), organisation.zone, ownForm());
  /** What the rules that write the field would make of it, where they did not make it what it is. */
  const verdicts = $derived(form.verdicts(field.key));
  function said(entry: TraceEntry): string {
    const outcome = entry.outcomes.find((o) => o.field === field.key);
    if (outcome?.cause) return causeWords[outcome.cause];
    if (outcome && entry.verdict === 'ran') return `it says ${shownValue(field, outcome.to, titles) || 'blank'}`;
    const failed = entry.parts?.filter((p) => p.value !== true).map((p) => p.text) ?? [];
    const word = verdictWord(entry.verdict).text;
    if (entry.verdict === 'asleep')
      return `it acts when ${entry.wokenBy.join(' or ') || 'something that it reads'} changes`;
    return failed.length > 0 ? `${word}: ${failed.join('; ')}` : word;
  }
  const changedIn = (kept: KeptTrace) =>
    kept.changes.flatMap((c) =>
      c.author.by === 'sent' ? (form.recordType.fields.find((f) => f.key === c.field)?.name ?? []) : [],
    );
  const nameOf = (key: string) => rules.get(key)?.name ?? ruleNames[key]?.name ?? key;
</script>

{#snippet others()}
  {#if verdicts.length > 0}
    <ul class="text-small" aria-label="What rules say">
      {#each verdicts as entry, nth (nth)}<li>
          <span class="font-[650]">{nameOf(entry.rule)}</span> <span class="text-soft">{said(entry)}</span>
        </li>{/each}
    </ul>
  {/if}
{/snippet}

{#if written}
  <Why
    {field}
    fields={form.recordType.fields}
    trace={form.settlement.trace}
    {rules}
    names={ruleNames}
    entry={written}
    changed={changedNames}
    {titles}
  />
{:else if typed}
  <p class="text-small text-soft">You typed <b class="text-ink">{shown}</b>. It is not saved.</p>
  {@render others()}
{:else if !author && value !== null && standing}
  <Why
    {field}
    fields={form.recordType.fields}
    trace={form.explanation.trace}
    {rules}
    names={ruleNames}
    entry={standing}
    changed={changedNames}
    {titles}
  />
{:else if author?.author.by === 'rule'}
  {@const rule = author.author.rule}
  <p class="text-small text-soft">
    {when(author.at)}, {author.by ?? 'by a rule elsewhere'}, {entryNames[author.entryPoint] ??
      author.entryPoint}{#if author.release !== null}, <ReleaseLink number={author.release} />{/if}
  </p>
  {#await form.traceOf(author.writeId)}
    <p class="text-small text-soft">Written by <b class="text-ink">{nameOf(rule)}</b>.</p>
  {:then kept}
    {@const entry = kept.trace.findLast((t) => t.rule === rule && t.outcomes.some((o) => o.field === field.key))}
    {#if entry}<Why
        {field}
        fields={form.recordType.fields}
        trace={kept.trace}
        {rules}
        names={ruleNames}
        {entry}
        changed={changedIn(kept)}
        changedBy={author.by ?? 'the write'}
        {titles}
      />{:else}<p class="text-small text-soft">Written by <b class="text-ink">{nameOf(rule)}</b>.</p>{/if}
  {:catch e}
    <p class="text-small text-stop">{e instanceof Error ? e.message : 'What the rules did then could not be read.'}</p>
  {/await}
{:else if author}
  <p class="text-small text-soft">
    {value === null ? 'Cleared' : 'Set'} by <b class="text-ink">{author.by ?? 'a program'}</b>, {entryNames[
      author.entryPoint
    ] ?? author.entryPoint}, {when(author.at)}.
  </p>
  {@render others()}
{:else}
  <p class="text-small text-soft">
    {value === null ? 'Nobody has filled it in.' : 'It was there before its history began.'}
  </p>
  {@render others()}
{/if}
{#if locked}<p class="quiet text-small">
    {field.name} is locked. To change it, change {(written ?? standing)?.read.map((r) => r.name).join(' or ') ||
      'what it follows from'}.
  </p>{/if}
