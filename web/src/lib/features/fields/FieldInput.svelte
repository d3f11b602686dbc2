<script lang="ts">
  /** One value, edited in the way of its type. Says `commit` with the raw value as soon as it changes. */
  import { fieldTypeOf, type Field, type Stored } from '@rigid-rule/core';
  import { localInput, withOffset } from '$lib/instants.ts';
  import { organisation } from '$lib/organisation.svelte.ts';
  import DayPicker from './DayPicker.svelte';
  import { findRecords, type FindLinks } from './links.ts';
  import { shownValue, typedValue, type Titles } from './shown.ts';

  interface Props {
    id: string;
    field: Field;
    value: Stored;
    commit: (value: unknown) => void;
    /** Text inputs speak with every key rather than on leaving. */
    live?: boolean;
    invalid?: boolean;
    describedBy?: string | undefined;
    titles?: Titles;
    users?: readonly { email: string; name: string }[];
    autofocus?: boolean;
    /** Where a lookup finds the records that it can link to. */
    find?: FindLinks;
    /** Changes when what is held is to be shown again whatever was being typed. */
    sitting?: number;
    /** Keys of the options on offer, where a rule limits them. */
    allowed?: readonly string[];
    class?: string;
  }
  const {
    id,
    field,
    value,
    commit,
    live = false,
    invalid = false,
    describedBy,
    titles = {},
    users = [],
    autofocus = false,
    find = findRecords,
    sitting = 0,
    allowed,
    class: extra = '',
  }: Props = $props();

  /** Long text grows to this many lines, then scrolls. */
  const mostLines = 12;
  const type = $derived(fieldTypeOf(field));
  const text = $derived(shownValue(field, value, titles));
  // What is being typed shows as it is while it is typed or wrong; then the settled form.
  let typing = $state<string>();
  let focused = $state(false);

  /** What is chosen stays on show, also where it is no longer on offer. */
  const isOffered = (key: string) =>
    !allowed || allowed.includes(key) || value === key || (Array.isArray(value) && value.includes(key));
  const options = $derived(field.options?.filter((o) => isOffered(o.key)) ?? []);

  function say(raw: string) {
    commit(typedValue(field, raw));
  }
  /** The day that is held, as the clocks of the organisation show it. */
  const localDay = $derived.by(() => {
    if (typeof value !== 'string') return '';
    return (type.instant ? localInput(value, organisation.zone) : value).slice(0, 10);
  });
  /** Another day keeps the time; a first one begins at midnight. */
  function pickDay(day: string) {
    const time = type.instant && typeof value === 'string' ? localInput(value, organisation.zone).slice(10) : 'T00:00';
    commit(type.instant ? withOffset(`${day}${time}`, organisation.zone) : day);
  }
  const common = $derived({
    id,
    'aria-invalid': invalid ? ('true' as const) : undefined,
    'aria-describedby': describedBy,
  });
  const focus = (node: HTMLElement) => {
    if (autofocus) node.focus();
  };
</script>

{#if field.options && field.type === 'picklist'}
  <select
    {...common}
    use:focus
    class={['box max-w-full min-w-0', invalid && 'border-stop', extra]}
    value={value ?? ''}
    onchange={(e) => commit(e.currentTarget.value || null)}
  >
    <option value="">blank</option>
    {#each options as option (option.key)}<option value={option.key}>{option.name}</option>{/each}
  </select>
{:else if field.options}
  {@const chosen = Array.isArray(value) ? (value as readonly string[]) : []}
  <details class="relative w-full">
    <summary class={['box cursor-pointer list-none truncate', extra]} {...common}
      >{#if text}{text}{:else}<span class="quiet">blank</span>{/if}</summary
    >
    <fieldset class="absolute z-20 mt-px grid w-44 border border-edge bg-field px-2.5 py-1.5">
      <legend class="sr-only">{field.name}</legend>
      {#each options as option (option.key)}
        <label class="flex gap-2 py-px">
          <input
            type="checkbox"
            class="accent-(--brass)"
            checked={chosen.includes(option.key)}
            onchange={(e) =>
              commit(e.currentTarget.checked ? [...chosen, option.key] : chosen.filter((k) => k !== option.key))}
          />{option.name}
        </label>
      {/each}
    </fieldset>
  </details>
{:else if field.type === 'yes/no'}
  <select
    {...common}
    class={['box', extra]}
    value={value === true ? 'yes' : value === false ? 'no' : ''}
    onchange={(e) => say(e.currentTarget.value)}
  >
    <option value="">blank</option><option>yes</option><option>no</option>
  </select>
{:else if field.type === 'user'}
  <select
    {...common}
    class={['box max-w-full min-w-0', extra]}
    value={value ?? ''}
    onchange={(e) => commit(e.currentTarget.value || null)}
  >
    <option value="">blank</option>
    {#if value && !users.some((u) => u.email === value)}<option value={String(value)}>{text}</option>{/if}
    {#each users as user (user.email)}<option value={user.email}>{user.name}</option>{/each}
  </select>
{:else if field.type === 'lookup'}
  <!-- The list to choose from is loaded with the first lookup on show. -->
  {#await import('./LookupInput.svelte')}
    <span class="quiet">{text}</span>
  {:then { default: LookupInput }}
    {#key sitting}
      <LookupInput {id} {invalid} {describedBy} {field} {value} shown={text} {commit} {find} class={extra} />
    {/key}
  {/await}
{:else if type.lines}
  <textarea
    {...common}
    rows={Math.min(mostLines, Math.max(1, String(value ?? '').split('\n').length))}
    class={['box w-full min-w-0 resize-none [field-sizing:content]', invalid && 'border-stop', extra]}
    style:max-height="{mostLines * 1.5}em"
    value={String(value ?? '')}
    onchange={(e) => say(e.currentTarget.value)}></textarea>
{:else}
  <input
    {...common}
    use:focus
    type="text"
    inputmode={type.numeric ? 'decimal' : undefined}
    title={type.instant ? `${organisation.zone} time` : undefined}
    autocomplete="off"
    spellcheck="false"
    class={['box min-w-0', invalid && 'border-stop', extra]}
    value={focused || invalid ? (typing ?? text) : text}
    onfocus={() => {
      focused = true;
      if (!invalid) typing = text;
    }}
    oninput={(e) => {
      typing = e.currentTarget.value;
      if (live) say(typing);
    }}
    onchange={(e) => !live && say(e.currentTarget.value)}
    onblur={() => (focused = false)}
  />
  {#if type.written === 'day' || type.written === 'instant'}
    <DayPicker label={field.name} day={localDay} pick={pickDay} />
  {/if}
{/if}
