<script lang="ts">
  /** What a release changes, part by part, each whole, with a picture where one says more than words. */
  import type { RecordType, Rule } from '@rigid-rule/core/document';
  import { counted } from '$lib/counted.ts';
  import { kindFace, KindMark } from '$lib/features/rule-kinds';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import {
    askChanges,
    askPhrases,
    changesInStep,
    pageOf,
    phrasesInStep,
    type Change,
    type ChangesOf,
    type ChangesPart,
  } from './changes.ts';

  interface Props {
    beginning: ChangesPart;
    /** How many there are in all. */
    count: number;
    of: ChangesOf;
    /** What pictures call the state before and the one after. */
    names: readonly [string, string];
    /** Whether parts are shown where they are in the draft. */
    linked?: boolean;
  }
  const { beginning, count, of, names, linked = false }: Props = $props();
  let more = $state.raw<readonly ChangesPart[]>([]);
  /** Further phrases, by the number of their change. */
  let told = $state.raw<ReadonlyMap<number, readonly string[]>>(new Map());
  let asking = $state(false);
  let problem = $state('');
  const changes = $derived([beginning, ...more].flatMap((part) => part.changes));
  const types = $derived(new Map([beginning, ...more].flatMap((part) => part.recordTypes.map((t) => [t.key, t]))));
  const left = $derived(count - changes.length);
  const step = $derived(Math.min(left, changesInStep));

  async function askMore(take: () => Promise<void>): Promise<void> {
    asking = true;
    problem = '';
    await take().catch((e: unknown) => (problem = e instanceof Error ? e.message : String(e)));
    asking = false;
  }
  const goOn = () => askMore(async () => void (more = [...more, await askChanges(of, changes.length)]));
  const tellMore = (c: Change, i: number) =>
    askMore(async () => {
      const known = told.get(i) ?? [];
      const next = await askPhrases(of, i, c.phrases.length + known.length);
      told = new Map(told).set(i, [...known, ...next]);
    });

  function pictureOf(c: Change): { load: PictureLoad; before: Rule; after: Rule; type: RecordType } | undefined {
    const picture = kindFace(c.ruleKind ?? '')?.picture;
    const type = types.get(c.after?.recordType ?? '');
    if (!picture || !c.before || !c.after || !type) return undefined;
    const { before, after } = c;
    return picture.shows(before, after) ? { load: picture.load, before, after, type } : undefined;
  }
  type PictureLoad = NonNullable<NonNullable<ReturnType<typeof kindFace>>['picture']>['load'];
  /** As wide as the last number, with what parts its thousands. */
  const numbers = $derived(`max(14px, ${String(count).length * 1.25}ch)`);
  const verb = { added: 'New.', removed: 'Removed.', changed: '' } as const;
</script>

<ol>
  {#each changes as c, i (c.part.kind + c.part.key)}
    {@const picture = pictureOf(c)}
    {@const address = linked ? pageOf(c) : undefined}
    {@const phrases = [...c.phrases, ...(told.get(i) ?? [])]}
    <li
      class="grid border-b border-line py-2.5 last:border-0"
      style:grid-template-columns="{numbers} 28px minmax(0,1fr)"
    >
      <span class="quiet text-right">{ownWriting(i + 1)}</span>
      <span class="pl-2 text-held"
        >{#if c.ruleKind}<KindMark kind={c.ruleKind} label={c.ruleKind} />{/if}</span
      >
      <div class="min-w-0">
        {#if c.by !== undefined}<p class="float-right ml-3 text-small text-soft">
            <span class="sr-only">Changed last by</span>
            {c.by}
          </p>{/if}
        <p>
          {#if address !== undefined}<a class="font-[650] hover:text-brass" href={address}>{c.name}.</a>{:else}<b
              class="font-[650]">{c.name}.</b
            >{/if}
          {verb[c.what]}
          {#each phrases as phrase, j (j)}<span class="block whitespace-pre-line first-letter:uppercase"
              >{phrase}{phrase.endsWith('.') ? '' : '.'}</span
            >{/each}
        </p>
        {#if phrases.length < c.phraseCount}<button
            type="button"
            class="word"
            disabled={asking}
            aria-label="{counted(c.phraseCount - phrases.length, 'more line', 'more lines')} of {c.name}"
            onclick={() => void tellMore(c, i)}
            >{c.phraseCount - phrases.length > phrasesInStep
              ? `${ownWriting(phrasesInStep)} more of ${ownWriting(c.phraseCount - phrases.length)}`
              : `${ownWriting(c.phraseCount - phrases.length)} more`}</button
          >{/if}
        {#if picture}
          {@const { before, after, type } = picture}
          {#await picture.load() then { default: Picture }}
            <Picture {before} {after} recordType={type} {names} />
          {/await}
        {/if}
      </div>
    </li>
  {/each}
</ol>
{#if problem}<p class="mt-3 text-stop" role="alert">{problem}</p>{/if}
{#if left > 0}<button type="button" class="word my-3" disabled={asking} onclick={() => void goOn()}
    >{step === left
      ? `show the other ${left === 1 ? 'change' : counted(left, 'change')}`
      : `show ${ownWriting(step)} more of the other ${ownWriting(left)} changes`}</button
  >{/if}
