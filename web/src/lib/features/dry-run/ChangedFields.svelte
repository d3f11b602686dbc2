<script lang="ts">
  /** Where a dry run found something to change: record types, and the fields of the one that is shown. */
  import TypeTabs from '$lib/ui/TypeTabs.svelte';
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
  const nameOf = (key: string) => draft.rulebook.recordTypes.find((t) => t.key === key)?.name;
  const tabs = $derived(
    types.map((t) => ({
      key: t.recordType,
      name: `${nameOf(t.recordType) ?? t.plural} ${ownWriting(t.figures.changed)}`,
    })),
  );
  const recordType = $derived(draft.rulebook.recordTypes.find((t) => t.key === shown?.recordType));
</script>

<TypeTabs types={tabs} current={shown?.recordType} addressOf={(key) => dryRunOf(key)} class="gap-x-3 px-4 pt-2 pb-1" />
{#if figures && shown}
  <p class="flex justify-between px-4 pt-2 text-small text-soft">
    <span class="mr-3 shrink-0">Values changed</span><span class="truncate">{shown.plural.toLowerCase()}</span>
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
      <span class="mr-3 shrink-0">On the form</span><span class="truncate">{shown.plural.toLowerCase()}</span>
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
