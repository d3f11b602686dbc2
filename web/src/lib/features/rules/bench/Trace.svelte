<script lang="ts">
  /** What each rule did, in order: what it read, what it wrote, or why it did not act. */
  import type { Field, Rule, Settlement, Stored, TraceEntry } from '@rigid-rule/core';
  import { shownValue, type Titles } from '$lib/features/fields';
  import { causeWords, verdictWords } from '$lib/features/trace';

  interface Props {
    settlement: Settlement;
    fields: readonly Field[];
    rules: ReadonlyMap<string, Rule>;
    titles: Titles;
    /** The beginning of a rule's address. */
    link: string;
  }
  const { settlement, fields, rules, titles, link }: Props = $props();

  const loud = $derived(settlement.trace.filter((t) => !['asleep', 'off'].includes(t.verdict)));
  const asleep = $derived(settlement.trace.filter((t) => t.verdict === 'asleep'));
  const off = $derived(settlement.trace.filter((t) => t.verdict === 'off'));
  const fieldOf = (name: string) => fields.find((f) => f.name === name.replace(/^previous\./, ''));
  const shown = (f: Field | undefined, v: Stored) =>
    (f ? shownValue(f, v, titles) : v === null ? '' : String(v)) || 'blank';
  const nameOf = (t: TraceEntry) => rules.get(t.rule)?.name ?? t.rule;
  const outcomes = (t: TraceEntry) =>
    t.outcomes.map((o) => {
      const field = fields.find((f) => f.key === o.field);
      const wrote = o.from === o.to ? '' : `wrote ${shown(field, o.from)} → ${shown(field, o.to)}`;
      const why = [o.because && `found ${o.because}`, o.cause && causeWords[o.cause]].filter(Boolean).join(', ');
      return [field && t.outcomes.length > 1 ? `${field.name}:` : '', wrote, why].filter(Boolean).join(' ');
    });
  const awake = (list: readonly TraceEntry[]) => [...new Set(list.flatMap((t) => t.wokenBy))];
</script>

<h3 class="bench-head">Trace, {settlement.trace.length} rule{settlement.trace.length === 1 ? '' : 's'} in order</h3>
{#each loud as t (t.rule)}
  {@const word = verdictWords[t.verdict]}
  <div class="trace" data-trace={t.rule}>
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
      {#if t.read.length > 0}
        <br /><span class="quiet">read {t.read.map((r) => shown(fieldOf(r.name), r.value)).join(', ')}</span>
      {/if}
      {#each outcomes(t) as text, i (i)}{#if text}<br /><span class="quiet">{text}</span>{/if}{/each}
      {#if t.message}<br /><span class="text-stop">{t.message}</span>{/if}
    </span>
  </div>
{/each}
{#if asleep.length > 0}
  <div class="trace text-faint">
    <b>asleep</b>
    <span>
      {#if asleep.length === 1}<a href="{link}/{asleep[0]!.rule}" class="hover:text-brass">{nameOf(asleep[0]!)}</a
        >{:else}{asleep.length} rules{/if}, woken by {awake(asleep).slice(0, 4).join(', ') || 'nothing'}
    </span>
  </div>
{/if}
{#if off.length > 0}
  <div class="trace text-faint"><b>off</b><span>{off.map(nameOf).join(', ')}</span></div>
{/if}
{#if settlement.trace.length === 0}<p class="quiet">No rule looks at these records yet.</p>{/if}

<style>
  .trace {
    display: grid;
    grid-template-columns: 76px minmax(0, 1fr);
    gap: 10px;
    padding: 3px 0;
    overflow-wrap: anywhere;
  }
  .trace b {
    font-weight: 650;
  }
</style>
