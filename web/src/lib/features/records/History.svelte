<script lang="ts">
  /** What happened to the record, newest first, along a ruler: who, how it came in, which rule under which release. */
  import ReleaseLink from '$lib/ui/ReleaseLink.svelte';
  import { counted } from '$lib/counted.ts';
  import { ownDay, ownMoments } from '$lib/organisation.svelte.ts';
  import type { TraceEntry } from '@rigid-rule/core/compile';
  import { nameOfField, type RecordType, type Rule } from '@rigid-rule/core/document';
  import type { Change } from '@rigid-rule/core/settle';
  import { shownValue, type Titles } from '$lib/features/fields';
  import { KindMark } from '$lib/features/rule-kinds';
  import type { KeptTrace } from './record-server.ts';

  export interface Entry {
    readonly id: number;
    readonly at: Date;
    readonly by: string | null;
    readonly entryPoint: string;
    readonly moment: string;
    readonly release: number | null;
    readonly changes: readonly Change[];
  }
  interface Props {
    entries: readonly Entry[];
    recordType: RecordType;
    /** The rules that stand now, where somebody asks why. */
    rules: () => Promise<ReadonlyMap<string, Rule>>;
    /** Names of the rules as the releases named them. */
    names: Readonly<Record<string, { name: string; kind: string }>>;
    /** What the rules did in a write. */
    traceOf: (write: number) => Promise<KeptTrace>;
    entryNames: Readonly<Record<string, string>>;
    titles: Titles;
    /** Not saved yet: what this sitting changes. */
    unsaved:
      | {
          readonly form: string;
          readonly release: number | null;
          readonly changes: readonly Change[];
          readonly trace: readonly TraceEntry[];
        }
      | undefined;
  }
  const { entries, recordType, rules, names, traceOf, entryNames, titles, unsaved }: Props = $props();
  const time = $derived(ownMoments({ hour: '2-digit', minute: '2-digit' }));
  const shown = (key: string, value: Change['to']) => {
    const field = recordType.fields.find((f) => f.key === key);
    return (field ? shownValue(field, value, titles) : String(value ?? '')) || 'blank';
  };
  const fieldName = (key: string) => nameOfField(recordType.fields, key);
  const most = 8;
  /** The change that is explained: its write (none for what is not saved) and field. */
  let asked = $state<string>();
  /** Writes that are told to the last value. */
  let whole = $state.raw<readonly number[]>([]);
  /** At first what rules wrote of a new record, and the beginning of a long list. */
  const told = (e: Entry): readonly Change[] => {
    if (whole.includes(e.id)) return e.changes;
    const first = e.moment === 'creating' ? e.changes.filter((c) => c.author.by === 'rule') : e.changes;
    return first.slice(0, most);
  };
  const askedKey = (write: number | undefined, field: string) => `${write ?? 'now'} ${field}`;
  const byHand = (changes: readonly Change[]) =>
    changes.flatMap((c) => (c.author.by === 'sent' ? [fieldName(c.field)] : []));
  const entryOf = (trace: readonly TraceEntry[], c: Change) => {
    const rule = c.author.by === 'rule' ? c.author.rule : undefined;
    return trace.findLast((t) => t.rule === rule && t.outcomes.some((o) => o.field === c.field));
  };
</script>

