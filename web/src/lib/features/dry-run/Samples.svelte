<script lang="ts">
  /** The sample sets: what there is, and four ways to another one: a file, made up, live records, taken away. */
  import { invalidateAll } from '$app/navigation';
  import { isUnreached } from '$lib/network.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { useDraft } from '../draft/context.ts';
  import FileSet from './FileSet.svelte';
  import LiveSet from './LiveSet.svelte';
  import MadeUpSet from './MadeUpSet.svelte';
  import type { Making } from './making.ts';
  import SampleSetList from './SampleSetList.svelte';
  import { makeSet, removeSet, type SampleSetInfo } from './sets.ts';

  interface Props {
    sets: readonly SampleSetInfo[];
    close: () => void;
  }
  const { sets, close }: Props = $props();
  const { draft } = useDraft();

  const ways = [
    { key: 'file', name: 'from a file' },
    { key: 'made up', name: 'made up from fields and rules' },
    { key: 'live', name: 'from live records' },
  ] as const;
  let way = $state<(typeof ways)[number]['key']>('file');
  let name = $state('');
  let typeKey = $state(draft.rulebook.recordTypes[0]?.key ?? '');
  const type = $derived(draft.rulebook.recordTypes.find((t) => t.key === typeKey));
  /** Into a set that there is, or a new one. */
  let into = $state('new');
  /** A set that was made a moment ago. */
  let begun = $state.raw<{ readonly id: number; readonly name: string }>();
  const targets = $derived(begun && !sets.some((s) => s.id === begun!.id) ? [...sets, begun] : sets);
  const isNew = $derived(way === 'live' || into === 'new');
  async function target(source: 'imported' | 'generated'): Promise<number> {
    if (!isNew) return Number(into);
    // Tried again after it was filled in part, the same set is filled on.
    begun = { id: await makeSet(name, source), name };
    into = String(begun.id);
    return begun.id;
  }

  let busy = $state('');
  let problem = $state<string>();
  let said = $state<string>();
  const making: Making = {
    get waits() {
      return busy !== '' || (isNew && name.trim() === '');
    },
    async act(work) {
      problem = said = undefined;
      busy = 'Begun …';
      const chosen = into;
      try {
        said = await work();
        into = chosen;
        await invalidateAll();
      } catch (e) {
        problem = (e as Error).message;
        // Some of it may be done.
        if (!isUnreached(e)) await invalidateAll();
      }
      busy = '';
    },
    progress: (done, all) => (busy = `${ownWriting(done)} of ${ownWriting(all)} …`),
  };
  const remove = (set: SampleSetInfo) =>
    making.act(async () => {
      await removeSet(set.id);
      return `${set.name} is gone.`;
    });

  /** Files that were chosen: of two the later one is told of. */
  let readings = 0;
  async function reading(work: () => Promise<boolean>) {
    problem = said = undefined;
    const own = ++readings;
    busy = 'The file is being read …';
    let isRead = false;
    try {
      isRead = await work();
    } catch (e) {
      if (own === readings) problem = (e as Error).message;
    }
    if (own === readings) busy = '';
    return isRead;
  }
</script>

<section class="mb-5 border border-edge bg-paper px-4 py-3" aria-label="Sample sets">
  <div class="flex items-baseline justify-between">
    <h2 class="font-[650]">Sample sets</h2>
    <button type="button" class="cursor-pointer" aria-label="Close the sample sets" onclick={close}
      ><Icon of={X} size={15} /></button
    >
  </div>
  <SampleSetList {sets} remove={(set) => void remove(set)} />
  <div class="flex flex-wrap gap-x-5" role="group" aria-label="Another set">
    {#each ways as w (w.key)}
      <button
        type="button"
        class={['word', way === w.key && 'font-[650] text-ink shadow-[0_2px_var(--brass)]']}
        aria-pressed={way === w.key}
        onclick={() => (way = w.key)}>{w.name}</button
      >
    {/each}
  </div>
  <div class="mt-3 grid grid-cols-[110px_minmax(0,1fr)] items-baseline gap-x-3 gap-y-2">
    {#if way !== 'live'}
      <label class="text-soft" for="set-into">Into</label>
      <select id="set-into" class="editable justify-self-start" bind:value={into}>
        <option value="new">a new set</option>
        {#each targets as s (s.id)}<option value={String(s.id)}>{s.name}</option>{/each}
      </select>
    {/if}
    {#if isNew}
      <label class="text-soft" for="set-name">Name</label>
      <input id="set-name" class="box w-64" maxlength="100" bind:value={name} />
    {/if}
    {#if way !== 'live'}
      <label class="text-soft" for="set-type">Record type</label>
      <select id="set-type" class="editable justify-self-start" bind:value={typeKey}>
        {#each draft.rulebook.recordTypes as t (t.key)}<option value={t.key}>{t.plural}</option>{/each}
      </select>
    {/if}
    <!-- What was chosen on one way is kept while another is looked at. -->
    <div class={way === 'live' ? 'contents' : 'hidden'}><LiveSet {name} {...making} /></div>
    {#if type}
      <div class={way === 'made up' ? 'contents' : 'hidden'}><MadeUpSet {type} {sets} {target} {...making} /></div>
      <div class={way === 'file' ? 'contents' : 'hidden'}>
        <FileSet
          {type}
          {sets}
          {target}
          {reading}
          named={(file) => (name ||= file.replace(/\.[^.]+$/, ''))}
          {...making}
        />
      </div>
    {/if}
  </div>
  <p class="mt-2 text-soft" role="status">{busy || said || ''}</p>
  {#if problem}<p class="text-stop" role="alert">{problem}</p>{/if}
</section>
