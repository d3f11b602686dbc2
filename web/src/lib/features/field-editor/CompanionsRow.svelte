<script lang="ts">
  /** Fields that go with this one, each made with its rule in one act: what it was before, since when, its furthest value. */
  import type { Field, RecordType } from '@rigid-rule/core/document';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import type { Draft } from '../draft/draft.svelte.ts';
  import { companionEdits, companions, type Companion } from './companions.ts';

  interface Props {
    draft: Draft;
    type: RecordType;
    field: Field;
    open: (key: string) => void;
  }
  const { draft, type, field, open }: Props = $props();
  const ref = $derived({ kind: 'field', key: `${type.key}.${field.key}` } as const);
  const others = $derived(draft.rulebook.recordTypes);
  let linkTo = $state<string>();
  function addCompanion(companion: Companion, other?: string) {
    const name = companion.fieldName(field);
    const key = draft.freeKey('field', name, `${type.key}.`);
    const target = others.find((t) => t.key === other);
    draft.editAll(
      companionEdits(
        companion,
        field,
        type,
        draft.rulebook,
        { field: key, rule: draft.freeKey('rule', `${type.key} ${name}`), fieldPosition: draft.positionAfter(ref) },
        target,
      ),
      `add ${companion.name}`,
    );
    linkTo = undefined;
    open(key);
  }
  /** A companion that is there already is not offered again. */
  const offered = $derived(
    companions.filter((c) => c.suits(field) && !type.fields.some((f) => f.name === c.fieldName(field))),
  );
</script>

{#if offered.length > 0}
  <SheetRow label="Also keep">
    {#each offered as c (c.key)}
      <div class="flex flex-wrap items-baseline gap-x-2">
        {#if c.links}
          <button
            type="button"
            class="editable min-h-6"
            aria-expanded={linkTo === c.key}
            onclick={() => (linkTo = linkTo === c.key ? undefined : c.key)}>{c.name}</button
          >
          {#if linkTo === c.key}
            <select
              class="editable"
              aria-label="Which record it names"
              value=""
              onchange={(e) => e.currentTarget.value && addCompanion(c, e.currentTarget.value)}
            >
              <option value="">a record of which type?</option>
              {#each others as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
            </select>
          {/if}
        {:else}<button type="button" class="editable min-h-6" onclick={() => addCompanion(c)}>{c.name}</button>{/if}
        <span class="quiet text-small">{c.help}</span>
      </div>
    {/each}
  </SheetRow>
{/if}
