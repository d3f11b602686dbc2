<script lang="ts">
  /** Texts or options that belong together, each group with what it gives. */
  import type { Categorize, CompiledRule } from '@rigid-rule/core/compile';
  import type { Field, Operation } from '@rigid-rule/core/document';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { append, at, drop, put, saidAt, Visit } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    outcome: Categorize;
    source: Field | undefined;
    target: Field | undefined;
    readonly: boolean;
    compiled: CompiledRule;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { outcome, source, target, readonly, compiled, edit }: Props = $props();
  const visit = new Visit();
  const used = $derived(new Set(outcome.groups.flatMap((g) => g.values)));
  const left = $derived(source?.options?.filter((o) => !used.has(o.name)) ?? []);
  const setValues = (i: number, values: readonly string[], group?: string) =>
    edit([put(at('groups', i), { ...outcome.groups[i]!, values })], 'change a group', group);
</script>

<SheetRow label="Groups">
  <table class="w-full border-collapse">
    <thead>
      <tr class="label text-left"
        ><th class="font-normal">{outcome.source || 'Value'}</th><th class="font-normal">{target?.name}</th><th
          ><span class="sr-only">Remove</span></th
        ></tr
      >
    </thead>
    <tbody>
      {#each outcome.groups as group, i (i)}
        <tr class="border-t border-line align-baseline">
          <td class="py-1 pr-3">
            {#if source?.options}
              {#each group.values as value, n (n)}
                <button
                  type="button"
                  class="mr-2 cursor-pointer hover:text-stop"
                  disabled={readonly}
                  title="Take {value} out"
                  onclick={() =>
                    setValues(
                      i,
                      group.values.filter((v) => v !== value),
                    )}>{value} <span aria-hidden="true" class="quiet">×</span></button
                >
              {/each}
              {#if !readonly && left.length > 0}
                <select
                  class="editable quiet text-small"
                  aria-label="Add to group {i + 1}"
                  value=""
                  onchange={(e) => {
                    if (e.currentTarget.value) setValues(i, [...group.values, e.currentTarget.value]);
                    e.currentTarget.value = '';
                  }}
                >
                  <option value="">add</option>
                  {#each left as o, nth (nth)}<option>{o.name}</option>{/each}
                </select>
              {/if}
            {:else}
              <input
                class="editable w-full"
                aria-label="Texts of group {i + 1}, separated by commas"
                disabled={readonly}
                value={group.values.join(', ')}
                onfocus={visit.begin}
                onchange={(e) =>
                  setValues(
                    i,
                    e.currentTarget.value
                      .split(',')
                      .map((v) => v.trim())
                      .filter(Boolean),
                    visit.group,
                  )}
              />
            {/if}
            {#each group.values as _, j (j)}{#each saidAt(compiled, `/outcome/groups/${i}/values/${j}`) as d, n (n)}<p
                  class="text-small text-stop"
                >
                  {d.message}
                </p>{/each}{/each}
          </td>
          <td class="py-1">
            {#if target?.options}
              <select
                class="editable"
                aria-label="{target.name} of group {i + 1}"
                disabled={readonly}
                value={group.result}
                onchange={(e) =>
                  edit(
                    [put(at('groups', i), { ...group, result: e.currentTarget.value })],
                    'choose what a group gives',
                  )}
              >
                {#each target.options as o, nth (nth)}<option value={o.key}>{o.name}</option>{/each}
              </select>
            {:else}
              <input
                class="editable w-28"
                aria-label="Result of group {i + 1}"
                disabled={readonly}
                value={group.result}
                onfocus={visit.begin}
                oninput={(e) =>
                  edit(
                    [put(at('groups', i), { ...group, result: e.currentTarget.value })],
                    'choose what a group gives',
                    visit.group,
                  )}
              />
            {/if}
          </td>
          <td class="text-right">
            {#if !readonly}<button
                type="button"
                class="act"
                aria-label="Remove group {i + 1}"
                onclick={() => edit([drop(at('groups', i))], 'remove a group')}><Icon of={X} size={13} /></button
              >{/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if !readonly}<button
      type="button"
      class="word"
      onclick={() =>
        edit([append(at('groups'), { values: [], result: target?.options?.[0]?.key ?? '' })], 'add a group')}
      >add a group</button
    >{/if}
  {#if left.length > 0}<p class="quiet text-small">In no group yet: {left.map((o) => o.name).join(', ')}</p>{/if}
</SheetRow>
