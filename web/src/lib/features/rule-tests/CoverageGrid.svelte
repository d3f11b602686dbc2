<script lang="ts">
  /** What of a rule the tests reach, cell by cell: branches, parts of its condition, entry points, table rows. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import type { CompiledRule } from '@rigid-rule/core/compile';
  import type { CellKind } from '@rigid-rule/core/rule-tests';
  import { useDraft } from '../draft/context.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    compiled: CompiledRule;
  }
  const { compiled }: Props = $props();
  const { draft } = useDraft();
  const own = $derived(draft.coverage?.rules.find((r) => r.rule === compiled.rule.key));
  const kinds: readonly { readonly key: CellKind; readonly name: string }[] = [
    { key: 'branch', name: 'Branches' },
    { key: 'part', name: 'Condition parts' },
    { key: 'entry', name: 'Entry points' },
  ];
  const groups = $derived(
    kinds.flatMap(({ key, name }) => {
      const cells = own?.cells.filter((c) => c.kind === key) ?? [];
      return cells.length > 0 ? [{ name, cells }] : [];
    }),
  );
  const marks = {
    reached: 'bg-ok',
    'not reached': 'border border-stop',
    'cannot be reached': 'border border-dashed border-edge',
  };
</script>

{#if own}
  <h2 class="label mt-6">What they reach</h2>
  {#each groups as { name, cells } (name)}
    <div class="grid grid-cols-[120px_minmax(0,1fr)] gap-x-3 border-b border-line py-1">
      <span class="text-soft">{name}</span>
      <ul class="flex flex-wrap gap-x-4 gap-y-0.5">
        {#each cells as cell, nth (nth)}
          <li class={cell.state === 'reached' ? '' : cell.state === 'not reached' ? 'text-stop' : 'text-faint'}>
            <span class={['mr-1 inline-block size-[8px]', marks[cell.state]]} aria-hidden="true"
            ></span>{cell.text.replace(/^through /, '')}{#if cell.state !== 'reached'}<span class="text-small"
                >, {cell.state}</span
              >{/if}
          </li>
        {/each}
      </ul>
    </div>
  {/each}
  {#if own.rows}
    <div class="grid grid-cols-[120px_minmax(0,1fr)] gap-x-3 border-b border-line py-1">
      <span class="text-soft">Table rows</span>
      <span class={own.rows.reached < own.rows.all ? 'text-stop' : ''}
        >{own.rows.reached} of {ownWriting(own.rows.all)}{own.rows.missing.length > 0 ? '; not row ' : ''}<FirstOf
          items={own.rows.missing}
          most={12}
          what="rows that no test reaches"
          tag="span">{#snippet item(row, i)}{i > 0 ? ', ' : ''}{ownWriting(row + 1)}{/snippet}</FirstOf
        ></span
      >
    </div>
  {/if}
{/if}
