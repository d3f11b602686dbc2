<script lang="ts">
  /** The value of a condition row in the way of its type: an option, a number, a date, a text; or a formula. */
  import { loadDayInput } from '$lib/features/fields';
  import { ownForm } from '$lib/organisation.svelte.ts';
  import { quoteText, type Scope, type Type } from '@rigid-rule/core/language';
  import { isText, rowFormula, rowSeparator, shownInRow } from './row-text.ts';

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
  const dateOf = (v: string) => /^(?:date\(|@)"(\d{4}-\d\d-\d\d)"\)?$/.exec(v)?.[1];
  const shown = (v: string) => shownInRow(v, ownForm());
  const separator = $derived(rowSeparator(of, ownForm()));
  const formulaOf = (typed: string) => rowFormula(typed, of, scope.fields, ownForm());
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
    aria-label={many ? `Values, separated by ${separator === ';' ? 'semicolons' : 'commas'}` : 'Value'}
    autocomplete="off"
    spellcheck="false"
    disabled={readonly}
    value={values.map(shown).join(`${separator} `)}
    onfocus={begin}
    oninput={(e) => !many && change([formulaOf(e.currentTarget.value)])}
    onchange={(e) => many && change(e.currentTarget.value.split(separator).map((v) => formulaOf(v.trim())))}
  />
{/if}
