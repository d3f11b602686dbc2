<script lang="ts">
  /** A live record on its form: the released rules act while it is filled in, and again on the server when it is saved. */
  import { ask } from '$lib/network.ts';
  import { counted } from '$lib/counted.ts';
  import { newRecordAddress, recordAddress, recordsOf } from '$lib/addresses.ts';
  import { goto, invalidateAll } from '$app/navigation';
  import { onDestroy, tick } from 'svelte';
  import type { RecordType } from '@rigid-rule/core/document';
  import { recordTitle } from '@rigid-rule/core/language';
  import type { Titles } from '$lib/features/fields';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { carry, takeCarried } from './carried.ts';
  import { RecordForm } from './form.svelte.ts';
  import { layoutForm } from './form-layout.ts';
  import type { FormIdentity, FormStart } from './form-state.ts';
  import type { FieldAuthor, Stores } from './record-server.ts';
  import FormRow from './FormRow.svelte';
  import SaveBar from './SaveBar.svelte';
  import { Saving } from './saving.svelte.ts';
  import History, { type Entry } from './History.svelte';

  interface Props {
    recordTypes: readonly RecordType[];
    /** The organisation's time zone. */
    zone: string;
    rulesAddress: string;
    identity: FormIdentity;
    start: FormStart;
    release: number | null;
    record: Stores | null;
    history: readonly Entry[];
    /** Who gave each stored value last. */
    authors: readonly FieldAuthor[];
    /** What another record's change has yet to do here, and what it could not. */
    followUps: {
      readonly waiting: boolean;
      readonly failed: readonly { readonly job: number; readonly text: string }[];
    };
    /** Keys of the fields that rules read from other records. */
    readElsewhere: readonly string[];
    ruleNames: Readonly<Record<string, { name: string; kind: string }>>;
    entryNames: Readonly<Record<string, string>>;
    titles: Titles;
    users: readonly { email: string; name: string }[];
    mayWrite: boolean;
  }
  const {
    recordTypes,
    zone,
    rulesAddress,
    identity,
    start,
    release,
    record,
    history,
    authors,
    followUps,
    readElsewhere,
    ruleNames,
    entryNames,
    titles: given,
    users,
    mayWrite,
  }: Props = $props();
  const offers = useOffers();
  onDestroy(() => form.close());

  // A form is opened once; a later load of the page refreshes the history and nothing that is being typed.
  // svelte-ignore state_referenced_locally
  const form = new RecordForm({
    recordTypes,
    zone,
    rulesAddress,
    identity,
    release,
    stored: record,
    start,
    readElsewhere,
  });
  // svelte-ignore state_referenced_locally
  const { recordType: typeKey, form: formName } = identity;
  // svelte-ignore state_referenced_locally
  form.takeUp(takeCarried(record === null ? newRecordAddress(typeKey) : recordAddress(typeKey, record.id)));
  const { recordType } = form;
  const titles = $derived<Titles>(
    Object.fromEntries(
      [...new Set([given, form.learned, form.elsewhere?.titles ?? {}].flatMap((t) => Object.keys(t)))].map((type) => [
        type,
        { ...given[type], ...form.elsewhere?.titles[type], ...form.learned[type] },
      ]),
    ),
  );
  // A name that cannot be asked for now shows as its number.
  $effect(() => void form.nameLinks(given).catch(() => undefined));
  const layout = layoutForm(recordType, formName);

  let asked = $state<string>();
  const saving = new Saving({ form, fields: layout.fields, toTrouble: () => void goToTrouble(), toSaved });
  const title = $derived(
    recordTitle(recordType, form.settlement.data) ||
      (form.stored ? `${recordType.name} ${form.stored.id}` : `New ${recordType.name.toLowerCase()}`),
  );
  const changes = $derived(form.settlement.changes);
  /** To the first field, in the order of the form, that stops the save. */
  async function goToTrouble() {
    await tick();
    const first = document.querySelector<HTMLElement>('[data-field]:has([aria-invalid], [id^="said-"])');
    first?.querySelector<HTMLElement>('input, select, textarea, summary, button')?.focus();
    first?.scrollIntoView({ block: 'nearest' });
  }

  /** What is still being typed counts: leaving its input commits it, as a click on Save does. */
  function saveByKey() {
    const active = document.activeElement;
    if (active instanceof HTMLElement) {
      active.blur();
      active.focus();
    }
    if (mayWrite) void saving.save();
  }

  async function toSaved({ id }: { readonly id: number }) {
    if (record !== null) return invalidateAll();
    const address = recordAddress(typeKey, id);
    carry(address, form.typed);
    await goto(address, { invalidateAll: true });
  }

  $effect(() => {
    form.followAsks((reached) => {
      saving.problem = reached ? undefined : 'The network is away: rules that read other records wait.';
    });
  });
  $effect(() => (mayWrite ? form.followElsewhere() : undefined));
  async function tryAgain(job: number) {
    saving.problem = undefined;
    const answer = await ask(`/api/follow-ups/${job}`, { method: 'POST' }).catch(() => undefined);
    if (!answer?.ok) saving.problem = 'It could not be tried again now.';
    await invalidateAll();
  }
  /** While something is on its way to this record, the page looks again until it is there. */
  $effect(() => {
    if (!followUps.waiting) return;
    const timer = setTimeout(() => void invalidateAll(), 1_500);
    return () => clearTimeout(timer);
  });
  /** The clock of the form goes on while nothing is done: what follows from it is what a save gives. */
  $effect(() => {
    const timer = setInterval(() => void form.refresh().catch(() => undefined), 20_000);
    return () => clearInterval(timer);
  });
  /** Another form of the same new record: what was typed goes on there. */
  function isOtherForm(to: URL | undefined): boolean {
    const here = form.stored === null && to?.pathname === newRecordAddress(typeKey);
    if (here) carry(newRecordAddress(typeKey), form.typed);
    return here;
  }
  $effect(() =>
    offers.guardLeaving((way) => {
      if (!form.touched || saving.busy || isOtherForm(way.to?.url)) return true;
      return way.type !== 'leave' && confirm('What you typed is not saved. Leave it?');
    }),
  );
  $effect(() => offers.offer([{ keys: 'Ctrl S', does: 'save the record', run: saveByKey }], []));
  $effect(() => {
    const ran = form.settlement.trace.filter((t) => t.verdict === 'ran').length;
    const live = release === null ? 'No release is live' : `Release ${release} is live`;
    offers.status = `${live}   ·   ${counted(form.settlement.trace.length, 'rule')} looked at this record: ${ran} ran`;
    return () => (offers.status = '');
  });
