<script lang="ts">
  /** What happened to the record, newest first, along a ruler: who, how it came in, which rule under which release. */
  import type { Change, RecordType } from '@rigid-rule/core';
  import { shownValue, type Titles } from '$lib/features/fields';
  import KindMark from '$lib/ui/KindMark.svelte';

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
    rules: Readonly<Record<string, { name: string; kind: string }>>;
    entryNames: Readonly<Record<string, string>>;
    titles: Titles;
    zone: string;
    /** Not saved yet: what this sitting changes. */
    unsaved:
      { readonly form: string; readonly release: number | null; readonly changes: readonly Change[] } | undefined;
  }
  const { entries, recordType, rules, entryNames, titles, zone, unsaved }: Props = $props();
  const day = $derived(new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', timeZone: zone }));
  const time = $derived(new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: zone }));
  const shown = (key: string, value: Change['to']) => {
    const field = recordType.fields.find((f) => f.key === key);
    return (field ? shownValue(field, value, titles) : String(value ?? '')) || 'blank';
  };
  const fieldName = (key: string) => recordType.fields.find((f) => f.key === key)?.name ?? key;
  const most = 8;
</script>

{#snippet change(c: Change, release: number | null)}
  <p>
    {fieldName(c.field)}
    <span class="was mx-1">{shown(c.field, c.from)}</span><span
      class={c.author.by === 'rule' ? 'font-[650] text-held' : ''}>{shown(c.field, c.to)}</span
    >
  </p>
  {#if c.author.by === 'rule'}
    {@const rule = rules[c.author.rule]}
    <p class="text-small">
      <span class="mr-1 text-held"><KindMark kind={rule?.kind ?? 'derive'} /></span>{rule?.name ?? c.author.rule}<span
        class="quiet">{release === null ? '' : `, release ${release}`}</span
      >
    </p>
  {/if}
{/snippet}

<ol class="history">
  {#if unsaved && unsaved.changes.length > 0}
    <li>
      <span class="when">now</span><span class="tick now" aria-hidden="true"></span>
      <div>
        <p class="text-small text-soft">you, {unsaved.form}, not saved</p>
        {#each unsaved.changes as c (c.field)}{@render change(c, unsaved.release)}{/each}
      </div>
    </li>
  {/if}
  {#each entries as e (e.id)}
    <li>
      <span class="when">{day.format(e.at)}<br />{time.format(e.at)}</span><span class="tick" aria-hidden="true"></span>
      <div>
        <p class="text-small text-soft">{e.by ?? 'someone'}, {entryNames[e.entryPoint] ?? e.entryPoint}</p>
        {#if e.moment === 'creating'}
          <p>Created with {e.changes.length} value{e.changes.length === 1 ? '' : 's'}</p>
          {#each e.changes.filter((c) => c.author.by === 'rule') as c (c.field)}{@render change(c, e.release)}{/each}
        {:else}
          {#each e.changes.slice(0, most) as c (c.field)}{@render change(c, e.release)}{:else}<p class="quiet">
              Saved without a change
            </p>{/each}
          {#if e.changes.length > most}<p class="quiet">and {e.changes.length - most} more</p>{/if}
        {/if}
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
    min-height: 100%;
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
