<script lang="ts">
  /** A live record on its form: the released rules act while it is filled in, and again on the server when it is saved. */
  import { counted } from '$lib/counted.ts';
  import { newRecordAddress, recordAddress, recordsOf } from '$lib/addresses.ts';
  import { goto, invalidateAll } from '$app/navigation';
  import { onDestroy, tick } from 'svelte';
  import type { RecordType } from '@rigid-rule/core/document';
  import { recordTitle, sameStored } from '@rigid-rule/core/language';
  import type { Message } from '@rigid-rule/core/settle';
  import { shownValue, type Titles } from '$lib/features/fields';
  import { isUnreached } from '$lib/network.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { carry, takeCarried } from './carried.ts';
  import { RecordForm, type Confirmed } from './form.svelte.ts';
  import type { FormIdentity, FormStart } from './form-state.ts';
  import type { FieldAuthor, SaveAnswer, Stores } from './record-server.ts';
  import Elsewhere from './Elsewhere.svelte';
  import FormRow from './FormRow.svelte';
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
  const shownForm = recordType.forms.find((f) => f.key === formName)!;
  const fields = recordType.fields.filter((f) => !shownForm.fields || shownForm.fields.includes(f.key));
  const groups = [...new Set(fields.map((f) => f.group ?? ''))].map((name) => ({
    name,
    fields: fields.filter((f) => (f.group ?? '') === name),
  }));
  /** Groups in two columns of about the same length. */
  const columns = (() => {
    const half = fields.length / 2;
    let count = 0;
    const left = groups.filter((g) => {
      const here = count < half - 1;
      count += g.fields.length;
      return here;
    });
    return [left, groups.filter((g) => !left.includes(g))];
  })();

  let asked = $state<string>();
  let tried = $state(false);
  let busy = $state(false);
  let answer = $state.raw<SaveAnswer>();
  let problem = $state<string>();

  const title = $derived(recordTitle(recordType, form.settlement.data) || `New ${recordType.name.toLowerCase()}`);
  const changes = $derived(form.settlement.changes);
  const byRules = $derived(changes.filter((c) => c.author.by === 'rule').length);
  /** While typing only what is wrong with a value; what is missing is said once saving was tried. */
  const messages = $derived.by((): readonly Message[] => {
    const now = tried ? form.saving.messages : form.settlement.messages;
    const said = answer?.outcome === 'stopped' ? answer.settlement.messages : [];
    return [...now, ...said.filter((m) => !now.some((n) => n.field === m.field && n.text === m.text))];
  });
  const stops = $derived(messages.filter((m) => m.severity === 'stop'));
  /** Messages that no line of this form shows: about the record, or about a field that is not on it. */
  const loose = $derived.by((): readonly Message[] => {
    const said = answer?.outcome === 'saved' && !form.dirty ? answer.settlement.messages : messages;
    const hidden = (key: string | undefined) =>
      key === undefined || !fields.some((f) => f.key === key) || form.settlement.states[key]?.hidden !== undefined;
    return said.filter((m) => hidden(m.field));
  });
  const fieldNamed = (key: string) => recordType.fields.find((f) => f.key === key);

  const named = (key: string) => fieldNamed(key)?.label ?? fieldNamed(key)?.name ?? key;
  /** Fields that stop the save, by name, in the order of the record type. */
  const inTrouble = $derived(
    recordType.fields.filter((f) => stops.some((m) => m.field === f.key)).map((f) => named(f.key)),
  );

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
    void save();
  }

  /** Why nothing can be saved here, whatever is typed. */
  const cannot: Partial<Record<SaveAnswer['outcome'], string>> = {
    'no record': 'This record is there no more. Nothing was saved.',
    'no type': 'The live rules have this record type no more. Nothing was saved.',
    'no entry point': 'The live rules have this form no more. Nothing was saved.',
    'key used': 'The server took this for another save. Nothing was saved; save it again.',
  };

  async function save(confirmed?: Confirmed) {
    if (busy || !mayWrite || !form.dirty) return;
    tried = true;
    busy = true;
    problem = undefined;
    try {
      await form.answerAsks();
      if (!['saved', 'waiting'].includes(form.saving.verdict) && !confirmed) return void goToTrouble();
      answer = await form.save(confirmed);
      problem = cannot[answer.outcome];
      if (answer.outcome === 'stopped') void goToTrouble();
      if (answer.outcome === 'saved') {
        tried = false;
        if (record === null) {
          const address = recordAddress(typeKey, answer.id);
          carry(address, form.typed);
          await goto(address, { invalidateAll: true });
        } else await invalidateAll();
      }
    } catch (e) {
      problem =
        e instanceof Error && !isUnreached(e) ? e.message : 'The network is away. What you typed is still here.';
    } finally {
      busy = false;
    }
  }

  $effect(() => {
    form.followAsks((reached) => {
      problem = reached ? undefined : 'The network is away: rules that read other records wait.';
    });
  });
  $effect(() => (mayWrite ? form.followElsewhere() : undefined));
  async function tryAgain(job: number) {
    problem = undefined;
    const answer = await fetch(`/api/follow-ups/${job}`, { method: 'POST' }).catch(() => undefined);
    if (!answer?.ok) problem = 'It could not be tried again now.';
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
      if (!form.touched || busy || isOtherForm(way.to?.url)) return true;
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
      {:else}<span class="first-letter:uppercase inline-block">{shownForm.name}.</span>{/if}
      <span class="written font-normal">Underlined values</span> were set by a rule;
      <span class="border-b border-brass">these</span> can be edited.
    </p>

    {#if followUps.waiting}<p class="mb-2 text-small text-brass-ink" role="status">
        Waiting: a change on another record has yet to be carried through here.
      </p>{/if}
    {#each followUps.failed as f (f.job)}<p class="mb-2 text-small text-stop">
        A change on another record could not be carried through here: {f.text}
        {#if mayWrite}<button type="button" class="word" onclick={() => tryAgain(f.job)}>try again</button>{/if}
      </p>{/each}

    <div class="mb-5 grid grid-cols-2 gap-x-11 max-md:grid-cols-1">
      {#each columns as column, i (i)}
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
                messages={messages.filter((m) => m.field === field.key)}
                asked={asked === field.key}
                ask={() => (asked = asked === field.key ? undefined : field.key)}
              />
            {/each}
          {/each}
        </div>
      {/each}
    </div>

    {#if mayWrite}
      <!-- At the bottom whatever stands above, so that Save stays where it is while rules answer. -->
      <div class="mt-auto sticky bottom-0 border-t border-ink bg-sheet pt-2.5 pb-3">
        {#if answer?.outcome === 'changed meanwhile'}
          {@const theirs = answer.record}
          <div class="mb-2 border-l-[3px] border-stop bg-stop-wash px-3 py-2" role="alert">
            <p>Someone saved this record meanwhile. What you typed is still here.</p>
            <ul>
              {#each recordType.fields.filter((f) => !sameStored(theirs.data[f.key], form.before(f.key))) as f (f.key)}
                <li>
                  {f.name} <span class="was">{shownValue(f, form.before(f.key), titles) || 'blank'}</span>
                  {shownValue(f, theirs.data[f.key], titles) || 'blank'}
                </li>
              {/each}
            </ul>
            <button
              type="button"
              class="editable cursor-pointer"
              onclick={() => {
                form.goOnFrom(theirs);
                answer = undefined;
              }}>Continue with their version</button
            >
          </div>
        {:else if answer?.outcome === 'differs'}
          <div class="mb-2 border-l-[3px] border-brass bg-brass-wash px-3 py-2" role="alert">
            {#if answer.release !== release}<p>
                {answer.release === null ? 'No release is live any more' : `Release ${answer.release} went live`} since you
                opened this form.
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
                  {:else}<span class="text-stop">{d.to === 'saved' ? 'It can be saved.' : 'It cannot be saved.'}</span
                    >{/if}
                </li>
              {/each}
            </ul>
            {#if answer.settlement.verdict === 'saved'}
              {@const confirmed = answer}
              <button type="button" class="editable cursor-pointer" onclick={() => save(confirmed)}>Save it so</button>
            {/if}
          </div>
        {/if}
        {#if form.elsewhere && (form.elsewhere.effects.length > 0 || form.elsewhere.dependants.length > 0)}
          <div class="mb-2">
            <p class="text-small text-soft">Saving also changes</p>
            <Elsewhere {recordTypes} effects={form.elsewhere.effects} dependants={form.elsewhere.dependants} {titles} />
          </div>
        {/if}
        {#if loose.length > 0}
          <ul class="mb-2" aria-label="About the record">
            {#each loose as m, i (i)}<li class={m.severity === 'stop' ? 'text-stop' : 'text-brass-ink'}>
                {m.field ? `${fieldNamed(m.field)?.name ?? m.field}: ` : ''}{m.text}
              </li>{/each}
          </ul>
        {/if}
        <div class="flex items-end gap-3">
          <p class="flex-1 pb-1" role="status">
            {#if problem}<span class="text-stop">{problem}</span>
            {:else if form.dirty}
              <b class="font-[650]">Not saved yet:</b>
              {counted(form.typed.length, 'value')} typed, {byRules} written by rules.
              {#if stops.length > 0}<span class="text-stop"
                  >{stops.length === 1
                    ? stops[0]!.text
                    : `${stops.length} problems stop the save${inTrouble.length > 0 ? `: ${inTrouble.join(', ')}` : ''}.`}</span
                >{/if}
            {:else if answer?.outcome === 'saved'}<span class="text-ok">Saved.</span>
            {:else}<span class="quiet">Nothing changed.</span>{/if}
          </p>
          <button
            type="button"
            class="button plain"
            disabled={!form.dirty || busy}
            onclick={() => {
              form.putBack();
              tried = false;
              answer = undefined;
            }}>Discard changes</button
          >
          <button type="button" class="button" disabled={busy} onclick={() => save()}
            >{busy ? 'Saving …' : 'Save'} <span class="opacity-70">Ctrl S</span></button
          >
        </div>
      </div>
    {/if}
  </section>
  <section class="overflow-y-auto border-l border-line" aria-label="History">
    <h2 class="border-b border-line px-5 pt-4 pb-2 font-[650]">History</h2>
    <History
      entries={history}
      {recordType}
      rules={() => form.rules.byKey()}
      names={ruleNames}
      traceOf={(write) => form.traceOf(write)}
      {entryNames}
      {titles}
      unsaved={form.dirty ? { form: shownForm.name, release, changes, trace: form.settlement.trace } : undefined}
    />
  </section>
</div>
