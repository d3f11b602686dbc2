<script lang="ts">
  /** The foot of a form: what stands against a save, what it does elsewhere, and the save itself. */
  import type { RecordType } from '@rigid-rule/core/document';
  import { counted } from '$lib/counted.ts';
  import type { Titles } from '$lib/features/fields';
  import Elsewhere from './Elsewhere.svelte';
  import type { RecordForm } from './form.svelte.ts';
  import SaveHeldUp from './SaveHeldUp.svelte';
  import type { Saving } from './saving.svelte.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    form: RecordForm;
    saving: Saving;
    recordTypes: readonly RecordType[];
    titles: Titles;
    release: number | null;
  }
  const { form, saving, recordTypes, titles, release }: Props = $props();
  const { recordType } = $derived(form);
  const stops = $derived(saving.stops);
  const byRules = $derived(form.settlement.changes.filter((c) => c.author.by === 'rule').length);
  const follows = $derived({
    here: `, ${byRules} written by rules.`,
    coming: '; the rules are on their way.',
    away: '; the rules could not be had, and are asked for again as you go on.',
  });
  const fieldNamed = (key: string) => recordType.fields.find((f) => f.key === key);
  /** Fields that stop the save, by name, in the order of the record type. */
  const inTrouble = $derived(
    recordType.fields.filter((f) => stops.some((m) => m.field === f.key)).map((f) => f.label ?? f.name),
  );
</script>

<!-- At the bottom whatever stands above, so that Save stays where it is while rules answer. -->
<div class="mt-auto sticky bottom-0 border-t border-ink bg-sheet pt-2.5 pb-3">
  {#if saving.answer}
    <SaveHeldUp
      answer={saving.answer}
      {recordTypes}
      {recordType}
      {titles}
      {release}
      before={(key) => form.before(key)}
      goOnFrom={(theirs) => {
        form.goOnFrom(theirs);
        saving.answer = undefined;
      }}
      saveSo={(confirmed) => void saving.save(confirmed)}
    />
  {/if}
  {#if form.elsewhere && (form.elsewhere.effects.length > 0 || form.elsewhere.dependants.length > 0)}
    <div class="mb-2">
      <p class="text-small text-soft">Saving also changes</p>
      <Elsewhere {recordTypes} effects={form.elsewhere.effects} dependants={form.elsewhere.dependants} {titles} />
    </div>
  {/if}
  {#if saving.loose.length > 0}
    <ul class="mb-2" aria-label="About the record">
      {#each saving.loose as m, i (i)}<li class={m.severity === 'stop' ? 'text-stop' : 'text-brass-ink'}>
          {m.field ? `${fieldNamed(m.field)?.name ?? m.field}: ` : ''}{m.text}
        </li>{/each}
    </ul>
  {/if}
  <div class="flex items-end gap-3">
    <p class="flex-1 pb-1" role="status">
      {#if saving.problem}<span class="text-stop">{saving.problem}</span>
      {:else if form.dirty}
        <b class="font-[650]">Not saved yet:</b>
        {counted(form.typed.length, 'value')} typed{follows[form.rulesAre]}
        {#if stops.length > 0}<span class="text-stop"
            >{stops.length === 1
              ? stops[0]!.text
              : `${ownWriting(stops.length)} problems stop the save${inTrouble.length > 0 ? `: ${inTrouble.join(', ')}` : ''}.`}</span
          >{/if}
      {:else if saving.answer?.outcome === 'saved'}<span class="text-ok">Saved.</span>
      {:else}<span class="quiet">Nothing changed.</span>{/if}
    </p>
    <button type="button" class="button plain" disabled={!form.dirty || saving.busy} onclick={() => saving.discard()}
      >Discard changes</button
    >
    <button type="button" class="button" disabled={saving.busy} onclick={() => void saving.save()}
      >{saving.busy ? 'Saving …' : 'Save'} <span class="opacity-70">Ctrl S</span></button
    >
  </div>
</div>
