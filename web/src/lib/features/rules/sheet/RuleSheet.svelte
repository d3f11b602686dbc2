<script lang="ts">
  /** One rule as a page of short labelled sentences, each edited where it stands. */
  import { deskOf, ruleAddress } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
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
  import { pointer, winners, type Operation, type Rule } from '@rigid-rule/core/document';
  import Icon from '$lib/ui/Icon.svelte';
  import ChevronRight from 'lucide/dist/esm/icons/chevron-right.mjs';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { loadFindingList } from '$lib/features/findings';
  import { ConditionEditor } from '$lib/features/formula';
  import { ruleToText } from '../rule-text.ts';
  import type { SampleValues } from '$lib/features/rule-kinds/parts/sample-values.ts';
  import ProofMarks from '$lib/features/proof/ProofMarks.svelte';
  import { kindFace } from '$lib/features/rule-kinds';
  import { saidAt, Visit } from '$lib/features/rule-kinds/parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import { wordsFor } from '$lib/features/fields';
  import { copyText } from '$lib/ui/copy-text.ts';

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
  const visit = new Visit();
  /** What stands in the input while it is no name: the rule keeps the one before. */
  let naming = $state<string>();
  function rename(name: string) {
    naming = name.trim() === '' ? name : undefined;
    if (naming === undefined) set('name', name, 'rename the rule', `name:${visit.group}`);
  }

  /** For browsers that do not size a textarea by what stands in it. */
  const grow = (node: HTMLTextAreaElement, _text: string) => {
    const fit = () => {
      if (CSS.supports('field-sizing', 'content')) return;
      node.style.height = 'auto';
      node.style.height = `${node.scrollHeight}px`;
    };
    fit();
    node.addEventListener('input', fit);
    return { update: fit };
  };
  const winner = $derived(winners.find((w) => w.key === rule.winner)!);
  /** Who wins is said of a field: all its rules say the same. */
  function setWinner(key: string) {
    const parts = [rule, ...siblings].map((r) => ({ kind: 'rule', key: r.key }) as const);
    draft.editAll(
      parts.map((part) => ({ ref: part, operations: [{ op: 'add', path: '/winner', value: key }] })),
      'change who wins',
    );
  }

  let copied = $state<'copied: paste it on any record type' | 'this browser lets nothing be copied'>();
  async function duplicate() {
    const { duplicateRule } = await import('../new-rule.ts');
    void goto(duplicateRule(draft, rule));
  }
  async function copy() {
    copied = (await copyText(ruleToText(rule)))
      ? 'copied: paste it on any record type'
      : 'this browser lets nothing be copied';
    setTimeout(() => (copied = undefined), 2000);
  }
  function remove() {
    // Its address is made first: once it is gone there is no rule here to ask.
    const next = deskOf(recordType.key, { field: targetsOf(rule)[0] ?? '' });
    draft.remove([ref], `remove ${rule.name}`);
    void goto(next);
  }
</script>

