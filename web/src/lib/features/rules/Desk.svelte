<script lang="ts">
  /** The desk: ledger, sheet and bench side by side. */
  import { goto } from '$app/navigation';
  import { ruleKinds, targetsOf } from '@rigid-rule/core/compile';
  import type { Field, Stored } from '@rigid-rule/core/document';
  import { useDraft } from '$lib/features/draft/context.ts';
  import { useSamples } from '$lib/features/samples/samples.svelte.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { onDestroy, tick } from 'svelte';
  import { Kept } from '$lib/ui/kept.svelte.ts';
  import { followMedia } from '$lib/ui/media.ts';
  import SidePanes from '$lib/ui/SidePanes.svelte';
  import type { Bench } from './bench/bench.svelte.ts';
  import { noteField } from '$lib/features/rule-kinds/parts/recent-fields.ts';
  import { PressedAhead } from './bench-keys.ts';
  import Ledger from './ledger/Ledger.svelte';
  import { noValues, numericSource, sampleValues } from '$lib/features/rule-kinds/parts/sample-values.ts';
  import RuleSheet from './sheet/RuleSheet.svelte';

  interface Props {
    typeKey: string;
    ruleKey: string | undefined;
    fieldKey: string | undefined;
    sampleNumber: number;
  }
  const { typeKey, ruleKey, fieldKey, sampleNumber }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();
  const offers = useOffers();

  const program = $derived(draft.program.types.get(typeKey)!);
  const compiled = $derived(ruleKey ? program.rules.find((r) => r.rule.key === ruleKey) : undefined);
  const targets = $derived(compiled ? targetsOf(compiled.rule) : []);
  const field = $derived(
    program.recordType.fields.find((f) => f.key === fieldKey) ??
      program.recordType.fields.find((f) => targets.includes(f.key)),
  );

  $effect(() => {
    if (field && !ruleKey) noteField(typeKey, field.key);
  });

  const source = $derived(numericSource(compiled?.rule, program.recordType)?.key);
  const sample = $derived.by(() => {
    const held = source === undefined ? undefined : samples.values(program.recordType.key, [source]);
    return held ? sampleValues(held) : noValues;
  });
  // Kept here: the bench itself is laid out anew where the screen becomes narrow.
  const benches = new Kept<Bench>();
  onDestroy(benches.end);
  // Asked for while the bench itself is still on its way.
  $effect(() => void samples.at(program.recordType.key, Math.max(0, sampleNumber - 1)));
  const loadedBench = import('./bench/BenchSide.svelte');
  const ahead = new PressedAhead((acts) => offers.offer(acts, []));
  onDestroy(ahead.end);
  let settled = $state.raw<(field: string) => Stored>();
  const marked = $derived.by(() => {
    const slot = compiled?.reads.present[0];
    const value = slot === undefined ? null : settled?.(program.slots[slot]!.field.key);
    return typeof value === 'number' ? value : null;
  });

  /** Why what was pasted is no rule, until something else is on show. */
  let refused = $state<string>();
  const onShow = $derived([typeKey, ruleKey, field?.key].join(' '));
  $effect(() => {
    void onShow;
    refused = undefined;
  });
  /** A rule that was copied, from here or as text from anywhere, is made on the record type on show. */
  async function paste(e: ClipboardEvent) {
    if (!draft.editable || (e.target as HTMLElement).closest('input, textarea, [contenteditable]')) return;
    const text = e.clipboardData?.getData('text/plain') ?? '';
    const { ruleFromText, pasteRule } = await import('./new-rule.ts');
    const rule = ruleFromText(text);
    if (!rule) return;
    refused = 'problem' in rule ? rule.problem : undefined;
    if (!('problem' in rule)) void goto(pasteRule(draft, rule, program.recordType));
  }
  async function create(kind: (typeof ruleKinds)[number], on: Field) {
    const { createRule } = await import('./new-rule.ts');
    void goto(createRule(draft, kind, on, program.recordType));
  }

  let panes = $state<SidePanes>();
  async function filter() {
    panes?.show('left');
    await tick();
    document.getElementById('ledger-filter')?.focus();
  }

  $effect(() =>
    offers.offer(
      [
        { keys: '/', does: 'filter the fields', run: () => void filter() },
        { keys: '[', does: 'fold the ledger away, or back', run: () => panes?.fold('left') },
        { keys: ']', does: 'fold the bench away, or back', run: () => panes?.fold('right') },
      ],
      [
        ...(draft.editable && field
          ? ruleKinds.map((kind) => ({
              group: 'Here',
              name: `${kind.name}: new rule on ${field.name}`,
              run: () => void create(kind, field),
            }))
          : []),
      ],
    ),
  );
  $effect(() =>
    offers.skipTo([
      { name: 'the fields', pane: 'fields' },
      { name: compiled ? 'the rule' : 'the sheet', pane: 'sheet' },
      { name: 'the bench', pane: 'bench' },
    ]),
  );
  let wide = $state(true);
  followMedia('(min-width: 1024px)', (holds) => (wide = holds));
