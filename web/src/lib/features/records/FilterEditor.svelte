<script lang="ts">
  /** What a list shows of one field: some options, a range, a part of a text; blank or filled. */
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { shownValue, typedValue } from '$lib/features/fields';
  import { boundsOf, filterChoices, filterKind, type ListFilter } from '$lib/list-filters.ts';

  interface Props {
    filter: ListFilter;
    users: readonly { email: string; name: string }[];
    change: (filter: ListFilter) => void;
  }
  const { filter, users, change }: Props = $props();

  const { field } = $derived(filter);
  const kind = $derived(filterKind(field));
  const choices = $derived(filterChoices(field, users));
  const only = $derived(filter.only ?? []);
  function choose(key: string, on: boolean) {
    const keys = on ? [...only, key] : only.filter((k) => k !== key);
    const { only: _, ...rest } = filter;
    change(keys.length > 0 ? { ...rest, only: keys } : rest);
  }

  /** Days of an instant, numbers as they are stored. */
  const dayField = $derived(boundsOf(field));
  const shownBound = (bound: string | undefined) =>
    bound === undefined ? '' : shownValue(dayField, fieldTypeOf(field).numeric ? Number(bound) : bound);
  let wrong = $state<'from' | 'to'>();
  function setBound(input: HTMLInputElement, which: 'from' | 'to') {
    const { [which]: _, ...rest } = filter;
    const coerced = fieldTypeOf(dayField).coerce(typedValue(dayField, input.value), { ...dayField, scale: 10 });
    wrong = 'problem' in coerced ? which : undefined;
    if ('problem' in coerced) return;
    change(coerced.value === null ? rest : { ...rest, [which]: String(coerced.value) });
  }
  function setText(text: string) {
    const { has: _, ...rest } = filter;
    change(text.trim() === '' ? rest : { ...rest, has: text.trim() });
  }
  function setIs(is: string) {
    const { is: _, ...rest } = filter;
    change(is === 'blank' || is === 'filled' ? { field, is } : rest);
  }
</script>

<fieldset class="grid gap-1">
  <legend class="label mb-1">{field.name}</legend>
  {#if kind === 'choice'}
    <div class="grid max-h-[50vh] overflow-y-auto">
      {#each [...choices, { key: '', name: 'blank' }] as choice (choice.key)}
        <label class={['flex items-center gap-2 py-px', choice.key === '' && 'text-soft']}>
          <input
            type="checkbox"
            class="check"
            checked={only.includes(choice.key)}
            onchange={(e) => choose(choice.key, e.currentTarget.checked)}
          />{choice.name}
        </label>
      {/each}
    </div>
  {:else}
    {#if kind === 'range'}
      {#each ['from', 'to'] as const as which (which)}
        <label class="grid grid-cols-[48px_1fr] items-center gap-2">
          <span class="text-soft">{which === 'from' ? 'from' : 'up to'}</span>
          <input
            class={['box min-w-0', wrong === which && 'border-stop']}
            aria-invalid={wrong === which ? 'true' : undefined}
            autocomplete="off"
            inputmode={fieldTypeOf(field).numeric ? 'decimal' : undefined}
            value={shownBound(filter[which])}
            onchange={(e) => setBound(e.currentTarget, which)}
          />
        </label>
      {/each}
      {#if wrong}<p class="text-small text-stop" role="status">
          Not {fieldTypeOf(field).bounds?.called}.
        </p>{/if}
    {:else}
      <label class="grid grid-cols-[48px_1fr] items-center gap-2">
        <span class="text-soft">{fieldTypeOf(field).links ? 'named' : 'holds'}</span>
        <input
          class="box min-w-0"
          autocomplete="off"
          value={filter.has ?? ''}
          onchange={(e) => setText(e.currentTarget.value)}
        />
      </label>
    {/if}
    <label class="grid grid-cols-[48px_1fr] items-center gap-2">
      <span class="text-soft">or</span>
      <select class="box" value={filter.is ?? ''} onchange={(e) => setIs(e.currentTarget.value)}>
        <option value="">blank and filled</option><option value="blank">blank only</option><option value="filled"
          >filled only</option
        >
      </select>
    </label>
  {/if}
</fieldset>
