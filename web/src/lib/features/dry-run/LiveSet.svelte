<script lang="ts">
  /** A sample set of live records, masked unless that is taken off. */
  import { NumberInput } from '$lib/features/fields';
  import { useDraft } from '../draft/context.ts';
  import type { Making } from './making.ts';
  import { copyLive } from './sets.ts';
  import Ticks from './Ticks.svelte';

  interface Props extends Making {
    name: string;
  }
  const { name, waits, act }: Props = $props();
  const { draft } = useDraft();
  const types = $derived(draft.rulebook.recordTypes.map((t) => ({ key: t.key, name: t.plural })));
  let chosen = $state<readonly string[]>(draft.rulebook.recordTypes.map((t) => t.key));
  let masked = $state(true);
  let most = $state(5000);
  const copy = () =>
    act(async () => {
      await copyLive({ name, types: chosen, most, masked });
      return `Live records were copied${masked ? ', masked' : ''}; the audit log says so.`;
    });
</script>

<span class="text-soft">Of</span>
<Ticks of={types} {chosen} choose={(keys) => (chosen = keys)} />
<label class="text-soft" for="set-most">At most</label>
<span
  ><NumberInput
    id="set-most"
    class="w-20"
    label="At most"
    whole
    min={1}
    max={200000}
    value={most}
    live
    commit={(n) => (most = n)}
  /> of each</span
>
<span class="text-soft">Masked</span>
<label class="flex min-h-6 items-center gap-1.5"
  ><input type="checkbox" class="check" bind:checked={masked} />names, emails, phones and free text are replaced, the
  same by the same</label
>
<p class="col-span-2 mt-1">
  <button type="button" class="button" disabled={waits || chosen.length === 0} onclick={() => void copy()}
    >Copy them</button
  >
</p>