<article class="mx-auto max-w-[720px] pt-[18px] pr-[26px] pb-10 pl-2" aria-label="Rule">
  <div class="head">
    <span class="label">{kind?.name ?? rule.kind}</span>
    <div class="min-w-0">
      <div class="flex items-start gap-3">
        {#if readonly}
          <h1 class="flex-1">{rule.name}</h1>
        {:else}
          <h1 class="sr-only">{rule.name}</h1>
          <div class="min-w-0 flex-1">
            <input
              class="w-full bg-transparent text-[20px] leading-[26px] font-[650] outline-offset-4"
              aria-label="Name of the rule"
              value={naming ?? rule.name}
              aria-invalid={naming === undefined ? undefined : 'true'}
              onfocus={visit.begin}
              oninput={(e) => rename(e.currentTarget.value)}
              onblur={() => (naming = undefined)}
            />
            {#if naming !== undefined}<p class="text-small text-stop" role="alert">
                Enter a name: it stays {rule.name} until there is one.
              </p>{/if}
          </div>
        {/if}
        <label class="flex shrink-0 items-center gap-1.5 pt-1 text-small text-soft">
          <input
            type="checkbox"
            role="switch"
            checked={rule.on}
            disabled={readonly}
            onchange={(e) => set('on', e.currentTarget.checked, 'switch the rule')}
            class="check"
          />
          {rule.on ? 'on' : 'off'}
        </label>
      </div>
      <textarea
        use:grow={rule.purpose}
        class="mt-0.5 block field-sizing-content w-full resize-none overflow-hidden bg-transparent text-soft"
        rows="1"
        aria-label="Purpose"
        placeholder="What is it for? A sentence for whoever reads it next."
        {readonly}
        value={rule.purpose}
        onfocus={visit.begin}
        oninput={(e) => set('purpose', e.currentTarget.value, 'reword the purpose', `purpose:${visit.group}`)}
      ></textarea>
      <ProofMarks {draft} {rule} />
      {#if !readonly}
        <p class="flex gap-3 text-small text-faint">
          <button type="button" class="word" onclick={duplicate}>duplicate</button>
          <button type="button" class="word" onclick={copy}>{copied ?? 'copy'}</button>
          <button type="button" class="word" onclick={remove}>remove</button>
        </p>
      {/if}
    </div>
  </div>

  {#if draft.saver.clashes.has(`rule:${rule.key}`)}
    {#await import('$lib/features/draft/Clash.svelte') then { default: Clash }}<Clash
        {draft}
        id="rule:{rule.key}"
      />{/await}
  {/if}
  {#each loose as d, i (i)}<p class="mb-2 ml-[130px] text-small text-stop max-[1100px]:ml-0">{d.message}</p>{/each}

  {#if usual.length > 0}
    <SheetRow label="Acts">
      <button type="button" class="fold" aria-expanded="false" onclick={open}>
        {#each usual as part, i (part)}{i > 0 ? '; ' : ''}{#if i === 0 && folded.wakes}wakes on <b class="font-[650]"
              >{part.replace('wakes on ', '')}</b
            >{:else}{part}{/if}{/each}
        <Icon of={ChevronRight} size={13} class="inline" />
      </button>
    </SheetRow>
  {/if}
  {#if Object.values(folded).includes(false)}
    {#await import('./WhenItActs.svelte') then { default: WhenItActs }}
      <WhenItActs {rule} {compiled} {recordType} {wakes} {folded} {readonly} {open} {edit} />
    {/await}
  {/if}
  <SheetRow label="Only if">
    <ConditionEditor
      text={rule.condition ?? ''}
      label="Only if"
      scope={program.scope}
      {program}
      {readonly}
      diagnostics={saidAt(compiled, '/condition')}
      change={(text, group) => set('condition', text, 'change the condition', group)}
    />
  </SheetRow>
  {#if editor}
    {#await editor}
      <SheetRow label="Outcome">{sentence}</SheetRow>
    {:then { default: OutcomeEditor }}
      <OutcomeEditor {rule} {compiled} {program} {draft} {sample} {marked} {readonly} {edit} />
    {/await}
  {/if}

  {#if replaces}<SheetRow label="If someone entered a value">
      {#if readonly}
        {winner.name}
      {:else}
        <select
          class="editable"
          aria-label="If someone entered a value"
          value={rule.winner}
          onchange={(e) => setWinner(e.currentTarget.value)}
        >
          {#each winners as w (w.key)}<option value={w.key}>{w.name}</option>{/each}
        </select>
      {/if}
      <span class="quiet ml-2">{winner.help}</span>
    </SheetRow>{/if}
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
  .head {
    display: grid;
    grid-template-columns: 112px minmax(0, 1fr);
    column-gap: 18px;
    margin-bottom: 14px;
    align-items: baseline;
  }
  .head > span {
    text-align: right;
  }
  .fold {
    text-align: left;
    color: var(--soft);
    cursor: pointer;
  }
  .fold:hover {
    color: var(--ink);
  }
  @media (max-width: 1100px) {
    .head {
      grid-template-columns: 1fr;
    }
    .head > span {
      text-align: left;
    }
  }
</style>
