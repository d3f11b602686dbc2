<script lang="ts">
  /** The records that the one on the bench is linked with: read along, and changed for the try. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import type { Field, RecordType, Stored } from '@rigid-rule/core/document';
  import { fieldTypeOf, linkedType, childListsOf, recordTitle } from '@rigid-rule/core/language';
  import type { FindLinks, Titles } from '$lib/features/fields';
  import type { Bench } from './bench.svelte.ts';
  import BenchLine from './BenchLine.svelte';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    bench: Bench;
    titles: Titles;
    users: readonly { email: string; name: string }[];
    find: FindLinks;
  }
  const { bench, titles, users, find }: Props = $props();
  let opened = $state<string>();
  const mostChildren = 4;

  interface Near {
    readonly label: string;
    readonly type: RecordType;
    readonly id: string;
    readonly title: string;
  }
  const types = $derived(bench.program.rulebook.recordTypes);
  const typeOf = (key: string | undefined) => types.find((t) => t.key === key);

  function near(label: string, type: RecordType, id: string): Near[] {
    const data = bench.relatedRecord(type.key, id);
    return data ? [{ label, type, id, title: recordTitle(type, data) || 'no name' }] : [];
  }
  const linked = $derived(
    bench.recordType.fields.flatMap((f) => {
      const type = typeOf(linkedType(f));
      const id = bench.settled(f.key);
      return type && typeof id === 'string' ? near(f.name, type, id) : [];
    }),
  );
  const lists = $derived(
    childListsOf(bench.typeKey, bench.program.rulebook).map((list) => {
      const children = bench.childrenOf(list.recordType, list.field);
      const type = typeOf(list.recordType)!;
      return { name: list.name, type, children };
    }),
  );
  /** Fields of a type that rules of this one read, and otherwise what names the record. */
  function fieldsOf(type: RecordType): readonly Field[] {
    const rules = bench.program.types.get(bench.typeKey)?.rules ?? [];
    const read = new Set(rules.flatMap((r) => r.related.filter((x) => x.recordType === type.key).map((x) => x.field)));
    const found = type.fields.filter((f) => read.has(f.key) && !fieldTypeOf(f).links);
    return found.length > 0 ? found : type.fields.filter((f) => type.title.includes(f.key));
  }
  const idOf = (n: Near) => `${n.type.key}:${n.id}`;
  const value = (n: Near, f: Field): Stored => bench.relatedRecord(n.type.key, n.id)?.[f.key] ?? null;
</script>

{#snippet record(n: Near)}
  <button
    type="button"
    class={[
      'min-h-6 cursor-pointer truncate text-left hover:text-brass',
      bench.isOverridden(n.type.key, n.id) && 'font-[650]',
    ]}
    aria-expanded={opened === idOf(n)}
    onclick={() => (opened = opened === idOf(n) ? undefined : idOf(n))}>{n.title}</button
  >
  {#if opened === idOf(n)}
    <div class="col-span-2 border-l-2 border-line pl-2.5">
      {#each fieldsOf(n.type) as f (f.key)}
        <BenchLine
          id="beside-{n.type.key}-{n.id}-{f.key}"
          field={f}
          starting={value(n, f)}
          commit={(v) => bench.overrideRelated(n.type.key, n.id, f.key, v as Stored)}
          {titles}
          {users}
          {find}
        />
      {/each}
    </div>
  {/if}
{/snippet}

{#if linked.length + lists.length > 0}
  <h3 class="bench-head">Linked records</h3>
  {#each linked as n, nth (nth)}
    <div class="line"><span class="text-soft">{n.label}</span>{@render record(n)}</div>
  {/each}
  {#each lists as list, nth (nth)}
    <div class="line">
      <span class="text-soft">{list.name}, {list.children ? ownWriting(list.children.length) : '…'}</span>
      <span class="grid min-w-0">
        {#if !list.children?.length}<span class="quiet">{list.children ? 'none' : '…'}</span>{/if}
        <FirstOf items={list.children ?? []} most={mostChildren} what={list.name.toLowerCase()} tag="span">
          {#snippet item(child)}{@const [n] = near('', list.type, child.id)}{#if n}{@render record(n)}{/if}{/snippet}
        </FirstOf>
      </span>
    </div>
  {/each}
{/if}

<style>
  .line {
    display: grid;
    grid-template-columns: 118px minmax(0, 1fr);
    gap: 2px 8px;
    padding: 4px 0;
    border-bottom: 1px solid var(--line);
    align-items: baseline;
  }
</style>