</script>

<div class="panes grid-cols-[minmax(0,1fr)_368px]">
  <section
    class="flex flex-col overflow-y-auto bg-sheet px-8 pt-[18px] *:shrink-0 max-md:px-5"
    aria-label="Form"
    onfocusin={() => void form.ready().catch(() => undefined)}
  >
    <div class="flex items-baseline justify-between gap-4">
      <h1 class="truncate whitespace-pre">{title}</h1>
      <a class="shrink-0 text-soft hover:text-ink" href={recordsOf(typeKey)}
        >{recordType.name}{#if form.stored}&nbsp;{form.stored.id}{/if}</a
      >
    </div>
    <p class="mb-3 text-soft">
      {#if form.stored === null && recordType.forms.length > 1}
        {#each recordType.forms as f, nth (nth)}<a
            class={['mr-3', f.key === formName ? 'font-[650] text-ink' : 'hover:text-ink']}
            href={newRecordAddress(typeKey, f.key)}>{f.name}</a
          >{/each}
      {:else}<span class="first-letter:uppercase inline-block">{layout.form.name}.</span>{/if}
      <span class="written font-normal">Underlined values</span> were set by a rule{#if mayWrite};
        <span class="border-b border-brass">these</span> can be edited{/if}.
    </p>

    {#if followUps.waiting}<p class="mb-2 text-small text-brass-ink" role="status">
        Waiting: a change on another record has yet to be carried through here.
      </p>{/if}
    {#each followUps.failed as f (f.job)}<p class="mb-2 text-small text-stop">
        A change on another record could not be carried through here: {f.text}
        {#if mayWrite}<button type="button" class="word" onclick={() => tryAgain(f.job)}>try again</button>{/if}
      </p>{/each}

    <div class="mb-5 grid grid-cols-2 gap-x-11 max-md:grid-cols-1">
      {#each layout.columns as column, i (i)}
        <div>
          {#each column as group, nth (nth)}
            {#if group.name}<h2 class="label mt-2.5">{group.name}</h2>{/if}
            {#each group.fields.filter((f) => !form.settlement.states[f.key]?.hidden) as field (field.key)}
              <FormRow
                {form}
                {field}
                {titles}
                {ruleNames}
                {entryNames}
                author={authors.find((a) => a.field === field.key)}
                {users}
                readonly={!mayWrite}
                messages={saving.messages.filter((m) => m.field === field.key)}
                asked={asked === field.key}
                ask={() => (asked = asked === field.key ? undefined : field.key)}
              />
            {/each}
          {/each}
        </div>
      {/each}
    </div>

    {#if mayWrite}<SaveBar {form} {saving} {recordTypes} {titles} {release} />{/if}
  </section>
  <section class="flex flex-col overflow-y-auto border-l border-line" aria-label="History">
    <h2 class="border-b border-line px-5 pt-4 pb-2 font-[650]">History</h2>
    <History
      entries={history}
      {recordType}
      rules={() => form.rules.byKey()}
      names={ruleNames}
      traceOf={(write) => form.traceOf(write)}
      {entryNames}
      {titles}
      unsaved={form.dirty ? { form: layout.form.name, release, changes, trace: form.settlement.trace } : undefined}
    />
  </section>
</div>
