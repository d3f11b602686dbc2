<script lang="ts">
  /** What the draft does to the samples of a type in numbers, who writes it, and how much of it was agreed. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { dryRunOf } from '$lib/addresses.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { FieldMoves } from '@rigid-rule/core/rule-tests';
  import type { TypeImpact } from '$lib/workers/dry-run.ts';
  import type { Agreements } from '../proof/agreements.svelte.ts';

  interface Props {
    shown: TypeImpact;
    agreements: Agreements;
    /** The field on show. */
    field: FieldMoves | undefined;
    mayAgree: boolean;
    /** Whether what is shown is what a release would do. */
    counts: boolean;
  }
  const { shown, agreements, field, mayAgree, counts }: Props = $props();
  const figures = $derived(shown.figures);
  const agreedHere = $derived(
    figures.fields
      .flatMap((f) => f.moves.map((m) => ({ field: f.key, ...m })))
      .reduce((n, m) => n + (agreements.covers(shown.recordType, m) ? m.records : 0), 0),
  );
  const movedHere = $derived(figures.fields.reduce((n, f) => n + f.records, 0));
  const lines = $derived([
    {
      n: figures.changed,
      name: 'changed',
      says: `of the ${ownWriting(figures.tried)} ${shown.plural.toLowerCase()} tried`,
      bad: false,
    },
    ...(figures.newlyBlank > 0
      ? [{ n: figures.newlyBlank, name: 'newly blank', says: 'values that were there and go', bad: true }]
      : []),
    ...figures.messages.map((m) => ({
      n: m.records,
      name: 'newly stopped',
      says: m.text,
      bad: true,
      message: m.text,
    })),
    ...(figures.noLongerStopped > 0
      ? [{ n: figures.noLongerStopped, name: 'no longer stopped', says: 'could not be saved before', bad: false }]
      : []),
    ...(figures.failing > 0
      ? [{ n: figures.failing, name: 'failing', says: 'the rules do not settle on them', bad: true }]
      : []),
    ...figures.notices.map((m) => ({
      n: m.records,
      name: m.records > 0 ? 'more notices' : 'fewer notices',
      says: m.text,
      bad: false,
    })),
  ] as readonly { n: number; name: string; says: string; bad: boolean; message?: string }[]);
</script>

<h2 class="font-[650]">What this draft does</h2>
<ul class="grid grid-cols-[max-content_minmax(0,1fr)]">
  <FirstOf items={lines} most={8} what="figures" tag="li">
    {#snippet item(line)}<li class="col-span-2 grid grid-cols-subgrid gap-x-3 border-b border-line py-2">
        <span
          class={['min-w-16 text-right text-[30px] leading-[32px] font-[300]', line.bad && line.n > 0 && 'text-stop']}
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
      </li>{/snippet}
  </FirstOf>
</ul>
{#if figures.writers.length > 0}
  <p class="mt-3 flex justify-between text-small text-soft">
    <span class="mr-3 shrink-0">Written by</span><span class="truncate">{shown.plural.toLowerCase()}</span>
  </p>
  <ul>
    {#each figures.writers as w, nth (nth)}
      <li class="flex justify-between gap-2 py-[2px]">
        <span class="min-w-0">{w.text}</span><span>{ownWriting(w.records)}</span>
      </li>
    {/each}
  </ul>
{/if}
{#if counts && movedHere > 0}
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
      <p class="mt-1 text-small text-soft">Takes all its moves as seen. Lapses when a rule that it covers changes.</p>
    {/if}
    {#if agreements.problem}<p class="text-stop" role="alert">{agreements.problem}</p>{/if}
  </div>
{/if}
