<script lang="ts">
  /** How the write comes about: entry point, new or existing, moment, who, when. */
  import { moments, type Moment } from '@rigid-rule/core/document';
  import { recordTitle } from '@rigid-rule/core/language';
  import { DayPicker, instantReader } from '$lib/features/fields';
  import { withOffset } from '$lib/instants.ts';
  import { ownForm } from '$lib/organisation.svelte.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { useSamples } from '$lib/features/samples/samples.svelte.ts';
  import type { Bench, Subject } from './bench.svelte.ts';

  interface Props {
    bench: Bench;
    users: readonly { email: string; name: string }[];
  }
  const { bench, users }: Props = $props();
  const samples = useSamples();

  const subjects: readonly { key: Subject; name: string }[] = [
    { key: 'existing', name: 'existing' },
    { key: 'blank', name: 'new, blank' },
    { key: 'as new', name: 'new, with these values' },
  ];
  // What a conversion starts from: a sample record of another type.
  const others = $derived(bench.program.rulebook.recordTypes.filter((t) => t.key !== bench.typeKey));
  const choices = $derived.by(() => {
    const type = others.find((t) => t.key === bench.origin?.recordType);
    return type
      ? samples.first(type.key).map(({ id, data }) => ({ id, title: recordTitle(type, data) || 'no name' }))
      : [];
  });
  const momentName = (m: Moment) => moments.find((x) => x.key === m)?.name ?? m;
  const zone = $derived(bench.program.rulebook.zone);
</script>

<div class="mt-1.5 mb-0.5 flex flex-wrap gap-x-3.5 gap-y-1.5 text-small">
  <select class="editable" aria-label="Came in through" bind:value={bench.entryPoint}>
    {#each bench.entries as entry, nth (nth)}<option value={entry.key}>{entry.name}</option>{/each}
  </select>
  <select class="editable" aria-label="New or existing" bind:value={bench.subject}>
    {#each subjects as s (s.key)}<option value={s.key}>{s.name}</option>{/each}
  </select>
  <select
    class="editable"
    aria-label="Moment"
    value={bench.moment}
    onchange={(e) => bench.choose(e.currentTarget.value as Moment)}
  >
    {#each bench.moments as moment, nth (nth)}<option value={moment}>{momentName(moment)}</option>{/each}
  </select>
  <select class="editable" aria-label="Who writes" bind:value={bench.user}>
    <option value="">a program</option>
    {#each users as user (user.email)}<option value={user.email}>{user.name}</option>{/each}
  </select>
  {#if bench.entry.key === 'conversion'}
    <select
      class="editable"
      aria-label="Made from a"
      value={bench.origin?.recordType ?? ''}
      onchange={({ currentTarget: { value } }) => bench.beginFrom(value === '' ? undefined : { recordType: value })}
    >
      <option value="">made from …</option>
      {#each others as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
    </select>
    {#if bench.origin}
      <select
        class="editable max-w-40"
        aria-label="Made from which"
        value={bench.origin.id}
        onchange={(e) => bench.beginFrom({ recordType: bench.origin!.recordType, id: e.currentTarget.value })}
      >
        {#each choices as c (c.id)}<option value={String(c.id)}>{c.title}</option>{/each}
      </select>
    {/if}
  {/if}
  <span class="inline-flex items-center gap-1.5">
    <TypedInput
      class="w-36 tabular-nums"
      label="Clock"
      title="{zone} time"
      value={bench.clock}
      show={(clock) => `${ownForm().day(clock.slice(0, 10))}, ${clock.slice(11, 16)}`}
      read={instantReader(zone)}
      commit={(clock) => (bench.clock = clock)}
    />
    <DayPicker
      label="the clock"
      day={bench.clock.slice(0, 10)}
      pick={(day) => (bench.clock = withOffset(`${day}${bench.clock.slice(10, 16)}`, zone))}
    />
  </span>
</div>
