<script lang="ts">
  /** All mapping tables, and the name of a new one. */
  import { creating } from '@rigid-rule/core/document';
  import { goto } from '$app/navigation';
  import { mappingAddress } from '$lib/addresses.ts';
  import { counted } from '$lib/counted.ts';
  import { useDraft } from '../draft/context.ts';
  import { beginTable } from './new-table.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  /** `shown`: key of the one that is looked at. */
  const { shown }: { shown: string | undefined } = $props();
  const { draft } = useDraft();
  let filter = $state('');
  let naming = $state('');
  const listed = $derived(
    (draft.rulebook.tables ?? []).filter((t) => t.name.toLowerCase().includes(filter.trim().toLowerCase())),
  );
  const findingsOf = (key: string) => draft.findings.filter((f) => f.part.kind === 'table' && f.part.key === key);

  function add() {
    const name = naming.trim();
    if (name === '') return;
    const key = draft.freeKey('table', name);
    draft.editAll(
      [
        {
          ref: { kind: 'table', key },
          operations: [creating(beginTable(key, name))],
          position: draft.lastPosition('table'),
        },
      ],
      `add the mapping ${name}`,
    );
    naming = '';
    void goto(mappingAddress(key));
  }
</script>

<nav class="overflow-y-auto border-r border-line pt-3" aria-label="Mapping tables">
  <input
    type="search"
    class="editable mx-4 mb-2 w-[176px]"
    aria-label="Filter mappings"
    placeholder="Filter mappings"
    bind:value={filter}
  />
  {#each listed as t (t.key)}
    {@const found = findingsOf(t.key)}
    <a
      href={mappingAddress(t.key)}
      aria-current={t.key === shown ? 'page' : undefined}
      class={['block px-4 py-1.5 hover:bg-sheet', t.key === shown && 'bg-sheet shadow-[inset_3px_0_var(--brass)]']}
    >
      <span class={['flex items-center gap-2', t.key === shown && 'font-[650]']}
        ><span class="min-w-0">{t.name}</span>{#if found.length > 0}<i
            class={[
              'size-1.5 shrink-0 rounded-full',
              found.some((f) => f.severity === 'error') ? 'bg-stop' : 'bg-brass',
            ]}><span class="sr-only">{counted(found.length, 'finding')}</span></i
          >{/if}</span
      >
      <span class="text-small text-faint"
        >{counted(t.rows.length, 'row')}, {counted(t.keys.length, 'key')}, {ownWriting(t.outputs.length)} output{t
          .outputs.length === 1
          ? ''
          : 's'}</span
      >
    </a>
  {/each}
  {#if draft.editable}
    <input
      class="editable mx-4 mt-3 w-[176px]"
      aria-label="New mapping"
      placeholder="a new mapping, then Enter"
      bind:value={naming}
      onkeydown={(e) => e.key === 'Enter' && add()}
    />
  {/if}
</nav>
