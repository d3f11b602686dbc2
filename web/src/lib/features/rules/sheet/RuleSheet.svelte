<script lang="ts">
  /** One rule as a page of short labelled sentences, each edited where it stands. */
  import { loadConditionEditor } from '$lib/features/formula';
  import { ruleAddress } from '$lib/addresses.ts';
  import {
    entriesText,
    findRuleKind,
    momentsText,
    ruleSentence,
    targetsOf,
    type CompiledRule,
    type TypeProgram,
  } from '@rigid-rule/core/compile';
  import { hasErrors } from '@rigid-rule/core/diagnostics';
  import { pointer, type Operation, type Rule } from '@rigid-rule/core/document';
  import Icon from '$lib/ui/Icon.svelte';
  import ChevronRight from 'lucide/dist/esm/icons/chevron-right.mjs';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { loadFindingList } from '$lib/features/findings';
  import type { SampleValues } from '$lib/features/rule-kinds/parts/sample-values.ts';
  import { kindFace } from '$lib/features/rule-kinds';
  import { saidAt } from '$lib/features/rule-kinds/parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import RuleHead from './RuleHead.svelte';
  import WinnerRow from './WinnerRow.svelte';
  import { wordsFor } from '$lib/features/fields';

  interface Props {
    rule: Rule;
    compiled: CompiledRule;
    program: TypeProgram;
    draft: Draft;
    sample: SampleValues;
    marked: number | null;
  }
  const { rule, compiled, program, draft, sample, marked }: Props = $props();

  const recordType = $derived(program.recordType);
  const kind = $derived(findRuleKind(rule.kind));
  // By the kind alone: an edit of the rule must not load its editor anew, and take the focus away.
  const kindKey = $derived(rule.kind);
  const editor = $derived(kindFace(kindKey)?.editor());
  const readonly = $derived(!draft.editable);
  const ref = $derived({ kind: 'rule', key: rule.key } as const);
  const wakes = $derived([
    ...compiled.wakes.map((slot) => recordType.fields[slot]!.name),
    ...(rule.wakesOn ? [] : new Set(compiled.related.map((r) => r.text))),
  ]);
  /** What the rules as a whole say about this one; what stands beneath its own part is not said twice. */
  const findings = $derived(
    draft.findings.filter((f) => f.part.kind === 'rule' && f.part.key === rule.key && f.kind !== 'does-not-compile'),
  );
  /** Mistakes that no part of the sheet shows. */
  const loose = $derived(
    saidAt(compiled, '/name').concat(
      saidAt(compiled, '/moments'),
      saidAt(compiled, '/outcome'),
      saidAt(compiled, '/outcome/steps'),
    ),
  );
  const siblings = $derived(
    draft.rulebook.rules.filter(
      (r) =>
        r.key !== rule.key && r.recordType === rule.recordType && targetsOf(r).some((t) => targetsOf(rule).includes(t)),
    ),
  );

  /** What is as usual stands folded on one line, so that the outcome is in sight; once opened it stays open. */
  let opened = $state(false);
  const folded = $derived({
    wakes: !opened && !rule.wakesOn,
    moments: !opened && momentsText(rule.moments, rule.kind) === 'at every moment',
    entries: !opened && entriesText(rule.entryPoints, recordType) === 'everywhere',
    repeat: !opened && rule.repeat === 'wakes',
  });
  const open = () => (opened = true);
  const usual = $derived(
    [
      folded.wakes && (wakes.length > 0 ? `wakes on ${wakes.join(', ')}` : 'wakes on new records'),
      folded.moments && 'at every moment',
      folded.entries && 'everywhere',
      folded.repeat && 'whenever it wakes',
    ].filter((part) => part !== false),
  );
  const sentence = $derived(ruleSentence(rule, recordType, wordsFor(recordType, draft.rulebook)));
  /** Nothing that a person entered can be at stake where nothing of theirs is written over. */
  const replaces = $derived(kind?.replaces !== false && targetsOf(rule).length > 0);

  const edit = (operations: readonly Operation[], label: string, group?: string) =>
    draft.edit(ref, operations, label, group);
  const set = (member: string, value: unknown, label: string, group?: string) =>
    edit([{ op: 'add', path: pointer(member), value }], label, group);
