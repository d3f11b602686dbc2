<script lang="ts">
  /** One rule as a page of short labelled sentences, each edited where it stands. */
  import {
    entryPointsOf,
    findRuleKind,
    hasErrors,
    moments,
    pointer,
    winners,
    type CompiledRule,
    type Operation,
    type RecordType,
    type Rule,
  } from '@rigid-rule/core';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import Clash from '$lib/features/draft/Clash.svelte';
  import { outcomeEditors } from './outcome-editors.ts';
  import SheetRow from './SheetRow.svelte';

  interface Props {
    rule: Rule;
    compiled: CompiledRule;
    recordType: RecordType;
    draft: Draft;
    sample: { values: readonly number[]; blanks: number };
    marked: number | null;
  }
  const { rule, compiled, recordType, draft, sample, marked }: Props = $props();

  const kind = $derived(findRuleKind(rule.kind));
  const readonly = $derived(!draft.editable);
  const ref = $derived({ kind: 'rule', key: rule.key } as const);
  const entryPoints = $derived(entryPointsOf(recordType));
  const OutcomeEditor = $derived(outcomeEditors[rule.kind]);
  const wakes = $derived(compiled.wakes.map((slot) => recordType.fields[slot]!.name));
  const conditionProblems = $derived(compiled.diagnostics.filter((d) => d.path === '/condition'));
  /** What the rules as a whole say about this one; mistakes in the condition stand beneath it. */
  const findings = $derived(
    draft.findings.filter(
      (f) =>
        f.part.kind === 'rule' &&
        f.part.key === rule.key &&
        !(f.kind === 'does-not-compile' && f.path === '/condition'),
    ),
  );
  const siblings = $derived(
    draft.rulebook.rules.filter(
      (r) =>
        r.key !== rule.key && r.recordType === rule.recordType && targetsOf(r).some((t) => targetsOf(rule).includes(t)),
    ),
  );

  function targetsOf(r: Rule): readonly string[] {
    return findRuleKind(r.kind)?.targets(r.outcome) ?? [];
  }
  const edit = (operations: readonly Operation[], label: string, group?: string) =>
    draft.edit(ref, operations, label, group);
  const set = (member: string, value: unknown, label: string, group?: string) =>
    edit([{ op: 'add', path: pointer(member), value }], label, group);

  /** Typing in one field within one visit to it is one step of undo. */
  let visit: string = crypto.randomUUID();
  const begin = () => (visit = crypto.randomUUID());

  function toggle(member: 'moments' | 'entryPoints', key: string, on: boolean) {
    const all: readonly string[] = member === 'moments' ? moments.map((m) => m.key) : entryPoints.map((e) => e.key);
    const now: readonly string[] = rule[member];
    set(
      member,
      all.filter((k) => (k === key ? on : now.includes(k))),
      member === 'moments' ? 'change when it acts' : 'change where it comes in',
    );
  }
  /** A moment that no chosen entry point has, or the other way round, can never come about. */
  const possible = (moment: string) =>
    entryPoints.some((e) => rule.entryPoints.includes(e.key) && (e.moments as readonly string[]).includes(moment));
  const grow = (node: HTMLTextAreaElement, _text: string) => {
    const fit = () => {
      node.style.height = 'auto';
      node.style.height = `${node.scrollHeight}px`;
    };
    fit();
    node.addEventListener('input', fit);
    return { update: fit };
  };
  const winner = $derived(winners.find((w) => w.key === rule.winner)!);
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
              value={rule.name}
              onfocus={begin}
              oninput={(e) => set('name', e.currentTarget.value, 'rename the rule', `name:${visit}`)}
            />
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
        class="mt-0.5 block w-full resize-none overflow-hidden bg-transparent text-soft"
        rows="1"
        aria-label="Purpose"
        placeholder="What is it for? A sentence for whoever reads it next."
        {readonly}
        value={rule.purpose}
        onfocus={begin}
        oninput={(e) => set('purpose', e.currentTarget.value, 'reword the purpose', `purpose:${visit}`)}></textarea>
    </div>
  </div>

  {#if draft.clashes.has(`rule:${rule.key}`)}<Clash {draft} id="rule:{rule.key}" {recordType} />{/if}

  <SheetRow label="Wakes on">
    {#if wakes.length > 0}<span class="font-[650]">{wakes.join(', ')}</span>{:else}<span class="quiet">nothing yet</span
      >{/if}
    <span class="quiet ml-2">{rule.wakesOn ? 'chosen by hand' : 'found from what the rule reads'}</span>
  </SheetRow>
  <SheetRow label="When">
    {#each moments.filter((m) => m.key !== 'on request') as moment (moment.key)}
      {@const can = possible(moment.key)}
      <label class={['option', (!can || !rule.moments.includes(moment.key)) && 'text-faint']} title={moment.help}>
        <input
          type="checkbox"
          class="check"
          checked={rule.moments.includes(moment.key)}
          disabled={readonly || !can}
          onchange={(e) => toggle('moments', moment.key, e.currentTarget.checked)}
        />
        {moment.name}
      </label>
    {/each}
  </SheetRow>
  <SheetRow label="Came in through">
    {#each entryPoints as entry (entry.key)}
      <label class={['option', !rule.entryPoints.includes(entry.key) && 'text-faint']} title={entry.help}>
        <input
          type="checkbox"
          class="check"
          checked={rule.entryPoints.includes(entry.key)}
          disabled={readonly}
          onchange={(e) => toggle('entryPoints', entry.key, e.currentTarget.checked)}
        />
        {entry.name}
      </label>
    {/each}
  </SheetRow>
  <SheetRow label="Only if">
    {#if readonly}
      <span class="font-mono text-small">{rule.condition || 'always'}</span>
    {:else}
      <input
        class={['editable w-full font-mono text-small', conditionProblems.length > 0 && 'border-stop']}
        aria-label="Only if"
        aria-invalid={conditionProblems.length > 0 ? 'true' : undefined}
        aria-describedby={conditionProblems.length > 0 ? 'condition-problems' : undefined}
        spellcheck="false"
        autocomplete="off"
        placeholder="always; or a formula such as  Holding kind = &quot;Orchard&quot;"
        value={rule.condition ?? ''}
        onfocus={begin}
        oninput={(e) => set('condition', e.currentTarget.value, 'change the condition', `condition:${visit}`)}
      />
      {#if conditionProblems.length > 0}
        <ul id="condition-problems" class="mt-1 text-small text-stop">
          {#each conditionProblems as d, i (i)}
            <li>
              {d.message}{#if d.range.to > d.range.from}<span class="quiet"> at character {d.range.from + 1}</span>{/if}
            </li>
          {/each}
        </ul>
      {/if}
    {/if}
  </SheetRow>

  {#if OutcomeEditor}
    <OutcomeEditor {rule} {recordType} {sample} {marked} {readonly} {edit} />
  {:else}
    <SheetRow label="Outcome">{kind?.sentence(rule.outcome, recordType) ?? ''}</SheetRow>
  {/if}

  <SheetRow label="Over a person">
    {#if readonly}
      {winner.name}
    {:else}
      <select
        class="editable"
        aria-label="Who wins over a person"
        value={rule.winner}
        onchange={(e) => set('winner', e.currentTarget.value, 'change who wins')}
      >
        {#each winners as w (w.key)}<option value={w.key}>{w.name}</option>{/each}
      </select>
    {/if}
    <span class="quiet ml-2">{winner.help}</span>
  </SheetRow>
  <SheetRow label="Acts as">
    {compiled.standing ? 'standing rule' : 'event rule'}
    <span class="quiet ml-2"
      >{compiled.standing ? 'its result follows from present values alone' : compiled.eventBecause}</span
    >
  </SheetRow>

  {#if findings.length > 0}
    <section class="findings" aria-label="Findings">
      <span class="shrink-0 font-[650]">{findings.length} finding{findings.length === 1 ? '' : 's'}</span>
      <ul class="flex flex-col gap-1">
        {#each findings as f, i (`${f.key} ${i}`)}
          <li class={f.severity === 'error' ? 'text-stop' : ''}>
            {f.sentence}
            {#if f.repair && !readonly}
              <button class="editable ml-1" onclick={() => draft.repair(f)}>{f.repair.text}</button>
            {/if}
          </li>
        {/each}
      </ul>
    </section>
  {/if}
  {#if hasErrors(compiled.diagnostics)}
    <p class="ml-[130px] mt-2 text-small text-stop max-[1100px]:ml-0">
      Until this is put right the rule is left out on the bench, and the draft cannot be released.
    </p>
  {/if}
  {#if siblings.length > 0}
    <SheetRow label="Same field">
      {#each siblings as s (s.key)}<a class="editable mr-3" href="/desk/{recordType.key}/{s.key}">{s.name}</a>{/each}
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
  .option {
    min-height: 24px;
    display: inline-flex;
    gap: 5px;
    align-items: center;
    margin-right: 13px;
    cursor: pointer;
  }
  .findings {
    display: flex;
    gap: 9px;
    padding: 8px 12px;
    border-left: 3px solid var(--brass);
    background: var(--brass-wash);
    margin: 6px 0 0 130px;
  }
  @media (max-width: 1100px) {
    .head {
      grid-template-columns: 1fr;
    }
    .head > span {
      text-align: left;
    }
    .findings {
      margin-left: 0;
    }
  }
</style>
