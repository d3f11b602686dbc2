<script lang="ts">
  /** The sample sets: what there is, and four ways to another one: a file, made up, live records, taken away. */
  import { counted } from '$lib/counted.ts';
  import { invalidateAll } from '$app/navigation';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { generateRecords } from '@rigid-rule/core/rule-tests';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { NumberInput } from '$lib/features/fields';
  import { useDraft } from '../draft/context.ts';
  import { useSamples } from '../samples/samples.svelte.ts';
  import FilePreview from './FilePreview.svelte';
  import { SampleFile } from './sample-file.svelte.ts';
  import { copyLive, fillSet, idsByTitle, makeSet, removeSet, type SampleSetInfo } from './sets.ts';

  interface Props {
    sets: readonly SampleSetInfo[];
    close: () => void;
  }
  const { sets, close }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();

  let way = $state<'file' | 'made up' | 'live'>('file');
  let name = $state('');
  let typeKey = $state(draft.rulebook.recordTypes[0]?.key ?? '');
  const type = $derived(draft.rulebook.recordTypes.find((t) => t.key === typeKey));
  let busy = $state('');
  let problem = $state<string>();
  let said = $state<string>();

  /** Into a set that there is, or a new one. */
  let into = $state('new');
  const remembered = $derived(
    Object.assign({}, ...sets.map((s) => s.columns[typeKey] ?? {})) as Readonly<Record<string, string>>,
  );
  const file = new SampleFile({
    type: () => type,
    remembered: () => remembered,
    // What it links to may be said by title.
    titlesFor: async ({ fields }) => {
      const linked = new Set(fields.flatMap((f) => f.recordType ?? []));
      const types = draft.rulebook.recordTypes.filter((t) => linked.has(t.key));
      return new Map(await Promise.all(types.map(async (t) => [t.key, await idsByTitle(samples.set, t)] as const)));
    },
  });
  /** Files that were chosen: of two the later one is told of. */
  let reading = 0;
  async function read(chosen: File | undefined) {
    problem = said = undefined;
    if (!chosen) return;
    const own = ++reading;
    busy = 'The file is being read …';
    try {
      if (await file.read(chosen)) name ||= chosen.name.replace(/\.[^.]+$/, '');
    } catch (e) {
      if (own === reading) problem = (e as Error).message;
    }
    if (own === reading) busy = '';
  }

  async function act(work: () => Promise<string>) {
    problem = said = undefined;
    busy = 'Begun …';
    try {
      said = await work();
      await invalidateAll();
    } catch (e) {
      problem = (e as Error).message;
    }
    busy = '';
  }
  const progress = (done: number, all: number) => (busy = `${ownWriting(done)} of ${ownWriting(all)} …`);
  const importFile = () =>
    act(async () => {
      const { records, misfits, columns } = file.records(type!);
      const id = into === 'new' ? await makeSet(name, 'imported') : Number(into);
      await fillSet(id, typeKey, records, columns, (done) => progress(done, records.length));
      samples.choose(id);
      const left = misfits.reduce((n, m) => n + m.count, 0);
      file.forget();
      return `${counted(records.length, 'record is', 'records are')} in the set${left > 0 ? `; ${counted(left, 'value that is none of its field was', 'values that are none of their field were')} left blank` : ''}.`;
    });

  let count = $state(1000);
  let seed = $state(1);
  let pairs = $state<readonly string[]>([]);
  const picklists = $derived(type?.fields.filter((f) => f.options) ?? []);
  const generate = () =>
    act(async () => {
      const id = into === 'new' ? await makeSet(name, 'generated') : Number(into);
      const set = sets.find((s) => s.id === id);
      const links = (key: string): number => (key === typeKey ? count : (set?.records[key] ?? 0));
      const made = [];
      for (const data of generateRecords(draft.program, typeKey, { seed, pairs, links })) {
        if (made.length >= count) break;
        made.push({ id: made.length + 1, data });
      }
      await fillSet(id, typeKey, made, undefined, (done) => progress(done, made.length));
      samples.choose(id);
      return `${counted(made.length, 'record was', 'records were')} made up from seed ${seed}.`;
    });

  let chosenTypes = $state<readonly string[]>(draft.rulebook.recordTypes.map((t) => t.key));
  let masked = $state(true);
  let most = $state(5000);
  const copy = () =>
    act(async () => {
      await copyLive({ name, types: chosenTypes, most, masked });
      return `Live records were copied${masked ? ', masked' : ''}; the audit log says so.`;
    });
  const remove = (s: SampleSetInfo) =>
    act(async () => {
      await removeSet(s.id);
      return `${s.name} is gone.`;
    });
  const total = (s: SampleSetInfo) => Object.values(s.records).reduce((n, x) => n + x, 0);
  const toggle = (list: readonly string[], key: string) =>
    list.includes(key) ? list.filter((k) => k !== key) : [...list, key];
