<script lang="ts">
  /** Sample records from a file. */
  import { untrack } from 'svelte';
  import type { RecordType } from '@rigid-rule/core/document';
  import { counted } from '$lib/counted.ts';
  import { useDraft } from '../draft/context.ts';
  import { useSamples } from '../samples/samples.svelte.ts';
  import FilePreview from './FilePreview.svelte';
  import type { Making } from './making.ts';
  import { SampleFile } from './sample-file.svelte.ts';
  import { fillSet, idsByTitle, type SampleSetInfo } from './sets.ts';

  interface Props extends Making {
    type: RecordType;
    sets: readonly SampleSetInfo[];
    /** The set that they go into, made where it is a new one. */
    target: (source: 'imported') => Promise<number>;
    /** Reads a file, and tells that it does. */
    reading: (work: () => Promise<boolean>) => Promise<boolean>;
    /** A file of this name was read. */
    named: (file: string) => void;
  }
  const { type, sets, target, reading, named, waits, act, progress }: Props = $props();
  const { draft } = useDraft();
  const samples = useSamples();

  const remembered = $derived(
    Object.assign({}, ...sets.map((s) => s.columns[type.key] ?? {})) as Readonly<Record<string, string>>,
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
  // Of another type the columns mean something else.
  let typeBefore = untrack(() => type.key);
  $effect(() => {
    if (type.key === typeBefore) return;
    typeBefore = type.key;
    if (untrack(() => file.lines)) void reading(async () => (await file.retype(), false));
  });
  async function read(chosen: File | undefined) {
    if (chosen && (await reading(() => file.read(chosen)))) named(chosen.name);
  }
  const takeIn = () =>
    act(async () => {
      const { records, misfits, columns } = file.records(type);
      const id = await target('imported');
      await fillSet(id, type.key, records, columns, (done) => progress(done, records.length));
      samples.choose(id);
      const left = misfits.reduce((n, m) => n + m.count, 0);
      file.forget();
      return `${counted(records.length, 'record is', 'records are')} in the set${left > 0 ? `; ${counted(left, 'value that is none of its field was', 'values that are none of their field were')} left blank` : ''}.`;
    });
</script>

<label class="text-soft" for="set-file">File</label>
<input id="set-file" type="file" accept=".csv,.xlsx,text/csv" onchange={(e) => void read(e.currentTarget.files?.[0])} />
<div class="col-span-2"><FilePreview {file} {type} /></div>
<p class="col-span-2 mt-1">
  <button type="button" class="button" disabled={waits || !file.lines} onclick={() => void takeIn()}
    >Take them in</button
  >
</p>
