<script lang="ts">
  /** Sample records made up from fields and rules, the same from the same seed. */
  import { generateRecords } from '@rigid-rule/core/rule-tests';
  import type { RecordType } from '@rigid-rule/core/document';
  import { counted } from '$lib/counted.ts';
  import { NumberInput } from '$lib/features/fields';
  import { useDraft } from '../draft/context.ts';
  import { useSamples } from '../samples/samples.svelte.ts';
  import type { Making } from './making.ts';
  import { fillSet, type SampleSetInfo } from './sets.ts';
  import Ticks from './Ticks.svelte';

  interface Props extends Making {
    type: RecordType;
    sets: readonly SampleSetInfo[];
    /** The set that they go into, made where it is a new one. */
    target: (source: 'generated') => Promise<number>;
  }
  const { type, sets, target, waits, act, progress }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();
  let count = $state(1000);
  let seed = $state(1);
  let pairs = $state<readonly string[]>([]);
  const picklists = $derived(type.fields.filter((f) => f.options));

  const make = () =>
    act(async () => {
      const id = await target('generated');
      const set = sets.find((s) => s.id === id);
      const links = (key: string): number => (key === type.key ? count : (set?.records[key] ?? 0));
      const made = [];
      for (const data of generateRecords(draft.program, type.key, { seed, pairs, links })) {
        if (made.length >= count) break;
        made.push({ id: made.length + 1, data });
      }
      await fillSet(id, type.key, made, undefined, (done) => progress(done, made.length));
      samples.choose(id);
      return `${counted(made.length, 'record was', 'records were')} made up from seed ${seed}.`;
    });
</script>

<label class="text-soft" for="set-count">How many</label>
<span
  ><NumberInput
    id="set-count"
    class="w-20"
    label="How many"
    whole
    min={1}
    max={200000}
    value={count}
    live
    commit={(n) => (count = n)}
  />
  <label class="ml-3 text-soft" for="set-seed">seed</label>
  <NumberInput
    id="set-seed"
    class="ml-1.5 w-20"
    label="seed"
    whole
    min={0}
    max={999999}
    value={seed}
    live
    commit={(n) => (seed = n)}
  /></span
>
{#if picklists.length > 1}
  <span class="text-soft">Every two of</span>
  <Ticks of={picklists} chosen={pairs} choose={(keys) => (pairs = keys)} />
{/if}
<p class="col-span-2 mt-1">
  <button type="button" class="button" disabled={waits} onclick={() => void make()}>Make them up</button>
</p>
