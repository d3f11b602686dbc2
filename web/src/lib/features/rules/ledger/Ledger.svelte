<script lang="ts">
  /** The fields of a record type, one line each, with the rules that write them. */
  import { counted } from '$lib/counted.ts';
  import { deskOf, documentOf, fieldsOf, mapOf, ruleAddress } from '$lib/addresses.ts';
  import type { Finding } from '@rigid-rule/core/analysis';
  import { findRuleKind, ruleKinds, rulesByField, type TypeProgram } from '@rigid-rule/core/compile';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { LinkedPrograms } from '$lib/features/draft/linked-programs.svelte.ts';
  import { speaksOf } from '$lib/features/proof/of-rule.ts';
  import { KindMark } from '$lib/features/rule-kinds';
  import type { Rule } from '@rigid-rule/core/document';
  import { Growing } from '$lib/ui/growing.svelte.ts';
  import { arrows } from '$lib/ui/panes.ts';
  import TypeTabs from '$lib/ui/TypeTabs.svelte';

  interface Props {
    draft: Draft;
    program: TypeProgram;
    /** Key of the field or rule that the sheet shows. */
    field: string | undefined;
    rule: string | undefined;
  }
  const { draft, program, field, rule }: Props = $props();
  let filter = $state('');
  let list: HTMLElement | undefined = $state();
  /** Key of a kind, `findings` or `off`: what the list is held to. */
  let only = $state('');

  const typeKey = $derived(program.recordType.key);
  const types = $derived(draft.rulebook.recordTypes);
  const byPart = $derived.by(() => {
    const found = new Map<string, Finding[]>();
    for (const f of draft.findings) {
      const key = `${f.part.kind}:${f.part.key}`;
      found.set(key, [...(found.get(key) ?? []), f]);
    }
    return found;
  });
  const ofRule = (key: string) => byPart.get(`rule:${key}`) ?? [];
  const ofField = (key: string) => byPart.get(`field:${typeKey}.${key}`) ?? [];

  const linked = new LinkedPrograms(
    () => draft,
    () => program,
  );
  /** Rules of other record types write fields from their records, and read them along links. */
  const byField = $derived(rulesByField(program, linked.known));
  const rows = $derived(
    // A rule that checks a field stands by it, though it writes nothing.
    byField.fields.map(({ targeting, readers }, slot) => ({
      field: program.slots[slot]!.field,
      writers: targeting,
      readers,
    })),
  );
  const { elsewhere } = $derived(byField);
  type Row = (typeof rows)[number];
  const text = $derived(filter.trim().toLowerCase());
  /** A mark for each rule; of many one a kind, which names all of it. */
  function marksOf(writers: Row['writers']): readonly { readonly kind: string; readonly names: readonly string[] }[] {
    if (writers.length <= 3) return writers.map(({ rule }) => ({ kind: rule.kind, names: [rule.name] }));
    return [...new Set(writers.map((w) => w.rule.kind))].map((kind) => ({
      kind,
      names: writers.flatMap((w) => (w.rule.kind === kind ? [w.rule.name] : [])),
    }));
  }
  const matches = (w: Row['writers'][number]) =>
    [w.rule.name, w.rule.purpose, w.rule.condition ?? '', JSON.stringify(w.rule.outcome)].some((t) =>
      t.toLowerCase().includes(text),
    );
  const passes = (w: Row['writers'][number]) =>
    only === '' ||
    (only === 'findings' ? ofRule(w.rule.key).length > 0 : only === 'off' ? !w.rule.on : w.rule.kind === only);
  const shown = $derived(
    rows.filter(({ field: f, writers }) => {
      const named = [f.name, f.label ?? ''].some((t) => t.toLowerCase().includes(text)) || writers.some(matches);
      return named && (only === '' || writers.some(passes) || (only === 'findings' && ofField(f.key).length > 0));
    }),
  );
  const drawn = new Growing(() => shown);
  const typeName = (key: string) => types.find((t) => t.key === key)?.name.toLowerCase() ?? key;
  /** A rule's name without its target, which stands on the line above. */
  const short = (name: string, fieldName: string) =>
    name.toLowerCase().startsWith(fieldName.toLowerCase())
      ? name.slice(fieldName.length).replace(/^[\s,:]+/, '') || name
      : name;
  /** Tests that speak of a rule and fail. */
  const failingTests = $derived(
    (draft.rulebook.tests ?? []).filter((t) => (draft.testResults.get(t.key)?.length ?? 0) > 0),
  );
  const failingOf = (r: Rule) => failingTests.filter((t) => speaksOf(t, r)).length;
  const worst = (list: readonly Finding[]) => (list.some((f) => f.severity === 'error') ? 'bg-stop' : 'bg-brass');
</script>