</script>

<article class="mx-auto max-w-[720px] pt-[18px] pr-[26px] pb-10 pl-2" aria-label="Rule">
  <RuleHead {rule} {draft} {recordType} {edit} />

  {#if draft.saver.clashes.has(`rule:${rule.key}`)}
    {#await import('$lib/features/draft/Clash.svelte') then { default: Clash }}<Clash
        {draft}
        id="rule:{rule.key}"
      />{/await}
  {/if}
  {#each loose as d, i (i)}<p class="mb-2 ml-[130px] text-small text-stop max-[1100px]:ml-0">{d.message}</p>{/each}

  {#if usual.length > 0}
    {#snippet more()}&nbsp;<Icon of={ChevronRight} size={13} class="inline" />{/snippet}
    <SheetRow label="Acts">
      <button type="button" class="fold" aria-expanded="false" onclick={open}>
        {#each usual as part, i (part)}{i > 0 ? '; ' : ''}{#if i === 0 && folded.wakes}wakes on <b class="font-[650]"
              >{part.replace('wakes on ', '')}</b
            >{:else if i === usual.length - 1}<span class="whitespace-nowrap">{part}{@render more()}</span
            >{:else}{part}{/if}{/each}{#if usual.length === 1 && folded.wakes}{@render more()}{/if}
      </button>
    </SheetRow>
  {/if}
  {#if Object.values(folded).includes(false)}
    {#await import('./WhenItActs.svelte') then { default: WhenItActs }}
      <WhenItActs {rule} {compiled} {recordType} {wakes} {folded} {readonly} {open} {edit} />
    {/await}
  {/if}
  <SheetRow label="Only if">
    {#await loadConditionEditor()}
      <span class="quiet">{rule.condition || 'always'}</span>
    {:then { default: ConditionEditor }}
      <ConditionEditor
        text={rule.condition ?? ''}
        label="Only if"
        scope={program.scope}
        {program}
        {readonly}
        diagnostics={saidAt(compiled, '/condition')}
        change={(text, group) => set('condition', text, 'change the condition', group)}
      />
    {/await}
  </SheetRow>
  {#if editor}
    {#await editor}
      <SheetRow label="Outcome">{sentence}</SheetRow>
    {:then { default: OutcomeEditor }}
      <OutcomeEditor {rule} {compiled} {program} {draft} {sample} {marked} {readonly} {edit} />
    {/await}
  {/if}

  {#if replaces}<WinnerRow {rule} {siblings} {draft} {readonly} />{/if}
  {#await import('./NoticesEditor.svelte')}
    <SheetRow label="Notifies"><span class="quiet">…</span></SheetRow>
  {:then { default: NoticesEditor }}
    <NoticesEditor {rule} {compiled} {program} {readonly} {edit} />
  {/await}

  {#if findings.length > 0}
    {#await loadFindingList() then { default: FindingList }}
      <FindingList {draft} {findings} onSheet />
    {/await}
  {/if}
  {#if hasErrors(compiled.diagnostics)}
    <p class="mt-2 mb-2 ml-[130px] text-small text-stop max-[1100px]:ml-0">
      Until this is put right the rule is left out on the bench, and the draft cannot be released.
    </p>
  {/if}
  <SheetRow label="Read aloud"><p class="text-soft" data-said>{sentence}</p></SheetRow>
  {#if siblings.length > 0}
    <SheetRow label="Same field">
      {#each siblings as s (s.key)}<a class="editable mr-3" href={ruleAddress(recordType.key, s.key)}>{s.name}</a
        >{/each}
    </SheetRow>
  {/if}
</article>

<style>
  .fold {
    /* Within a line its label would stand beside its last line. */
    display: block;
    text-align: left;
    color: var(--soft);
    cursor: pointer;
  }
  .fold:hover {
    color: var(--ink);
  }
</style>
