<script lang="ts">
  /** The value of a condition row in the way of its type: an option, a number, a date, a text; or a formula. */
  import { loadDayInput } from '$lib/features/fields';
  import { ownForm } from '$lib/organisation.svelte.ts';
  import { fieldTypes, quoteText, unescapeText, type Scope, type Type } from '@rigid-rule/core/language';

  interface Props {
    type: Type;
    scope: Scope;
    /** Formula texts. */
    values: readonly string[];
    many?: boolean;
    readonly: boolean;
    begin?: () => void;
    change: (values: readonly string[]) => void;
  }
  const { type, scope, values, many = false, readonly, begin = () => undefined, change }: Props = $props();

  const of = $derived(type.kind === 'list' ? type.item : type);
  const options = $derived(of.kind === 'option' ? of.options.names : undefined);
  const number = fieldTypes.find((t) => t.key === 'number')!;
  const plain = { key: 'value', name: 'value', type: 'number', scale: -1 };

  const isText = (v: string) => /^"(?:\\.|[^"\\])*"$/.test(v);
  const dateOf = (v: string) => /^(?:date\(|@)"(\d{4}-\d\d-\d\d)"\)?$/.exec(v)?.[1];
  /** As the row shows it: texts without their quotation marks. */
  const shown = (v: string) => (isText(v) ? unescapeText(v) : v === 'null' ? '' : v);
  /** What was typed as a formula text: the name of a field stays one, what is no number is a text. */
  function formulaOf(typed: string): string {
    const text = typed.trim();
    if (scope.fields.has(text)) return text;
    if (of.kind === 'number') {
      const coerced = number.coerce(number.parse(text, plain), plain);
      return 'value' in coerced && typeof coerced.value === 'number' ? String(coerced.value) : text || 'null';
    }
    if (of.kind === 'text' || of.kind === 'any') return quoteText(typed);
    return text || 'null';
  }
</script>

{#if options && many}
  <span class="flex flex-wrap gap-x-3">
    {#each options as option, nth (nth)}
      {@const written = quoteText(option)}
      <label class="flex items-center gap-1">
        <input
          type="checkbox"
          class="check"
          disabled={readonly}
          checked={values.includes(written)}
          onchange={(e) => change(e.currentTarget.checked ? [...values, written] : values.filter((v) => v !== written))}
        />{option}
      </label>
    {/each}
  </span>
{:else if options && values.every((v) => isText(v) || v === 'null')}
  <select
    class="editable"
    aria-label="Value"
    disabled={readonly}
    value={shown(values[0] ?? '')}
    onchange={(e) => change([quoteText(e.currentTarget.value)])}
  >
    {#if !options.includes(shown(values[0] ?? ''))}<option>{shown(values[0] ?? '')}</option>{/if}
    {#each options as option, nth (nth)}<option>{option}</option>{/each}
  </select>
{:else if of.kind === 'date' && (values[0] === 'null' || dateOf(values[0] ?? ''))}
  {@const day = dateOf(values[0] ?? '') ?? ''}
  {#await loadDayInput()}
    {ownForm().day(day)}
  {:then { default: DayInput }}
    <DayInput label="Value" disabled={readonly} value={day} commit={(d) => change([d ? `date("${d}")` : 'null'])} />
  {/await}
{:else}
  <input
    class="editable w-36"
    aria-label={many ? 'Values, separated by commas' : 'Value'}
    autocomplete="off"
    spellcheck="false"
    disabled={readonly}
    value={values.map(shown).join(', ')}
    onfocus={begin}
    oninput={(e) => !many && change([formulaOf(e.currentTarget.value)])}
    onchange={(e) => many && change(e.currentTarget.value.split(',').map((v) => formulaOf(v.trim())))}
  />
{/if}
