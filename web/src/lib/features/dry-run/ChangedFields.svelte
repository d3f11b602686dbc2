<script lang="ts">
  /** Where a dry run found something to change: record types, and the fields of the one that is shown. */
  import type { FieldMoves } from '@rigid-rule/core/rule-tests';
  import { dryRunOf } from '$lib/addresses.ts';
  import { counted } from '$lib/counted.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { useDraft } from '../draft/context.ts';
  import type { TypeImpact } from '$lib/workers/dry-run.ts';

  interface Props {
    types: readonly TypeImpact[];
    shown: TypeImpact | undefined;
    /** The one that is looked at. */
    field: FieldMoves | undefined;
  }
  const { types, shown, field }: Props = $props();
  const { draft } = useDraft();
  const figures = $derived(shown?.figures);
  const recordType = $derived(draft.rulebook.recordTypes.find((t) => t.key === shown?.recordType));
</script>

<nav aria-label="Record types" class="flex flex-wrap gap-x-3 gap-y-1 px-4 pt-2 pb-1 whitespace-nowrap">
  {#each types as t (t.recordType)}
    <a
      href={dryRunOf(t.recordType)}
      aria-current={t === shown ? 'page' : undefined}
      class={t === shown ? 'font-[650] shadow-[0_2px_var(--ink)]' : 'text-soft hover:text-ink'}
      >{draft.rulebook.recordTypes.find((x) => x.key === t.recordType)?.name ?? t.plural}
      {ownWriting(t.figures.changed)}</a
    >
  {/each}
</nav>
{#if figures && shown}
  <p class="flex justify-between px-4 pt-2 text-small text-soft">
    <span>Values changed</span><span>{shown.plural.toLowerCase()}</span>
  </p>
  {@const largest = Math.max(1, ...figures.fields.map((f) => f.records))}
  <ul aria-label="Fields that change">
    {#each figures.fields as f (f.key)}
      <li>
        <a
          href={dryRunOf(shown.recordType, { field: f.key })}
          aria-current={f === field ? 'true' : undefined}
          class={[
            'block px-4 py-[5px] hover:bg-sheet',
            f === field && 'bg-sheet font-[650] shadow-[inset_3px_0_var(--brass)]',
          ]}
        >
          <span class="flex justify-between"><span>{f.field}</span><span>{ownWriting(f.records)}</span></span>
          <span class="mt-[3px] block h-[3px] bg-line" aria-hidden="true"
            ><span class="block h-full bg-held" style:width="{Math.max(2, (f.records / largest) * 100)}%"></span></span
          >
        </a>
      </li>
    {/each}
  </ul>
  {#if figures.onForm.length > 0}
    <p class="flex justify-between px-4 pt-3 text-small text-soft">
      <span>On the form</span><span>{shown.plural.toLowerCase()}</span>
    </p>
    <ul>
      {#each figures.onForm as o, nth (nth)}
        <li class="flex justify-between px-4 py-[3px]">
          <span>{o.text}</span><span>{ownWriting(o.records)}</span>
        </li>
      {/each}
    </ul>
  {/if}
  <p class="px-4 pt-3 text-small text-soft">
    {counted(
      (recordType?.fields.length ?? 0) - figures.fields.length,
      'field stays as it is',
      'fields stay as they are',
    )}.
  </p>
{/if}