{#snippet why(trace: readonly TraceEntry[], changes: readonly Change[], c: Change, by: string)}
  {@const entry = entryOf(trace, c)}
  {@const field = recordType.fields.find((f) => f.key === c.field)}
  {#if entry && field}{#await Promise.all([import('./why.ts'), rules()]) then [{ Why }, rules]}<Why
        {field}
        fields={recordType.fields}
        {trace}
        {rules}
        {names}
        {entry}
        changed={byHand(changes)}
        changedBy={by}
        {titles}
      />{:catch}<p class="text-small text-stop">What the rules did then could not be told.</p>{/await}
  {:else}<p class="text-small text-soft">What the rule read was not kept.</p>{/if}
{/snippet}

{#snippet change(c: Change, release: number | null, write: number | undefined, by: string)}
  <p>
    {fieldName(c.field)}
    <span class="was mx-1">{shown(c.field, c.from)}</span><span
      class={c.author.by === 'rule' ? 'font-[650] text-held' : ''}>{shown(c.field, c.to)}</span
    >
  </p>
  {#if c.author.by === 'rule'}
    {@const rule = names[c.author.rule]}
    {@const key = askedKey(write, c.field)}
    <p class="text-small">
      <span class="mr-1 text-held"><KindMark kind={rule?.kind ?? 'derive'} /></span>{rule?.name ?? c.author.rule}<span
        class="quiet"
        >{#if release !== null}, <ReleaseLink number={release} />{/if}</span
      >
      <button
        type="button"
        class="ml-1 cursor-pointer text-held"
        aria-expanded={asked === key}
        aria-label="Why did {fieldName(c.field)} become {shown(c.field, c.to)}?"
        onclick={() => (asked = asked === key ? undefined : key)}>why?</button
      >
    </p>
    {#if asked === key}
      {#if write === undefined}{@render why(unsaved?.trace ?? [], unsaved?.changes ?? [], c, 'you')}
      {:else}
        {#await traceOf(write) then kept}{@render why(kept.trace, kept.changes, c, by)}{:catch e}<p
            class="text-small text-stop"
          >
            {e instanceof Error ? e.message : 'What the rules did then could not be read.'}
          </p>{/await}
      {/if}
    {/if}
  {/if}
{/snippet}

<ol class="history">
  {#if unsaved && unsaved.changes.length > 0}
    <li>
      <span class="when">now</span><span class="tick now" aria-hidden="true"></span>
      <div>
        <p class="text-small text-soft">you, {unsaved.form}, not saved</p>
        {#each unsaved.changes as c, nth (nth)}{@render change(c, unsaved.release, undefined, 'you')}{/each}
      </div>
    </li>
  {/if}
  {#each entries as e (e.id)}
    <li>
      <span class="when">{ownDay(e.at)}<br />{time.format(e.at)}</span><span class="tick" aria-hidden="true"></span>
      <div>
        <p class="text-small text-soft">{e.by ?? 'someone'}, {entryNames[e.entryPoint] ?? e.entryPoint}</p>
        {#if e.moment === 'creating'}
          <p>Created with {counted(e.changes.length, 'value')}</p>
        {:else if e.changes.length === 0}<p class="quiet">Saved without a change</p>{/if}
        {#each told(e) as c, nth (nth)}{@render change(c, e.release, e.id, e.by ?? 'the write')}{/each}
        {#if told(e).length < e.changes.length}<button
            type="button"
            class="word text-small"
            onclick={() => (whole = [...whole, e.id])}>{e.changes.length - told(e).length} more</button
          >{/if}
      </div>
    </li>
  {:else}
    {#if !unsaved || unsaved.changes.length === 0}
      <li>
        <span class="when"></span><span class="tick" aria-hidden="true"></span>
        <p class="quiet">Nothing has happened since it was loaded.</p>
      </li>
    {/if}
  {/each}
</ol>

<style>
  .history {
    position: relative;
    flex: 1 0 auto;
    background:
      linear-gradient(var(--ink), var(--ink)) 88px 0 / 1.3px 100% no-repeat,
      repeating-linear-gradient(var(--tick) 0 1px, transparent 1px 10px) 89px 0 / 5px 100% no-repeat;
  }
  li {
    display: grid;
    grid-template-columns: 72px 16px minmax(0, 1fr);
    padding: 0 18px 16px 0;
  }
  li > :last-child {
    padding-left: 16px;
  }
  .when {
    text-align: right;
    font-size: 12.5px;
    line-height: 18px;
    color: var(--soft);
    padding-right: 4px;
  }
  .tick {
    align-self: start;
    margin-top: 9px;
    margin-left: 6px;
    border-top: 1.3px solid var(--ink);
    width: 11px;
  }
  .tick.now {
    border-top: 3px solid var(--brass);
  }
</style>
