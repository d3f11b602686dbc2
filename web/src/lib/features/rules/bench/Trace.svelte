<script lang="ts">
  /** What each rule did: what it read, what it wrote, or why it did not act; those that did nothing are folded away. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import type { TraceEntry } from '@rigid-rule/core/compile';
  import type { Field, Rule, Stored } from '@rigid-rule/core/document';
  import { becomes } from '@rigid-rule/core/language';
  import type { Settlement } from '@rigid-rule/core/settle';
  import { shownValue, type Titles } from '$lib/features/fields';
  import { causeWords, verdictWord } from '$lib/features/trace';
  import { counted } from '$lib/counted.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { tracePartsOf } from './trace-parts.ts';

  interface Props {
    settlement: Settlement;
    fields: readonly Field[];
    rules: ReadonlyMap<string, Rule>;
    titles: Titles;
    /** The beginning of a rule's address. */
    link: string;
    /** Key of the rule on the sheet. */
    current?: string | undefined;
  }
  const { settlement, fields, rules, titles, link, current }: Props = $props();

  const parts = $derived(tracePartsOf(settlement.trace, current));
  const folds = $derived([
    { of: 'without', says: 'ran without effect', rules: parts.withoutEffect },
    { of: 'idle', says: 'did not act', rules: parts.idle },
  ]);
  let unfolded = $state.raw<readonly string[]>([]);
  const toggle = (fold: string) =>
    (unfolded = unfolded.includes(fold) ? unfolded.filter((f) => f !== fold) : [...unfolded, fold]);
  const fieldOf = (name: string) => fields.find((f) => f.name === name.replace(/^previous\./, ''));
  const shown = (f: Field | undefined, v: Stored) =>
    (f ? shownValue(f, v, titles) : v === null ? '' : String(v)) || 'blank';
  const nameOf = (t: TraceEntry) => rules.get(t.rule)?.name ?? t.rule;
  const outcomes = (t: TraceEntry) =>
    t.outcomes.map((o) => {
      const field = fields.find((f) => f.key === o.field);
      const wrote = o.from === o.to ? '' : `wrote ${becomes(shown(field, o.from), shown(field, o.to))}`;
      const why = [o.because && `found ${o.because}`, o.cause && causeWords[o.cause]].filter(Boolean).join(', ');
      return [field && t.outcomes.length > 1 ? `${field.name}:` : '', wrote, why].filter(Boolean).join(' ');
    });
</script>

{#snippet line(t: TraceEntry)}
  {@const word = verdictWord(t.verdict)}
  <div class="trace line-in-view" data-trace={t.rule}>
    <b class={{ held: 'text-held', stop: 'text-stop', faint: 'text-faint' }[word.tone]}>{word.text}</b>
    <span>
      <a href="{link}/{t.rule}" class="hover:text-brass">{nameOf(t)}</a>
      {#if t.parts && t.parts.length > 0}
        <br /><span class="quiet"
          >{t.parts
            .map((p) => `${p.text}: ${p.value === null ? 'unknown' : p.value === true ? 'yes' : 'no'}`)
            .join('; ')}</span
        >
      {/if}
      {#if t.verdict === 'asleep' && t.wokenBy.length > 0}
        <br /><span class="quiet"
          >triggered by <FirstOf items={t.wokenBy} most={4} what="fields that trigger it" tag="span"
            >{#snippet item(name, i)}{i > 0 ? ', ' : ''}{name}{/snippet}</FirstOf
          ></span
        >
      {/if}
      {#if t.read.length > 0}
        <br /><span class="quiet">read {t.read.map((r) => shown(fieldOf(r.name), r.value)).join(', ')}</span>
      {/if}
      {#each outcomes(t) as text, i (i)}{#if text}<br /><span class="quiet">{text}</span>{/if}{/each}
      {#if t.message}<br /><span class="text-stop">{t.message}</span>{/if}
    </span>
  </div>
{/snippet}

<h3 class="bench-head">
  Trace, {ownWriting(settlement.trace.length)}
  {settlement.trace.length === 1 ? 'rule' : 'rules'}
</h3>
{#each parts.open as t, nth (nth)}{@render line(t)}{/each}
{#each folds as { of, says, rules: folded } (of)}
  {#if folded.length > 0}
    {@const open = unfolded.includes(of)}
    <button type="button" class="word mt-1 block" aria-expanded={open} onclick={() => toggle(of)}
      >{counted(folded.length, 'other rule')} {says}{open ? ':' : ''}</button
    >
    {#if open}{#each folded as t, nth (nth)}{@render line(t)}{/each}{/if}
  {/if}
{/each}
{#if settlement.trace.length === 0}<p class="quiet">No rule looks at these records yet.</p>{/if}

<style>
  .trace {
    display: grid;
    grid-template-columns: 88px minmax(0, 1fr);
    gap: 10px;
    padding: 3px 0;
    --line: 66px;
    overflow-wrap: anywhere;
  }
  .trace b {
    font-weight: 650;
  }
</style>
