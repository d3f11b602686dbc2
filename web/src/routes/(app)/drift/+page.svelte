<script lang="ts">
  /** How far stored live values are from what the live standing rules give: by field, since when, whose. */
  import ReleaseLink from '$lib/ui/ReleaseLink.svelte';
  import { counted } from '$lib/counted.ts';
  import { driftOf, recordAddress } from '$lib/addresses.ts';
  import { invalidate } from '$app/navigation';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { shownValue } from '$lib/features/fields';
  import SentForm from '$lib/ui/SentForm.svelte';
  import type { Stored } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';

  const { data, form } = $props();
  const run = $derived(data.run);
  const underWay = $derived(run?.state === 'waiting' || run?.state === 'running');
  const typeOf = (key: string) => data.recordTypes.find((t) => t.key === key);
  const fieldOf = (type: string, key: string) => typeOf(type)?.fields.find((f) => f.key === key);
  const isNumber = $derived.by(() => {
    const field = data.chosen && fieldOf(data.chosen.type, data.chosen.field);
    return field !== undefined && fieldTypeOf(field).numeric === true;
  });
  const shown = (value: Stored) => {
    const field = data.chosen && fieldOf(data.chosen.type, data.chosen.field);
    return field ? shownValue(field, value) || 'blank' : String(value ?? 'blank');
  };
  const percent = $derived(run && run.total > 0 ? Math.round((run.done / run.total) * 100) : 100);
  const seconds = $derived(run ? (Date.now() - new Date(run.at).getTime()) / 1000 : 0);
  const left = $derived(run && run.done > 0 ? Math.ceil((seconds / run.done) * (run.total - run.done)) : undefined);
  const largest = $derived(Math.max(1, ...data.fields.map((f) => f.records + f.held)));

  // A run is followed for as long as it is under way, and found again by whoever comes back.
  $effect(() => {
    if (!underWay) return;
    const timer = setInterval(() => void invalidate('app:drift'), 1000);
    return () => clearInterval(timer);
  });
</script>

<svelte:head><title>Drift · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[300px_minmax(0,1fr)]">
  <section class="overflow-y-auto border-r border-line pt-4" aria-label="Fields that drifted">
    <div class="px-4">
      <h2 class="font-[650]">Live records against live rules</h2>
      <p class="text-small text-soft" role="status">
        {#if !run}Nobody has looked yet.
        {:else if underWay}{percent} % of {counted(run.total, 'record')}{left === undefined
            ? ''
            : `, about ${left} s left`}
        {:else if run.state === 'done'}{counted(run.done, 'record')} looked at, by <ReleaseLink number={run.release} />,
          asked for by {run.by}
        {:else}{run.state === 'failed' ? 'Failed' : 'Stopped'} at {percent} %, <ReleaseLink number={run.release} />{/if}
      </p>
      {#if data.mayLook}
        <SentForm action={underWay ? '?/cancel' : '?/look'} class="mt-2">
          <button class={['button', underWay && 'plain']}
            >{underWay ? 'Stop' : run ? 'Look again' : 'Look for drift'}</button
          >
        </SentForm>
      {:else if !run}
        <p class="mt-1 text-small text-soft">
          Authors and releasers have all records looked at. As {data.user.role} you see what is found.
        </p>
      {/if}
      {#if form?.problem}<p class="text-stop" role="alert">{form.problem}</p>{/if}
    </div>
    {#if data.fields.length > 0}
      <p class="flex justify-between px-4 pt-4 text-small text-soft">
        <span>Values that differ</span><span>records</span>
      </p>
      <ul aria-label="Fields">
        {#each data.fields as f (`${f.type} ${f.field}`)}
          {@const on = f.type === data.chosen?.type && f.field === data.chosen.field}
          <li>
            <a
              href={driftOf({ type: f.type, field: f.field })}
              aria-current={on ? 'true' : undefined}
              class={[
                'block px-4 py-[5px] hover:bg-sheet',
                on && 'bg-sheet font-[650] shadow-[inset_3px_0_var(--brass)]',
              ]}
            >
              <span class="flex justify-between gap-2"
                ><span
                  >{fieldOf(f.type, f.field)?.name ?? f.field}
                  <span class="font-normal text-soft">{typeOf(f.type)?.plural.toLowerCase()}</span></span
                ><span
                  >{ownWriting(f.records)}{#if f.held > 0}<span class="font-normal text-soft">
                      and {ownWriting(f.held)} held</span
                    >{/if}</span
                ></span
              >
              <span class="mt-[3px] block h-[3px] bg-line" aria-hidden="true"
                ><span class="block h-full bg-held" style:width="{Math.max(2, (f.records / largest) * 100)}%"
                ></span></span
              >
            </a>
          </li>
        {/each}
      </ul>
    {/if}
  </section>
  <section class="overflow-y-auto bg-sheet px-8 pt-[18px] pb-10" aria-label="Records that differ">
    {#if data.chosen}
      {@const f = data.chosen}
      <h1>{fieldOf(f.type, f.field)?.name ?? f.field}: {ownWriting(f.records)} stored otherwise</h1>
      <p class="text-soft">
        What is stored of {typeOf(f.type)?.plural.toLowerCase()} against what the live rules give today.
        {#if f.held > 0}{counted(
            f.held,
            'more was set by a person and is held: nothing would change it',
            'more were set by a person and are held: nothing would change them',
          )}.{/if}
      </p>
      <p class="mt-2 flex flex-wrap gap-x-5">
        {#each f.since as s (s.release)}
          <span
            ><b class="font-[650]">{ownWriting(s.records)}</b>
            <span class="text-soft"
              >{#if s.release === null}never written by anyone here{:else}since <ReleaseLink
                  number={s.release}
                />{/if}</span
            ></span
          >
        {/each}
        <a class="editable ml-auto" href={`/api/drift/csv?type=${f.type}&field=${f.field}`} download>all as CSV</a>
      </p>
      <table class="mt-3 w-full">
        <thead>
          <tr class="border-b border-line text-left text-soft">
            <th class="py-1 font-normal">{typeOf(f.type)?.name}</th><th
              class={['pr-3 font-normal', isNumber && 'text-right']}>Stored</th
            ><th class={['pr-3 font-normal', isNumber && 'text-right']}>By the rules</th><th class="font-normal"
              >Rule</th
            >
          </tr>
        </thead>
        <tbody>
          {#each data.listed as l (l.id)}
            <tr class="border-b border-line">
              <td class="py-[3px] pr-3"
                ><a class="hover:text-brass" href={recordAddress(l.type, l.id)}
                  >{data.titles[l.id] || `number ${l.id}`}</a
                ></td
              >
              <td class={['pr-3', isNumber && 'text-right']}
                >{#if l.held}{shown(l.stored)} <span class="text-small text-soft">held</span>{:else}<span class="was"
                    >{shown(l.stored)}</span
                  >{/if}</td
              >
              <td class={['pr-3', isNumber && 'text-right']}
                ><span class={l.held ? 'text-soft' : 'written'}>{shown(l.settled)}</span></td
              >
              <td class="text-soft">{l.rule ? (data.rules[l.rule] ?? l.rule) : ''}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {:else if run?.state === 'done'}
      <h1>No drift</h1>
      <p class="text-soft">Every stored value is what <ReleaseLink number={run.release} /> gives today.</p>
    {:else}
      <h1>Drift</h1>
      <p class="max-w-[560px] text-soft">
        Records keep what they have until a save or a backfill changes them. Looking for drift settles each live record
        by the live rules, stores nothing, and shows where the two differ, by field, and since when.
      </p>
    {/if}
  </section>
</div>
