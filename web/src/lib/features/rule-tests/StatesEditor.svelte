<script lang="ts">
  /** What a test expects of fields beyond their values: filled in or not, locked, hidden, and which options they take. */
  import type { RecordType, RuleTest } from '@rigid-rule/core/document';
  import { stateWords } from '@rigid-rule/core/rule-tests';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';

  interface Props {
    states: NonNullable<RuleTest['expect']['states']>;
    type: RecordType;
    set: (states: NonNullable<RuleTest['expect']['states']>) => void;
  }
  const { states, type, set }: Props = $props();

  const nameOf = (key: string) => type.fields.find((f) => f.key === key)?.name ?? key;
  const free = $derived(type.fields.filter((f) => !(f.key in states)));

  function put(key: string, what: string, value: unknown) {
    const { [what]: _, ...others } = states[key] ?? {};
    set({ ...states, [key]: value === undefined ? others : { ...others, [what]: value } });
  }
  const take = (key: string) => set(Object.fromEntries(Object.entries(states).filter(([k]) => k !== key)));
</script>

<ul class="grid gap-y-1.5" aria-label="What is expected of fields">
  {#each Object.entries(states) as [key, own] (key)}
    {@const options = type.fields.find((f) => f.key === key)?.options ?? []}
    {@const allowed = Array.isArray(own['allowed']) ? (own['allowed'] as readonly string[]) : undefined}
    <li class="flex flex-wrap items-baseline gap-x-3 gap-y-1.5">
      <span class="w-[150px] truncate">{nameOf(key)}</span>
      {#each Object.entries(stateWords) as [what, words] (what)}
        <select
          class="editable min-h-6"
          aria-label="{nameOf(key)}, {what}"
          value={own[what] === undefined ? '' : own[what] ? 'yes' : 'no'}
          onchange={(e) => put(key, what, { yes: true, no: false }[e.currentTarget.value])}
        >
          <option value="">{what} or not</option>
          <option value="yes">{words[0]}</option>
          <option value="no">{words[1]}</option>
        </select>
      {/each}
      {#if options.length > 0}
        <select
          class="editable min-h-6"
          aria-label="{nameOf(key)}, options"
          value={own['allowed'] === undefined ? '' : allowed ? 'some' : 'any'}
          onchange={(e) =>
            put(
              key,
              'allowed',
              { any: null, some: allowed ?? options.map((o) => o.key) }[e.currentTarget.value as 'any' | 'some'],
            )}
        >
          <option value="">whatever it takes</option>
          <option value="any">takes any option</option>
          <option value="some">takes only …</option>
        </select>
      {/if}
      <button
        type="button"
        class="grid size-6 cursor-pointer place-items-center text-faint hover:text-stop"
        aria-label="Expect nothing of {nameOf(key)}"
        onclick={() => take(key)}><Icon of={X} size={13} /></button
      >
      {#if allowed}
        <span class="flex w-full flex-wrap gap-x-3 pl-[162px]">
          {#each options as o, nth (nth)}
            <label class="flex min-h-6 items-center gap-1.5"
              ><input
                type="checkbox"
                class="check"
                checked={allowed.includes(o.key)}
                onchange={(e) =>
                  put(
                    key,
                    'allowed',
                    options
                      .map((x) => x.key)
                      .filter((k) => (k === o.key ? e.currentTarget.checked : allowed.includes(k))),
                  )}
              />{o.name}</label
            >
          {/each}
        </span>
      {/if}
    </li>
  {/each}
</ul>
<select
  class="editable min-h-6 text-soft"
  aria-label="What is expected of a field more"
  value=""
  onchange={(e) => {
    if (e.currentTarget.value) set({ ...states, [e.currentTarget.value]: { required: true } });
    e.currentTarget.value = '';
  }}
>
  <option value="">required, locked, hidden: of which field</option>
  {#each free as f, nth (nth)}<option value={f.key}>{f.name}</option>{/each}
</select>
