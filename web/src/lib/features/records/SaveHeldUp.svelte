<script lang="ts">
  /** Why a save was not taken as it is: somebody saved meanwhile, or it would come out otherwise than it was seen. */
  import type { RecordType, Stored } from '@rigid-rule/core/document';
  import { sameStored } from '@rigid-rule/core/language';
  import { shownValue, type Titles } from '$lib/features/fields';
  import Elsewhere from './Elsewhere.svelte';
  import type { Confirmed } from './form.svelte.ts';
  import type { SaveAnswer, Stores } from './record-server.ts';

  interface Props {
    answer: SaveAnswer;
    recordTypes: readonly RecordType[];
    recordType: RecordType;
    titles: Titles;
    /** That the form was opened under. */
    release: number | null;
    /** What a field held when the form was opened. */
    before: (key: string) => Stored;
    goOnFrom: (theirs: Stores) => void;
    saveSo: (confirmed: Confirmed) => void;
  }
  const { answer, recordTypes, recordType, titles, release, before, goOnFrom, saveSo }: Props = $props();
  const fieldNamed = (key: string) => recordType.fields.find((f) => f.key === key);
</script>

{#if answer.outcome === 'changed meanwhile'}
  {@const theirs = answer.record}
  <div class="mb-2 border-l-[3px] border-stop bg-stop-wash px-3 py-2" role="alert">
    <p>Someone saved this record meanwhile. What you typed is still here.</p>
    <ul>
      {#each recordType.fields.filter((f) => !sameStored(theirs.data[f.key], before(f.key))) as f (f.key)}
        <li>
          {f.name} <span class="was">{shownValue(f, before(f.key), titles) || 'blank'}</span>
          {shownValue(f, theirs.data[f.key], titles) || 'blank'}
        </li>
      {/each}
    </ul>
    <button type="button" class="editable cursor-pointer" onclick={() => goOnFrom(theirs)}
      >Continue with their version</button
    >
  </div>
{:else if answer.outcome === 'differs'}
  <div class="mb-2 border-l-[3px] border-brass bg-brass-wash px-3 py-2" role="alert">
    {#if answer.release !== release}<p>
        {answer.release === null ? 'No release is live any more' : `Release ${answer.release} went live`} since you opened
        this form.
      </p>{/if}
    <p>Saved now it would come out otherwise than you see it:</p>
    <ul>
      {#each answer.differences as d, i (i)}
        <li>
          {#if d.what === 'value'}
            {@const f = fieldNamed(d.field)!}
            {f.name} <span class="was">{shownValue(f, d.from, titles) || 'blank'}</span>
            <span class="written">{shownValue(f, d.to, titles) || 'blank'}</span>
          {:else if d.what === 'state'}{d.text}
          {:else if d.what === 'elsewhere'}<Elsewhere
              {recordTypes}
              effects={[{ ...d.effect, gone: d.gone }]}
              {titles}
            />
          {:else if d.what === 'message'}<span class={d.gone ? 'was' : 'text-stop'}>{d.text}</span>
          {:else}<span class="text-stop">{d.to === 'saved' ? 'It can be saved.' : 'It cannot be saved.'}</span>{/if}
        </li>
      {/each}
    </ul>
    {#if answer.settlement.verdict === 'saved'}
      {@const confirmed = answer}
      <button type="button" class="editable cursor-pointer" onclick={() => saveSo(confirmed)}>Save it so</button>
    {/if}
  </div>
{/if}
