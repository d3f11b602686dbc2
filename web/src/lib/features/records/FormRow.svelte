<script lang="ts">
  /** One field on a form: its value, what it was, whether it is locked or must be filled in, and why. */
  import { winners, type Field, type Stored } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import type { Message } from '@rigid-rule/core/settle';
  import Icon from '$lib/ui/Icon.svelte';
  import Lock from 'lucide/dist/esm/icons/lock.mjs';
  import { FieldInput, shownValue, type Titles } from '$lib/features/fields';
  import { KindMark } from '$lib/features/rule-kinds';
  import { shownInstant } from '$lib/instants.ts';
  import { organisation, ownForm } from '$lib/organisation.svelte.ts';
  import type { FieldAuthor } from './record-server.ts';
  import type { RecordForm } from './form.svelte.ts';

  interface Props {
    form: RecordForm;
    field: Field;
    ruleNames: Readonly<Record<string, { name: string; kind: string }>>;
    entryNames: Readonly<Record<string, string>>;
    /** Who gave the stored value, where that is known. */
    author: FieldAuthor | undefined;
    titles: Titles;
    users: readonly { email: string; name: string }[];
    readonly: boolean;
    messages: readonly Message[];
    asked: boolean;
    ask: () => void;
  }
  const { form, field, ruleNames, entryNames, author, titles, users, readonly, messages, asked, ask }: Props = $props();

  const value = $derived(form.value(field.key));
  const before = $derived(form.before(field.key));
  const typed = $derived(form.typedValue(field.key));
  const limits = $derived(form.settlement.states[field.key]);
  const change = $derived(form.settlement.changes.find((c) => c.field === field.key));
  const byRule = $derived(change?.author.by === 'rule');
  const locked = $derived(limits?.locked !== undefined);
  /** Key of the rule that gave the value that stands here; a person's value has none. */
  const writer = $derived.by(() => {
    if (change) return change.author.by === 'rule' ? change.author.rule : undefined;
    if (author) return author.author.by === 'rule' ? author.author.rule : undefined;
    return value === null ? undefined : form.standing(field.key)?.rule;
  });
  const kind = $derived(writer === undefined ? undefined : ruleNames[writer]?.kind);
  const suggestion = $derived(form.suggestions.find((s) => s.field === field.key));
  const stop = $derived(messages.find((m) => m.severity === 'stop'));
  const shown = (v: Stored) => shownValue(field, v, titles) || 'blank';
  /** The settled value; only what is refused stays as it was typed. */
  const inputValue = $derived.by((): Stored => {
    if (!typed) return value;
    return 'problem' in fieldTypeOf(field).coerce(typed.value, field) ? String(typed.value) : value;
  });
  /** What was typed in this sitting and a rule put something else in its place. */
  const overruled = $derived(form.overruled(field));
  const held = $derived(form.isHeld(field.key));
  const winner = $derived(form.winnerOver(field.key));
  /** Something can be told of how it came to be. */
  const explicable = $derived(change !== undefined || author !== undefined || winner !== undefined);
  let focused = $state(false);
  const winnerHelp = $derived(winners.find((w) => w.key === winner?.winner)?.help);
</script>

<div
  class={['line', stop && 'stopped', value === null && !typed && 'blank']}
  data-field={field.key}
  onfocusin={() => (focused = true)}
  onfocusout={() => (focused = false)}
