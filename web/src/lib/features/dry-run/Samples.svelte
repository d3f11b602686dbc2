<script lang="ts">
  /** The sample sets: what there is, and four ways to another one: a file, made up, live records, taken away. */
  import { counted } from '$lib/counted.ts';
  import { invalidateAll } from '$app/navigation';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { readTextFile } from '$lib/text-file.ts';
  import { isWorkbook, workbookLines } from '$lib/workbook.ts';
  import { readCsv } from '@rigid-rule/core/formats';
  import { generateRecords } from '@rigid-rule/core/rule-tests';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { shownValue, typedValue } from '$lib/features/fields';
  import { useDraft } from '../draft/context.ts';
  import { useSamples } from '../samples/samples.svelte.ts';
  import { bothWays, cellValue, matchColumns, neutrally, readRecords, type ColumnMatch } from './columns.ts';
  import { writtenAs, type Written } from '$lib/written-lines.ts';
  import WrittenSelect from '$lib/ui/WrittenSelect.svelte';
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

  let file = $state.raw<{
    readonly header: readonly string[];
    readonly rows: readonly (readonly string[])[];
    readonly note: string | undefined;
    /** Of a workbook cells are known, whatever they look like. */
    readonly isWorkbook: boolean;
  }>();
  let columns = $state.raw<readonly ColumnMatch[]>([]);
  /** Into a set that there is, or a new one. */
  let into = $state('new');
  const remembered = $derived(
    Object.assign({}, ...sets.map((s) => s.columns[typeKey] ?? {})) as Readonly<Record<string, string>>,
  );
  let latest: File | undefined;
  async function read(chosen: File | undefined) {
    problem = said = undefined;
    latest = chosen;
    if (!chosen || !type) return;
    busy = 'The file is being read …';
    try {
      const { lines, note } = await linesOf(chosen);
      // What it links to may be said by title.
      const linked = new Set(type.fields.flatMap((f) => f.recordType ?? []));
      titles = new Map(
        await Promise.all(
          draft.rulebook.recordTypes
            .filter((t) => linked.has(t.key))
            .map(async (t) => [t.key, await idsByTitle(samples.set, t)] as const),
        ),
      );
      const [header = [], ...rows] = lines;
      // Another was chosen meanwhile.
      if (latest !== chosen) return;
      if (rows.length > 200_000) throw new Error(`At most ${ownWriting(200_000)} rows fit in a set.`);
      file = { header, rows, note, isWorkbook: isWorkbook(chosen) };
      written = undefined;
      columns = matchColumns(header, rows, type, remembered, [neutrally, typedValue]);
      name ||= chosen.name.replace(/\.[^.]+$/, '');
    } catch (e) {
      problem = (e as Error).message;
    }
    busy = '';
  }
  async function linesOf(chosen: File): Promise<{ lines: readonly (readonly string[])[]; note?: string }> {
    if (isWorkbook(chosen)) return { lines: await workbookLines(chosen) };
    const { text, note } = await readTextFile(chosen);
    const { lines, problems } = readCsv(text);
    if (problems.length > 0) throw new Error(problems[0]);
    return { lines, ...(note ? { note } : {}) };
  }
  /** By title, so that a file can name what it links to. */
  let titles: ReadonlyMap<string, ReadonlyMap<string, string>> = new Map();
  const idOfTitle = (key: string, title: string): string | undefined =>
    titles.get(key)?.get(title.trim().toLowerCase());
  /** Rows that are looked at before all are taken in. */
  const first = $derived(file?.rows.slice(0, 2000) ?? []);
  /** How the file is written, where that makes a difference; as it was told, or as more of it fits. */
  let written = $state<Written>();
  const seemsWritten = $derived(
    file && type && !file.isWorkbook ? writtenAs(bothWays(first, columns, type, typedValue)) : undefined,
  );
  const reader = $derived((written ?? seemsWritten) === 'own' ? typedValue : neutrally);
  const preview = $derived(file && type ? readRecords(first, columns, type, reader, idOfTitle) : undefined);
  /** A cell as it was read, where it holds a value of its field. */
  function readAs(text: string, key: string | undefined): string | undefined {
    const field = type?.fields.find((f) => f.key === key);
    if (!field || text.trim() === '' || field.recordType) return text;
    const read = cellValue(field, text, reader);
    return 'value' in read ? shownValue(field, read.value) : undefined;
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
      const { records, misfits } = readRecords(file!.rows, columns, type!, reader, idOfTitle);
      const id = into === 'new' ? await makeSet(name, 'imported') : Number(into);
      const chosen = Object.fromEntries(columns.flatMap((c) => (c.field ? [[c.heading, c.field]] : [])));
      await fillSet(id, typeKey, records, chosen, (done) => progress(done, records.length));
      samples.choose(id);
      const left = misfits.reduce((n, m) => n + m.count, 0);
      file = undefined;
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
      <select
        id="set-type"
        class="editable justify-self-start"
        bind:value={typeKey}
        onchange={() =>
          file && type && (columns = matchColumns(file.header, file.rows, type, remembered, [neutrally, typedValue]))}
      >
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
        ><input id="set-count" type="number" min="1" max="200000" class="box w-28" bind:value={count} />
        <label class="ml-3 text-soft" for="set-seed">seed</label>
        <input id="set-seed" type="number" min="0" max="999999" class="box w-24" bind:value={seed} /></span
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
      <span><input id="set-most" type="number" min="1" max="200000" class="box w-28" bind:value={most} /> of each</span>
      <span class="text-soft">Masked</span>
      <label class="flex min-h-6 items-center gap-1.5"
        ><input type="checkbox" class="check" bind:checked={masked} />names, emails, phones and free text are replaced,
        the same by the same</label
      >
    {/if}
  </div>
  {#if way === 'file' && file && preview && type}
    <div class="mt-3 max-h-[260px] overflow-auto">
      <table>
        <thead>
          <tr>
            {#each columns as c, i (i)}
              <th scope="col" class="pr-4 text-left align-top font-normal">
                <span class="block text-soft">{c.heading}</span>
                <select
                  class="editable max-w-[150px]"
                  aria-label="Field of {c.heading}"
                  value={c.field ?? ''}
                  onchange={(e) =>
                    (columns = columns.with(i, {
                      ...c,
                      field: e.currentTarget.value || undefined,
                      because: 'as before',
                    }))}
                >
                  <option value="">left out</option>
                  {#each type.fields as f (f.key)}<option value={f.key}>{f.name}</option>{/each}
                </select>
                {#if preview.misfits[i]!.count > 0}<span class="block text-small text-stop"
                    >{counted(preview.misfits[i]!.count, 'does not fit', 'do not fit')}; row {preview.misfits[i]!.row}: {preview
                      .misfits[i]!.first}</span
                  >{/if}
              </th>
            {/each}
          </tr>
        </thead>
        <tbody>
          {#each file.rows.slice(0, 5) as row, r (r)}<tr
              >{#each columns as { field }, c (c)}{@const text = row[c] ?? ''}{@const said = readAs(text, field)}<td
                  class="pr-4 whitespace-nowrap"
                  >{#if said === undefined}<s class="text-stop">{text}</s>{:else}{said}{/if}</td
                >{/each}</tr
            >{/each}
        </tbody>
      </table>
    </div>
    {#if seemsWritten}<WrittenSelect value={written ?? seemsWritten} choose={(w) => (written = w)} />{/if}
    <p class="text-small text-soft">
      {#if file.note}<span class="text-brass-ink">{file.note}</span>{/if}
      {counted(file.rows.length, 'row')}{file.rows.length > 2000 ? '; the first 2,000 were looked at' : ''}.
    </p>
  {/if}
  <p class="mt-3 flex items-baseline gap-4">
    {#if way === 'file'}<button
        type="button"
        class="button"
        disabled={busy !== '' || !file || (into === 'new' && name.trim() === '')}
        onclick={() => void importFile()}>Take them in</button
      >
    {:else if way === 'made up'}<button
        type="button"
        class="button"
        disabled={busy !== '' || (into === 'new' && name.trim() === '') || !(count > 0)}
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
