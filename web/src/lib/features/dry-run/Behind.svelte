<script lang="ts">
  /** The records behind a number: what they have in common, each opening on the bench; agreed to, or taken away as CSV. */
  import { recordAddress } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { nowIn } from '$lib/now.ts';
  import { saveFile } from '$lib/save-file.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { shownText, shownValue } from '$lib/features/fields';
  import type { RecordType } from '@rigid-rule/core/document';
  import { becomes, fieldTypeOf, linkedType, recordTitle } from '@rigid-rule/core/language';
  import type { ImpactWay, MovedRecord } from '@rigid-rule/core/rule-tests';
  import { useDraft } from '../draft/context.ts';
  import { agreementKey, type Agreements } from '../proof/agreements.svelte.ts';
  import type { DryRun } from '../proof/dry-run.svelte.ts';
  import { handover } from '../proof/handover.ts';
  import { inWords, type Behind as What, type RecordsBehind } from '../proof/live-run.ts';
  import { csvOf } from './csv.ts';

  interface Props {
    run: DryRun;
    agreements: Agreements;
    recordType: RecordType;
    plural: string;
    way: ImpactWay;
    of: What;
    count: number;
    mayAgree: boolean;
  }
  const { run, agreements, recordType, plural, way, of, count, mayAgree }: Props = $props();
  const { draft } = useDraft();

  const mostRows = 100;
  let behind = $state.raw<RecordsBehind>();
  let problem = $state<string>();
  /** What is asked for, so that only another question is asked anew. */
  const question = $derived(JSON.stringify([recordType.key, of]));
  $effect(() => {
    void question;
    let gone = false;
    run.behind(recordType.key, of, mostRows).then(
      (found) => {
        if (!gone) [behind, problem] = [found, undefined];
      },
      (e: unknown) => {
        if (!gone) problem = inWords(e);
      },
    );
    return () => (gone = true);
  });
  const move = $derived('message' in of ? undefined : { recordType: recordType.key, ...of });
  const said = (neutral: string) => {
    const field = recordType.fields.find((f) => f.key === move?.field);
    return shownText(field && fieldTypeOf(field).written, neutral);
  };
  const agreed = $derived(move && agreements.known.get(agreementKey(move)));
  /** What the rules that write the field read says most of a record. */
  const columns = $derived.by(() => {
    const own = draft.program.types.get(recordType.key);
    const read = (own?.rules ?? [])
      .filter((r) => move && r.writes.some((slot) => own!.slots[slot]!.field.key === move.field))
      .flatMap((r) => r.reads.present.map((slot) => own!.slots[slot]!.field));
    const others = recordType.fields.filter((f) => !linkedType(f) && !fieldTypeOf(f).users);
    return [...new Set([...read, ...others])]
      .filter((f) => f.key !== move?.field && !recordType.title.includes(f.key))
      .slice(0, 2);
  });
  const value = (r: MovedRecord, key: string) => {
    const own = draft.program.types.get(recordType.key)!;
    return shownValue(own.slots[own.slotOf.get(key)!]!.field, r.data[key]);
  };
  const openOnBench = (r: MovedRecord) =>
    goto(
      handover({
        key: 'dry-run',
        name: recordTitle(recordType, r.data),
        recordType: recordType.key,
        before: way === 'as new' ? null : { data: r.data },
        sent: way === 'as new' ? r.data : {},
        moment: way === 'as new' ? 'creating' : 'updating',
        entryPoint: way === 'backfill' ? 'backfill' : `form:${recordType.forms[0]?.key ?? 'full'}`,
        now: nowIn(draft.rulebook.zone),
        ...(way === 'backfill'
          ? {
              woken: draft.program.types
                .get(recordType.key)!
                .rules.filter((x) => x.standing)
                .map((x) => x.rule.key),
            }
          : {}),
        expect: {},
      }),
    );
  async function download() {
    const all = await run.behind(recordType.key, of, 200_000);
    saveFile(
      csvOf(recordType, move?.field ?? '', all.records),
      `${recordType.key}-${move ? `${move.field}-${move.from}-${move.to}` : 'stopped'}.csv`,
    );
  }
</script>

{#if problem}<p class="mt-4 text-stop" role="alert">{problem}</p>{/if}
{#if behind}
  <div class="mt-4 flex flex-wrap items-baseline justify-between gap-x-4">
    <p>
      {#if move}<b class="font-[650]"
          >{ownWriting(count)} {plural.toLowerCase()}, {becomes(said(move.from), said(move.to))}</b
        >{:else}<b class="font-[650]">{plural}</b>{/if}
      {#if behind.trait}<span class="ml-2 text-soft">{behind.trait}</span>{/if}
    </p>
    <span class="flex gap-4">
      <button type="button" class="word" onclick={() => void download()}>as CSV</button>
      {#if mayAgree && move}
        <label class="flex min-h-6 items-center gap-1.5"
          ><input
            type="checkbox"
            class="check"
            checked={agreements.covers(move.recordType, { ...move, records: count })}
            onchange={(e) => void (e.currentTarget.checked ? agreements.agree(move, count) : agreements.takeBack(move))}
          />agree to all {ownWriting(count)}</label
        >
      {/if}
    </span>
  </div>
  {#if agreed}
    <p class="text-small text-soft">
      {agreed.lapsed
        ? `Agreed by ${agreed.by}, and lapsed: a rule that it covers has changed.`
        : agreed.most < count
          ? `Agreed by ${agreed.by} for ${ownWriting(agreed.most)}; ${ownWriting(count - agreed.most)} are new since.`
          : `Agreed by ${agreed.by}, up to ${ownWriting(agreed.most)}.`}
    </p>
  {/if}
  <table class="mt-1 w-full">
    <thead>
      <tr class="border-b border-line text-left text-soft">
        <th class="py-1 font-normal">{recordType.name}</th>
        {#each columns as c (c.key)}<th class="pr-3 font-normal">{c.name}</th>{/each}
        {#if move}<th class="pr-3 font-normal">Before</th><th class="pr-3 font-normal">After</th><th class="font-normal"
            >Written by</th
          >{/if}
      </tr>
    </thead>
    <tbody>
      {#each behind.records as r (r.id)}
        <tr class="border-b border-line">
          <td class="py-[3px] pr-3"
            >{#if run.live}<a class="hover:text-brass" href={recordAddress(recordType.key, Number(r.id))}
                >{recordTitle(recordType, r.data) || `no name, ${r.id}`}</a
              >
              <button
                type="button"
                class="word ml-2"
                aria-label="Try {recordTitle(recordType, r.data) || r.id} on the bench"
                onclick={() => void openOnBench(r)}>try it</button
              >{:else}<button
                type="button"
                class="cursor-pointer text-left hover:text-brass"
                title="Try it on the bench"
                onclick={() => void openOnBench(r)}>{recordTitle(recordType, r.data) || `no name, ${r.id}`}</button
              >{/if}</td
          >
          {#each columns as c (c.key)}<td class="pr-3">{value(r, c.key)}</td>{/each}
          {#if move}
            <td class="pr-3"><span class="was">{said(move.from)}</span></td>
            <td class="pr-3"
              >{#if move.to === 'blank'}<b class="text-stop">blank</b>{:else}<span class="written">{said(move.to)}</span
                >{/if}</td
            >
            <td class="text-soft">{r.by ?? ''}</td>
          {/if}
        </tr>
      {/each}
    </tbody>
  </table>
  {#if behind.records.length === mostRows}<p class="text-small text-soft">
      The first {mostRows} are shown; the CSV has all.
    </p>{/if}
{/if}
