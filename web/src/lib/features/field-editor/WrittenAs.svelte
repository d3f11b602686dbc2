<script lang="ts">
  /** How the organisation writes numbers, money and dates: one locale and one currency for all, part of the rulebook. */
  import { settingsKey, type Field } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { isLocale, usualTag, writtenForm } from '$lib/locale.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import type { Reader } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
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

  const readLocale: Reader<string> = (text) => {
    const typed = text.trim();
    return typed !== '' && isLocale(typed)
      ? { value: typed }
      : { problem: typed === '' ? 'Enter a locale such as en-GB' : `${typed} is not a locale such as en-GB` };
  };
  const readCurrency: Reader<string> = (text) => {
    const code = text.trim().toUpperCase();
    return /^[A-Z]{3}$/.test(code)
      ? { value: code }
      : { problem: code === '' ? 'Enter a currency such as EUR' : `${code} is not the code of a currency such as EUR` };
  };
  const set = (member: 'locale' | 'currency', value: string) =>
    draft.edit(
      { kind: 'settings', key: settingsKey },
      [{ op: 'add', path: `/${member}`, value }],
      `change the ${member}`,
    );
</script>

<SheetRow label="Written as">
  <span class="mr-2 tabular-nums">{example}</span>
  <span class="quiet">as in</span>
  <TypedInput
    class="w-16"
    label="Locale of the organisation, BCP 47"
    disabled={readonly}
    value={tag}
    show={(locale) => locale}
    read={readLocale}
    commit={(locale) => set('locale', locale)}
  />
  {#if written === 'money'}
    <span class="quiet">in</span>
    <TypedInput
      class="w-10"
      label="Currency of the organisation, ISO 4217"
      maxlength={3}
      disabled={readonly}
      value={draft.rulebook.currency}
      show={(code) => code}
      read={readCurrency}
      commit={(code) => set('currency', code)}
    />
  {/if}
  <span class="quiet text-small ml-2">the same for all records</span>
</SheetRow>