</script>

<section class="mb-5 border border-edge bg-paper px-4 py-3" aria-label="Sample sets">
  <div class="flex items-baseline justify-between">
    <h2 class="font-[650]">Sample sets</h2>
    <button type="button" class="cursor-pointer" aria-label="Close the sample sets" onclick={close}
      ><Icon of={X} size={15} /></button
    >
  </div>
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
          onclick={() => void remove(s)}>remove</button
        >
      </li>
    {/each}
  </ul>
  <div class="flex flex-wrap gap-x-5" role="group" aria-label="Another set">
    {#each [{ key: 'file', name: 'from a file' }, { key: 'made up', name: 'made up from fields and rules' }, { key: 'live', name: 'from live records' }] as const as w (w.key)}
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
        {#each sets as s (s.id)}<option value={String(s.id)}>{s.name}</option>{/each}
      </select>
    {/if}
    {#if way === 'live' || into === 'new'}
      <label class="text-soft" for="set-name">Name</label>
      <input id="set-name" class="box w-64" maxlength="100" bind:value={name} />
    {/if}
    {#if way !== 'live'}
      <label class="text-soft" for="set-type">Record type</label>
      <select id="set-type" class="editable justify-self-start" bind:value={typeKey} onchange={() => file.match()}>
        {#each draft.rulebook.recordTypes as t (t.key)}<option value={t.key}>{t.plural}</option>{/each}
      </select>
    {/if}
    {#if way === 'file'}
      <label class="text-soft" for="set-file">File</label>
      <input
        id="set-file"
        type="file"
        accept=".csv,.xlsx,text/csv"
        onchange={(e) => void read(e.currentTarget.files?.[0])}
      />
    {:else if way === 'made up'}
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
        <span class="flex flex-wrap gap-x-4">
          {#each picklists as f (f.key)}<label class="flex min-h-6 items-center gap-1.5"
              ><input
                type="checkbox"
                class="check"
                checked={pairs.includes(f.key)}
                onchange={() => (pairs = toggle(pairs, f.key))}
              />{f.name}</label
            >{/each}
        </span>
      {/if}
    {:else}
      <span class="text-soft">Of</span>
      <span class="flex flex-wrap gap-x-4">
        {#each draft.rulebook.recordTypes as t (t.key)}<label class="flex min-h-6 items-center gap-1.5"
            ><input
              type="checkbox"
              class="check"
              checked={chosenTypes.includes(t.key)}
              onchange={() => (chosenTypes = toggle(chosenTypes, t.key))}
            />{t.plural}</label
          >{/each}
      </span>
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
        ><input type="checkbox" class="check" bind:checked={masked} />names, emails, phones and free text are replaced,
        the same by the same</label
      >
    {/if}
  </div>
  {#if way === 'file' && type}<FilePreview {file} {type} />{/if}
  <p class="mt-3 flex items-baseline gap-4">
    {#if way === 'file'}<button
        type="button"
        class="button"
        disabled={busy !== '' || !file.lines || (into === 'new' && name.trim() === '')}
        onclick={() => void importFile()}>Take them in</button
      >
    {:else if way === 'made up'}<button
        type="button"
        class="button"
        disabled={busy !== '' || (into === 'new' && name.trim() === '')}
        onclick={() => void generate()}>Make them up</button
      >
    {:else}<button
        type="button"
        class="button"
        disabled={busy !== '' || name.trim() === '' || chosenTypes.length === 0}
        onclick={() => void copy()}>Copy them</button
      >{/if}
    <span role="status" class="text-soft">{busy || said || ''}</span>
  </p>
  {#if problem}<p class="text-stop" role="alert">{problem}</p>{/if}
</section>
