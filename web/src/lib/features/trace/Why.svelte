<script lang="ts">
  /** Why a value is what it is: the rule that wrote it, what that read, and why those are what they are. */
  import { ownSentences } from '$lib/organisation.svelte.ts';
  import { findRuleKind, type TraceEntry } from '@rigid-rule/core/compile';
  import type { Rule, Stored } from '@rigid-rule/core/document';
  import { shownValue, type Titles } from '$lib/features/fields';
  import type { Field } from '@rigid-rule/core/document';
  import { KindMark } from '$lib/features/rule-kinds';
  import { causeWords } from './words.ts';

  interface Props {
    field: Field;
    fields: readonly Field[];
    trace: readonly TraceEntry[];
    rules: ReadonlyMap<string, Rule>;
    /** Names of rules that the rulebook has no more. */
    names?: Readonly<Record<string, { name: string; kind: string }>>;
    /** The trace entry of the rule that wrote the value. */
    entry: TraceEntry;
    /** Names of the fields that were changed by hand in this write. */
    changed: readonly string[];
    /** By whose hand. */
    changedBy?: string;
    titles?: Titles;
    /** Where rules can be gone to: the beginning of their address. */
    link?: string;
  }
  const {
    field,
    fields,
    trace,
    rules,
    names = {},
    entry,
    changed,
    changedBy = 'you',
    titles = {},
    link,
  }: Props = $props();
  /** How far down the chain goes; rules in a circle end it. */
  const mostDepth = 6;

  function branchOf(rule: Rule | undefined, branch: number | undefined): string | undefined {
    return rule && branch !== undefined
      ? findRuleKind(rule.kind)?.branchText?.(rule.outcome, branch, ownSentences)
      : undefined;
  }
  const shown = (f: Field | undefined, v: Stored | undefined) =>
    (f ? shownValue(f, v, titles) : v === null || v === undefined ? '' : String(v)) || 'blank';
  const fieldOf = (name: string) => fields.find((f) => f.name === name);
  /** The entry of the rule that wrote what was read, where one did in this write. */
  function writerOf(name: string, reader: TraceEntry, depth: number): TraceEntry | undefined {
    const f = fieldOf(name);
    if (!f || depth >= mostDepth) return undefined;
    return trace.findLast(
      (t) =>
        t.rule !== reader.rule && t.verdict === 'ran' && t.outcomes.some((o) => o.field === f.key && o.from !== o.to),
    );
  }
  const source = (name: string) =>
    changed.includes(name)
      ? `changed by ${changedBy}`
      : name.startsWith('previous.')
        ? 'before the write'
        : name.includes('.')
          ? 'on the related record'
          : 'as it is stored';
</script>

{#snippet chain(field: Field, entry: TraceEntry, depth: number)}
  {@const rule = rules.get(entry.rule)}
  {@const named = rule ?? names[entry.rule]}
  {@const outcome = entry.outcomes.find((o) => o.field === field.key)}
  {@const branch = branchOf(rule, outcome?.branch)}
  <div class={['why', depth === 0 && 'first']}>
    <p>
      <span class="written">{shown(field, outcome?.to)}</span>
      <span class="text-small text-soft">was {shown(field, outcome?.from)}, written by</span>
      <span class="inline-flex items-baseline gap-1 font-[650]">
        <span class="text-held"
          ><KindMark kind={named?.kind ?? ''} label={findRuleKind(named?.kind ?? '')?.name ?? ''} /></span
        >
        {#if link && rule}<a class="hover:text-brass" href="{link}/{rule.key}">{rule.name}</a>{:else}{named?.name ??
            entry.rule}{/if}
      </span>
    </p>
    {#if branch}<p class="text-small text-soft">
        {branch.replace(/^./, (c) => c.toUpperCase())} it is {shown(field, outcome?.to)}.
      </p>{/if}
    {#if outcome?.because || outcome?.cause}
      <p class="text-small text-soft">
        {[outcome.because && `found ${outcome.because}`, outcome.cause && causeWords[outcome.cause]]
          .filter(Boolean)
          .join('; ')}
      </p>
    {/if}
    {#if entry.read.length > 0}
      <ul aria-label="It read">
        {#each entry.read as read, nth (nth)}
          {@const writer = writerOf(read.name, entry, depth)}
          {@const f = fieldOf(read.name.replace(/^previous\./, ''))}
          <li>
            <span class="quiet" aria-hidden="true">←</span>
            {read.name} <b>{shown(f, read.value)}</b>
            {#if writer && f}
              {@render chain(f, writer, depth + 1)}
            {:else}<span class="text-small text-soft">{source(read.name)}</span>{/if}
          </li>
        {/each}
      </ul>
    {/if}
  </div>
{/snippet}

{@render chain(field, entry, 0)}

<style>
  .why {
    border-left: 2px solid var(--held);
    padding: 2px 0 2px 10px;
    margin: 3px 0 4px;
  }
  .first {
    margin: 4px 0 8px;
  }
  li > span:first-child {
    margin-right: 3px;
  }
</style>
