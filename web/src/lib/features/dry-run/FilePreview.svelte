<script lang="ts">
  /** The first rows of a file as they are read, and the field that each column is. */
  import type { RecordType } from '@rigid-rule/core/document';
  import { counted } from '$lib/counted.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import WrittenSelect from '$lib/ui/WrittenSelect.svelte';
  import { mostLookedAt, type SampleFile } from './sample-file.svelte.ts';

  const { file, type }: { file: SampleFile; type: RecordType } = $props();
  const firstRows = $derived(file.lines?.rows.slice(0, 5) ?? []);
</script>

{#if file.lines && file.preview}
  {@const { lines, preview } = file}
  <div class="mt-3 max-h-[260px] overflow-auto">
    <table>
      <thead>
        <tr>
          {#each file.columns as c, i (i)}
            <th scope="col" class="pr-4 text-left align-top font-normal">
              <span class="block text-soft">{c.heading}</span>
              <select
                class="editable max-w-[150px]"
                aria-label="Field of {c.heading}"
                value={c.field ?? ''}
                onchange={(e) => file.setField(i, e.currentTarget.value || undefined)}
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
        {#each firstRows as row, r (r)}<tr
            >{#each file.columns as { field }, c (c)}{@const text = row[c] ?? ''}{@const said = file.readAs(
                text,
                field,
              )}<td class="pr-4 whitespace-nowrap"
                >{#if said === undefined}<s class="text-stop">{text}</s>{:else}{said}{/if}</td
              >{/each}</tr
          >{/each}
      </tbody>
    </table>
  </div>
  {#if file.written}<WrittenSelect value={file.written} choose={(w) => file.tell(w)} />{/if}
  <p class="text-small text-soft">
    {#if lines.note}<span class="text-brass-ink">{lines.note}</span>{/if}
    {counted(lines.rows.length, 'row')}{lines.rows.length > firstRows.length
      ? `, the first ${ownWriting(firstRows.length)} shown`
      : ''}{lines.rows.length > mostLookedAt ? `; the first ${ownWriting(mostLookedAt)} were looked at` : ''}.
  </p>
{/if}
