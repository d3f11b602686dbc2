<script lang="ts">
  /** Records to which a change of another one could not be carried through: why, and once more. */
  import { counted } from '$lib/counted.ts';
  import { ask } from '$lib/network.ts';
  import { recordAddress, recordsPath } from '$lib/addresses.ts';
  import { invalidateAll } from '$app/navigation';
  import { shownInstant } from '$lib/instants.ts';
  import { organisation, ownForm, ownWriting } from '$lib/organisation.svelte.ts';

  const { data } = $props();
  let busy = $state<number>();
  let problem = $state<string>();

  async function tryAgain(job: number) {
    busy = job;
    problem = undefined;
    const answer = await ask(`/api/follow-ups/${job}`, { method: 'POST' }).catch(() => undefined);
    if (!answer?.ok) problem = 'It could not be tried again now. Nothing was changed.';
    await invalidateAll();
    busy = undefined;
  }
</script>

<svelte:head><title>Not carried through · Rigid Rule</title></svelte:head>
<section class="page bg-sheet px-8 pt-4 pb-10" aria-label="Not carried through">
  <h1>Not carried through</h1>
  <p class="mb-3 max-w-[70ch] text-soft">
    When a record changes, rules work out others that read it, right after the save. Here are those where that could not
    be saved, and why. The record that changed stands as it was saved.
  </p>
  {#if problem}<p class="mb-2 text-stop" role="alert">{problem}</p>{/if}
  {#if data.counts.oldest}<p class="mb-2">
      {counted(data.counts.waiting, 'change waits', 'changes wait')} to be carried through, the first since
      {shownInstant(data.counts.oldest.toISOString(), organisation.zone, ownForm())}. What people ask for comes first.
    </p>{/if}
  {#if data.jobs.length === 0 && data.counts.waiting === 0}
    <p>
      Nothing is left: every change has been carried through. <a class="editable" href={recordsPath}>To the records</a>
    </p>
  {:else if data.jobs.length > 0}
    <table class="w-full border-collapse">
      <thead>
        <tr class="label border-b border-ink text-left">
          <th class="py-1 pr-4 font-normal">Since</th><th class="py-1 pr-4 font-normal">Record</th><th
            class="py-1 pr-4 font-normal">Why</th
          ><th><span class="sr-only">Act</span></th>
        </tr>
      </thead>
      <tbody>
        {#each data.jobs as job (job.id)}
          {#each job.failures as f, i (i)}
            <tr class="border-b border-line align-top">
              <td class="py-1.5 pr-4 whitespace-nowrap tabular-nums"
                >{i === 0 ? shownInstant(job.queuedAt.toISOString(), organisation.zone, ownForm()) : ''}</td
              >
              <td class="py-1.5 pr-4">
                {#if f.recordType && f.id}<span class="text-soft">{data.typeNames[f.recordType] ?? f.recordType}</span>
                  <a class="font-[650] hover:text-brass" href={recordAddress(f.recordType, f.id)}
                    >{data.titles[f.recordType]?.[f.id] ?? f.id}</a
                  >{:else}<span class="text-soft">several</span>{/if}
              </td>
              <td class="py-1.5 pr-4 text-stop">{f.text}</td>
              <td class="py-1.5 text-right">
                {#if i === 0 && data.mayWrite}<button
                    type="button"
                    class="word whitespace-nowrap"
                    disabled={busy !== undefined}
                    onclick={() => tryAgain(job.id)}>try again</button
                  >{/if}
              </td>
            </tr>
          {/each}
        {/each}
      </tbody>
    </table>
    {#if data.counts.failed > data.jobs.length}<p class="mt-2 text-soft">
        and {ownWriting(data.counts.failed - data.jobs.length)} more
      </p>{/if}
  {/if}
</section>