>
  <span class="mark" aria-hidden="true"
    >{#if change}<svg width="9" height="9" viewBox="0 0 9 9"
        ><path d="M4.5 0L9 4.5 4.5 9 0 4.5z" fill="var(--brass)" /></svg
      >{/if}</span
  >
  {#if locked || readonly}<span class="text-soft">{field.label ?? field.name}</span>{:else}<label
      class="text-soft"
      for="field-{field.key}">{field.label ?? field.name}</label
    >{/if}
  <span class={['flex min-w-0 items-center gap-x-2', (locked || readonly) && 'flex-wrap']}>
    {#if change}<span class="was shrink-0">{shown(before)}</span>{/if}
    {#if locked || readonly}
      <span class={['whitespace-pre-line', writer && 'written', writer && !byRule && 'font-normal']} data-value
        >{shown(value)}</span
      >
    {:else}
      <FieldInput
        id="field-{field.key}"
        {field}
        value={inputValue}
        live={fieldTypeOf(field).numeric ?? false}
        commit={(v) => form.commit(field.key, v)}
        invalid={stop !== undefined}
        describedBy={stop ? `said-${field.key}` : undefined}
        {titles}
        {users}
        sitting={form.sitting}
        {...limits?.allowed ? { allowed: limits.allowed } : {}}
        class={writer ? 'quietbox text-held' : 'quietbox'}
      />
    {/if}
  </span>
  <span class="flex items-center gap-2.5 text-[12px] whitespace-nowrap">
    {#if locked}<span
        class="quiet flex items-center gap-1"
        title={limits?.locked && `by ${ruleNames[limits.locked]?.name ?? limits.locked}`}
        ><Icon of={Lock} size={12} />locked</span
      >{/if}
    {#if limits?.required && value === null}<span class="text-stop">required</span>{/if}
    {#if change && !byRule}<span class="text-brass">not saved</span>{/if}
    {#if explicable}
      <button
        type="button"
        class={['flex cursor-pointer items-center gap-1', kind ? 'text-held' : 'text-soft']}
        aria-expanded={asked}
        aria-label="Why is {field.name} {shown(value)}?"
        onclick={ask}
        >{#if kind}<KindMark {kind} />{/if}why?</button
      >
    {/if}
  </span>
  {#if held && winner}<p class="said text-small text-soft" data-held>
      Held{author && author.author.by === 'sent'
        ? ` by ${author.by ?? 'a program'} since ${shownInstant(author.at.toISOString(), organisation.zone, ownForm())}`
        : ''}; {winner.name} leaves it.
      {#if !readonly && !locked}<button type="button" class="word" onclick={() => form.handBack(field.key)}
          >hand back to the rule</button
        >{/if}
    </p>
  {:else if focused && !typed && winner && winnerHelp && !locked && !readonly}<p
      class="beside text-small text-soft"
      data-winner
    >
      {winner.name} writes this: {winnerHelp}
    </p>{/if}
  {#if overruled !== undefined}<p class="said text-small text-soft" data-overruled>
      You typed {shown(overruled)}.
    </p>{/if}
  {#if stop}<p class="said text-stop" id="said-{field.key}">{stop.text}</p>{/if}
  {#each messages.filter((m) => m.severity === 'warn') as warning, nth (nth)}<p class="said text-brass">
      {warning.text}
    </p>{/each}
  {#if suggestion}
    <p class="said text-small text-held">
      The live rules say <b>{shown(suggestion.value)}</b>.
      {#if !readonly}<button
          type="button"
          class="cursor-pointer border-b-[1.5px] border-brass text-ink"
          onclick={() => form.take(suggestion)}>Take it</button
        >{/if}
    </p>
  {/if}
</div>
{#if asked}
  <div class="why">
    {#await Promise.all([import('./FieldWhy.svelte'), form.rules.byKey()]) then [{ default: FieldWhy }, rules]}
      <FieldWhy {form} {field} {rules} {ruleNames} {entryNames} {author} {titles} {locked} />
    {:catch}<p class="text-small text-stop">The rules of this form could not be read.</p>{/await}
  </div>
{/if}

<style>
  .line {
    position: relative;
    display: grid;
    grid-template-columns: 118px minmax(0, 1fr) auto;
    column-gap: 8px;
    align-items: center;
    min-height: 30px;
    padding: 3px 0;
  }
  .mark {
    position: absolute;
    left: -16px;
    top: 10px;
  }
  .stopped::before {
    content: '';
    position: absolute;
    left: -14px;
    top: 2px;
    bottom: 2px;
    border-left: 3px solid var(--stop);
  }
  .stopped .mark {
    display: none;
  }
  .said {
    grid-column: 2 / -1;
  }
  /* Over the next line, until something is typed: what comes and goes with the focus never moves what is about to be
     clicked, and never hides what follows from a value. */
  .beside {
    position: absolute;
    z-index: 10;
    top: calc(100% - 1px);
    left: 126px;
    right: 0;
    padding: 1px 8px 2px;
    border: 1px solid var(--line);
    background: var(--paper);
    pointer-events: none;
  }
  .why {
    padding-bottom: 6px;
    border-bottom: 1px solid var(--line);
  }
  .line :global(.quietbox) {
    width: 100%;
  }
  .line :global(.quietbox:not(:focus, [aria-invalid])) {
    border: 0;
    border-bottom: 1.5px solid var(--brass);
    border-radius: 0;
    background: transparent;
    padding-left: 0;
  }
  .line:hover :global(.quietbox:not(:focus, [aria-invalid])) {
    background: var(--brass-wash);
  }
  .line :global(select.quietbox:not(:focus)) {
    appearance: none;
  }
  /* A blank reads as one: faint, in whatever way the input says it. */
  .blank :global(.quietbox:not(:focus)) {
    color: var(--faint);
  }
</style>
