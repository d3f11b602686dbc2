<script lang="ts">
  /** How the organisation writes numbers, money and dates: one locale and one currency for all, part of the rulebook. */
  import { settingsKey, type Field } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { isLocale, usualTag, writtenForm } from '$lib/locale.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import type { Draft } from '../draft/draft.svelte.ts';

  const { draft, field }: { draft: Draft; field: Field } = $props();
  const readonly = $derived(!draft.editable);
  const written = $derived(fieldTypeOf(field).written!);
  const tag = $derived(draft.rulebook.locale ?? usualTag);
  const form = $derived(writtenForm({ tag, currency: draft.rulebook.currency }));
  const example = $derived(
    {
      number: form.number('1,250.5'),
      money: form.money('1,250.50'),
      day: form.day('2026-05-03'),
      instant: `${form.day('2026-05-03')}, 09:00`,
    }[written],
  );

  /** What is no locale or currency leaves what was there. */
  function set(input: HTMLInputElement, member: 'locale' | 'currency', value: string, good: boolean) {
    const was = member === 'locale' ? tag : draft.rulebook.currency;
    if (good && value !== was)
      draft.edit(
        { kind: 'settings', key: settingsKey },
        [{ op: 'add', path: `/${member}`, value }],
        `change the ${member}`,
      );
    input.value = good ? value : was;
  }
</script>

<SheetRow label="Written as">
  <span class="mr-2 tabular-nums">{example}</span>
  <span class="quiet">as in</span>
  <input
    class="editable w-16"
    aria-label="Locale of the organisation, BCP 47"
    autocomplete="off"
    disabled={readonly}
    value={tag}
    onchange={(e) => {
      const typed = e.currentTarget.value.trim();
      set(e.currentTarget, 'locale', typed, typed !== '' && isLocale(typed));
    }}
  />
  {#if written === 'money'}
    <span class="quiet">in</span>
    <input
      class="editable w-10"
      aria-label="Currency of the organisation, ISO 4217"
      maxlength="3"
      autocomplete="off"
      disabled={readonly}
      value={draft.rulebook.currency}
      onchange={(e) => {
        const code = e.currentTarget.value.trim().toUpperCase();
        set(e.currentTarget, 'currency', code, /^[A-Z]{3}$/.test(code));
      }}
    />
  {/if}
  <span class="quiet text-small ml-2">the same for all records</span>
</SheetRow>
