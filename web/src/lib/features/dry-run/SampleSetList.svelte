<script lang="ts">
  /** The sample sets that there are. */
  import { counted } from '$lib/counted.ts';
  import type { SampleSetInfo } from './sets.ts';

  interface Props {
    sets: readonly SampleSetInfo[];
    remove: (set: SampleSetInfo) => void;
  }
  const { sets, remove }: Props = $props();
  const total = (s: SampleSetInfo) => Object.values(s.records).reduce((n, x) => n + x, 0);
</script>

<ul class="mb-3">
  {#each sets as s (s.id)}
    <li class="grid grid-cols-[minmax(0,1fr)_auto_auto] gap-x-4 border-b border-line py-1">
      <span>{s.name} <span class="text-soft">{s.source}{s.madeBy ? `, ${s.madeBy}` : ''}</span></span>
      <span class="text-soft">{counted(total(s), 'record')}</span>
      <button
        type="button"
        class="word"
        disabled={sets.length === 1}
        aria-label="Take the set {s.name} away"
        onclick={() => remove(s)}>remove</button
      >
    </li>
  {/each}
</ul>