</script>

<svelte:window onpaste={paste} />
<svelte:head><title>{compiled?.rule.name ?? field?.name ?? program.recordType.plural} · Rigid Rule</title></svelte:head>

{#snippet ledger()}
  <Ledger {draft} {program} field={field?.key} rule={ruleKey} />
{/snippet}
{#snippet sheet()}
  {#if refused}
    <div class="mx-6 mt-4 flex gap-3 border-l-[3px] border-stop bg-stop-wash px-3 py-2" role="alert">
      <p class="grow"><strong>This rule was not pasted.</strong> {refused}</p>
      <button type="button" class="editable self-start" onclick={() => (refused = undefined)}>Close</button>
    </div>
  {/if}
  {#if compiled}
    {#key compiled.rule.key}
      <RuleSheet rule={compiled.rule} {compiled} {program} {draft} {sample} {marked} />
    {/key}
  {:else if field && !ruleKey}
    {#await import('./FieldSheet.svelte') then { default: FieldSheet }}
      <FieldSheet {field} {program} {draft} />
    {/await}
  {:else}
    {#await import('./TypeSheet.svelte') then { default: TypeSheet }}
      <TypeSheet {program} {draft} />
    {/await}
  {/if}
{/snippet}
{#snippet benchSide()}
  {#await loadedBench}
    <section class="px-[18px] pt-3" aria-label="Bench">
      <p class="quiet late" role="status">The bench is being set up.</p>
    </section>
  {:then { default: BenchSide }}
    <BenchSide {program} {compiled} {ruleKey} {sampleNumber} {benches} {ahead} bind:settled />
  {:catch}
    <section class="px-[18px] pt-3" aria-label="Bench">
      <p role="alert">The bench could not be loaded.</p>
      <button type="button" class="button mt-2" onclick={() => location.reload()}>Load the page again</button>
    </section>
  {/await}
{/snippet}

{#if wide}
  <SidePanes
    bind:this={panes}
    screen="desk"
    limits={{ left: { usual: 18.5, least: 14 }, right: { usual: 31, least: 22 }, middle: 36 }}
    names={{ left: 'the fields', right: 'the bench' }}
  >
    {#snippet left()}<div class="h-full" data-keypane="fields">{@render ledger()}</div>{/snippet}
    {#snippet middle()}<div class="page" data-keypane="sheet">{@render sheet()}</div>{/snippet}
    {#snippet right()}<div class="h-full" data-keypane="bench">{@render benchSide()}</div>{/snippet}
  </SidePanes>
{:else}
  <div class="page">
    <details class="border-b border-line" open={!compiled && !field}>
      <summary class="cursor-pointer px-3.5 py-2">Fields of {program.recordType.plural}</summary>
      {@render ledger()}
    </details>
    <div class="bg-sheet px-4">{@render sheet()}</div>
    {@render benchSide()}
  </div>
{/if}