{#snippet dot(list: readonly Finding[])}
  {#if list.length > 0}
    <span
      class={['inline-block size-1.5 shrink-0 rounded-full', worst(list)]}
      title={list.map((f) => f.sentence).join('\n')}
      ><span class="sr-only">{counted(list.length, 'finding')}</span></span
    >
  {/if}
{/snippet}

{#snippet ruleLine(w: Row['writers'][number], fieldName: string)}
  <a
    href={ruleAddress(w.rule.recordType, w.rule.key)}
    aria-current={w.rule.key === rule ? 'true' : undefined}
    data-first={w.rule.key === rule ? '' : undefined}
    class={[
      'flex items-center gap-[7px] py-[3px] pr-3.5 pl-[26px] -outline-offset-2 hover:text-ink',
      w.rule.key === rule ? 'bg-sheet text-ink' : 'text-soft',
    ]}
  >
    <span class="text-held"><KindMark kind={w.rule.kind} label={findRuleKind(w.rule.kind)?.name ?? w.rule.kind} /></span
    >
    <span class="min-w-0 flex-1">{short(w.rule.name, fieldName)}</span>
    {#if failingOf(w.rule) > 0}<span class="text-[11.5px] text-stop"
        >{failingOf(w.rule)} fail{failingOf(w.rule) === 1 ? 's' : ''}</span
      >{/if}
    {#if w.rule.recordType !== typeKey}<span class="text-[11.5px] text-faint">{typeName(w.rule.recordType)}</span>{/if}
    {#if !w.rule.on}<span class="text-[11.5px] text-faint">off</span>{/if}
    {@render dot(ofRule(w.rule.key))}
  </a>
{/snippet}

<div class="flex h-full flex-col pt-3">
  <TypeTabs {types} current={typeKey} addressOf={(key) => deskOf(key)} class="gap-x-3 px-3.5 pb-2" />
  <div class="mx-3.5 mb-2 flex items-center gap-2 border-b border-edge py-[3px]">
    <input
      id="ledger-filter"
      type="search"
      class="w-full min-w-0 bg-transparent"
      aria-label="Filter fields"
      placeholder="Filter fields"
      bind:value={filter}
      onkeydown={(e) => {
        if (e.key === 'Escape') {
          filter = '';
          e.currentTarget.blur();
        }
        if (e.key !== 'ArrowDown' && e.key !== 'Enter') return;
        e.preventDefault();
        const first = list?.querySelector<HTMLElement>('a[href]');
        if (e.key === 'Enter') first?.click();
        first?.focus();
      }}
    />
    <select class="max-w-[84px] bg-transparent text-small text-soft" aria-label="Show only" bind:value={only}>
      <option value="">all</option>
      {#each ruleKinds as k (k.key)}<option value={k.key}>{k.name.toLowerCase()}</option>{/each}
      <option value="findings">findings</option>
      <option value="off">switched off</option>
    </select>
    <span class="key">/</span>
  </div>
  <ul class="min-h-0 flex-1 overflow-y-auto pb-4" aria-label="Fields" bind:this={list} use:arrows>
    {#each drawn.items as { field: f, writers, readers } (f.key)}
      {@const on = f.key === field}
      <li class="line-in-view [--line:26px]">
        <a
          href={deskOf(typeKey, { field: f.key })}
          aria-current={on && !rule ? 'true' : undefined}
          data-first={on && !rule ? '' : undefined}
          class={[
            'grid grid-cols-[1fr_auto_auto] items-center gap-2 px-3.5 py-[3px] -outline-offset-2 hover:bg-sheet',
            on && 'bg-sheet font-[650] shadow-[inset_3px_0_var(--brass)]',
          ]}
        >
          <span class="flex items-center gap-1.5 truncate"
            ><span class="truncate">{f.name}</span>{#if f.label}<span class="quiet font-normal">
                {f.label}</span
              >{/if}{@render dot(ofField(f.key))}</span
          >
          <span class="text-[11.5px] text-faint">{fieldTypeOf(f).name}</span>
          <span class="flex min-w-[15px] gap-1 text-held">
            {#each marksOf(writers) as { kind, names }, nth (nth)}<KindMark
                {kind}
                label="written by {names.join(', ')}"
              />{/each}
            {#if writers.length === 0 && readers.length > 0}<svg
                width="15"
                height="12"
                viewBox="0 0 15 12"
                role="img"
                aria-label="read by a rule"><circle cx="7.5" cy="6" r="1.8" fill="var(--faint)" /></svg
              >{/if}
          </span>
        </a>
        {#if on || text || only}
          {#each writers.filter((w) => passes(w)) as w (w.rule.key)}{@render ruleLine(w, f.name)}{/each}
        {/if}
      </li>
    {:else}
      <li class="quiet px-3.5 py-2">Nothing by that name.</li>
    {/each}
    {#if elsewhere.length > 0 && only === ''}
      <li>
        <p class="label px-3.5 pt-3">On other records, or telling someone</p>
        {#each elsewhere.filter((w) => text === '' || matches(w)) as w (w.rule.key)}{@render ruleLine(w, '')}{/each}
      </li>
    {/if}
  </ul>
  <div class="flex gap-4 border-t border-line px-3.5 py-2 text-small">
    <a class="text-soft hover:text-ink" href={mapOf(typeKey)}>Map</a>
    <a class="text-soft hover:text-ink" href={documentOf(typeKey)}>As a document</a>
    {#if draft.editable}<a class="ml-auto text-soft hover:text-ink" href={fieldsOf(typeKey)}>Fields</a>{/if}
  </div>
</div>
