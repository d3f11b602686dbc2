<script lang="ts">
  /** What happens where the key is blank, nothing is found or several are: to all fields alike, or to each on its own. */
  import { endOf, type Ending, type MapRule, type Otherwise } from '@rigid-rule/core/compile';
  import type { Operation, RecordType } from '@rigid-rule/core/document';
  import type { CompiledRule } from '@rigid-rule/core/compile';
  import OtherwiseSelect from '../parts/OtherwiseSelect.svelte';
  import { at, put, saidAt, set } from '../parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    map: MapRule;
    ending: Ending;
    label: string;
    ontoType: RecordType;
    compiled: CompiledRule;
    readonly: boolean;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { map, ending, label, ontoType, compiled, readonly, edit }: Props = $props();

  const apart = $derived(map.outputs.some((o) => o.otherwise?.[ending] !== undefined));
  const what = $derived(`change what ${label.toLowerCase()} does`);
  const fieldOf = (key: string) => ontoType.fields.find((f) => f.key === key);
  const problemsAt = (path: string) => saidAt(compiled, `/outcome/${path}/value`);

  /** The outputs with an ending of their own, or without. */
  function withEnd(i: number, otherwise: Otherwise | undefined) {
    const { otherwise: own = {}, ...output } = map.outputs[i]!;
    const { [ending]: _, ...others } = own;
    const now = { ...others, ...(otherwise ? { [ending]: otherwise } : {}) };
    return { ...output, ...(Object.keys(now).length > 0 ? { otherwise: now } : {}) };
  }
  const setEach = (i: number, otherwise: Otherwise, group?: string) =>
    edit([put(at('outputs', i), withEnd(i, otherwise))], what, group);
  const part = () =>
    edit(
      map.outputs.map((o, i) => put(at('outputs', i), withEnd(i, endOf(map, o, ending)))),
      `${what} to each field`,
    );
  const join = () => {
    const first = endOf(map, map.outputs[0]!, ending);
    edit(
      [
        // A value is one of its field: it cannot be that of all.
        set(at(ending), first.do === 'set' ? { do: 'clear' } : first),
        ...map.outputs.map((_, i) => put(at('outputs', i), withEnd(i, undefined))),
      ],
      `${what} to all fields`,
    );
  };
</script>

<SheetRow {label}>
  {#if apart}
    {#each map.outputs as output, i (i)}
      {@const field = fieldOf(output.target)}
      <div class="flex flex-wrap items-baseline gap-x-2">
        <span class="text-soft">{field?.name ?? output.target}</span>
        <OtherwiseSelect
          what={endOf(map, output, ending)}
          label="{label}: {field?.name ?? output.target}"
          target={field}
          {readonly}
          change={(otherwise, group) => setEach(i, otherwise, group)}
        />
        {#each problemsAt(output.otherwise?.[ending] ? `outputs/${i}/otherwise/${ending}` : ending) as d, n (n)}<span
            class="text-small text-stop">{d.message}</span
          >{/each}
      </div>
    {/each}
    {#if !readonly}<button type="button" class="word" onclick={join}>the same for all</button>{/if}
  {:else}
    <OtherwiseSelect
      what={map[ending]}
      {label}
      target={map.outputs.length > 1 ? undefined : fieldOf(map.outputs[0]?.target ?? '')}
      ofMany={map.outputs.length > 1}
      {readonly}
      change={(otherwise, group) => edit([set(at(ending), otherwise)], what, group)}
    />
    {#if !readonly && map.outputs.length > 1}<button
        type="button"
        class="word ml-2"
        aria-label="{label}: each field on its own"
        onclick={part}>each on its own</button
      >{/if}
    {#each problemsAt(ending) as d, n (n)}<p class="text-small text-stop">{d.message}</p>{/each}
  {/if}
</SheetRow>
