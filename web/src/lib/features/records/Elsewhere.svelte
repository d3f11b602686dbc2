<script lang="ts">
  /** What saving does to other records: said before it is done, and where it comes out otherwise than it was said. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { recordAddress } from '$lib/addresses.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { RecordType } from '@rigid-rule/core/document';
  import type { Effect } from '@rigid-rule/core/related';
  import { shownValue, type Titles } from '$lib/features/fields';

  interface Props {
    recordTypes: readonly RecordType[];
    effects: readonly (Effect & { readonly gone?: boolean })[];
    dependants?: readonly { readonly recordType: string; readonly count: number }[];
    titles: Titles;
  }
  const { recordTypes, effects, dependants = [], titles }: Props = $props();
  const typeOf = (key: string) => recordTypes.find((t) => t.key === key);
  const fieldOf = (type: string, key: string) => typeOf(type)?.fields.find((f) => f.key === key);
  function shown(type: string, key: string, value: Effect['changes'][number]['to']) {
    const field = fieldOf(type, key);
    return (field ? shownValue(field, value, titles) : String(value ?? '')) || 'blank';
  }
  const again = $derived(
    dependants.map(({ recordType, count }) => {
      const type = typeOf(recordType);
      return `${ownWriting(count)} ${(count === 1 ? type?.name : type?.plural)?.toLowerCase() ?? recordType}`;
    }),
  );
</script>

<ul class="text-small" aria-label="Other records">
  <FirstOf items={effects} most={5} what="other records" tag="li">
    {#snippet item(effect)}<li>
        <span class="text-soft">{typeOf(effect.recordType)?.name ?? effect.recordType}</span>
        <a class="hover:text-brass" href={recordAddress(effect.recordType, effect.id)}
          >{titles[effect.recordType]?.[effect.id] ?? effect.id}</a
        >{#each effect.changes as c, n (c.field)}{n > 0 ? ', ' : ' '}{fieldOf(effect.recordType, c.field)?.name ??
            c.field}
          {#if c.from !== undefined}<span class="was">{shown(effect.recordType, c.field, c.from)}</span>{/if}
          <span class={effect.gone ? 'was' : 'written'}>{shown(effect.recordType, c.field, c.to)}</span>{/each}
        {#if effect.later}<span class="text-soft">right after the save</span>{/if}
      </li>{/snippet}
  </FirstOf>
  {#if again.length > 0}<li class="text-soft">{again.join(' and ')} read this and are worked out again</li>{/if}
</ul>
