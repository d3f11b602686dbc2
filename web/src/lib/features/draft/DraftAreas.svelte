<script lang="ts">
  /** What all areas of the draft share: the draft itself, undo, saving, the edits of others, the analysis. */
  import { ruleAddress } from '$lib/addresses.ts';
  import { browser } from '$app/environment';
  import { invalidate } from '$app/navigation';
  import { navigating, page } from '$app/state';
  import type { VersionedPart } from '$lib/draft-protocol.ts';
  import { provideDraft, type DraftUser } from './context.ts';
  import { openDraft, type DraftRights } from './draft.svelte.ts';
  import { followDraft } from './follow.ts';
  import { draftEntries } from './entries.ts';
  import { draftStatus } from './status.ts';
  import { provideSamples, SampleSet } from '$lib/features/samples/samples.svelte.ts';
  import { isLocale, usualTag } from '$lib/locale.ts';
  import { useOffers } from '$lib/features/shell/acts.svelte.ts';
  import { absentFrom, isWhole, type Absent } from './absent.ts';
  import { useProof } from '$lib/features/proof/proof.svelte.ts';
  import { onMount, untrack, type Snippet } from 'svelte';
  import { whenIdle } from '$lib/ui/when-idle.ts';

  interface Props {
    parts: readonly VersionedPart[];
    /** Names the state of the draft that the parts are of. */
    stamp: string;
    /** The one on show. */
    area: { readonly name: string; readonly href: string };
    users: readonly DraftUser[];
    rights: DraftRights;
    children: Snippet;
  }
  const { parts, stamp, area, users, rights, children }: Props = $props();
  // Kept for as long as these areas are on show; what comes later is taken in by `refresh`.
  // svelte-ignore state_referenced_locally
  const draft = openDraft(parts, rights, browser);
  // svelte-ignore state_referenced_locally
  provideDraft({ draft, users });
  provideSamples(new SampleSet());
  const offers = useOffers();
  const proof = useProof();
  const clashes = $derived([...draft.saver.clashes]);
  const absent = $derived(absentFrom(draft.rulebook, page));

  $effect(() =>
    offers.offer(
      [
        { keys: 'Ctrl Z', does: 'undo the last change to the draft', leavesTyping: true, run: () => draft.undo() },
        { keys: 'Ctrl Y', does: 'do it again', leavesTyping: true, run: () => draft.redo() },
        { keys: 'Ctrl Shift Z', does: 'do it again', leavesTyping: true, run: () => draft.redo() },
      ],
      [
        ...(draft.undoLabel
          ? [{ group: 'Acts', name: `Undo: ${draft.undoLabel}`, hint: 'Ctrl Z', run: () => draft.undo() }]
          : []),
        ...(draft.redoLabel
          ? [{ group: 'Acts', name: `Do again: ${draft.redoLabel}`, hint: 'Ctrl Y', run: () => draft.redo() }]
          : []),
      ],
    ),
  );

  onMount(() => offers.offerList(() => draftEntries(draft.rulebook, draft.editable)));

  /** Milliseconds of quiet before the rules are looked through as a whole, so that typing never waits for it. */
  const quiet = 250;
  $effect(() => {
    void draft.program;
    // What is to be told of a large rulebook takes a while: never while somebody waits for a page.
    let callOff: (() => void) | undefined;
    const timer = setTimeout(() => (callOff = whenIdle(() => draft.analyse())), quiet);
    return () => {
      clearTimeout(timer);
      callOff?.();
    };
  });

  /** Milliseconds of quiet before the tests are weighed anew, once somebody has asked for that. */
  const settledFor = 900;
  $effect(() => {
    const { rulebook } = draft;
    if (!proof.follows || untrack(() => proof.isOf(rulebook))) return;
    const timer = setTimeout(() => void proof.sweep(rulebook), settledFor);
    return () => clearTimeout(timer);
  });

  $effect(() => {
    offers.status = draftStatus(draft, proof.whole);
    return () => (offers.status = '');
  });

  // The bar, the palette and the organisation's way of writing follow the draft, not the page's last load.
  $effect(() => {
    const { recordTypes, zone, currency, locale = '' } = draft.rulebook;
    const { changes } = draft.saver;
    offers.draft = {
      types: recordTypes,
      organisation: { zone, currency, locale: isLocale(locale) ? locale : usualTag },
      ...(changes === undefined ? {} : { changes }),
    };
    return () => (offers.draft = undefined);
  });
  // What somebody else changed is counted by the server. Never while someone is on the way to another page: that way
  // would be given up for it.
  $effect(() => {
    if (!draft.lastRemoteEdit || navigating.to) return;
    const timer = setTimeout(() => {
      draft.saver.changes = undefined;
      void invalidate('app:state');
    }, quiet);
    return () => clearTimeout(timer);
  });

  onMount(() => {
    void draft.takeUpKept();
    const unfollow = followDraft(draft, stamp);
    // A key press that the browser would lose on closing the tab is sent at once.
    const leave = () => {
      draft.keepStepsNow();
      draft.saver.keep();
      void draft.saver.save();
    };
    addEventListener('pagehide', leave);
    return () => {
      removeEventListener('pagehide', leave);
      unfollow();
      draft.close();
    };
  });
</script>

{#snippet notThere(absent: Absent)}
  {#await import('./NotInDraft.svelte') then { default: NotInDraft }}
    <NotInDraft {absent} {area} canUndo={draft.canUndo} />
  {/await}
{/snippet}

<div class="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)]">
  <div>
    {#if draft.saver.state === 'refused'}<p class="bg-stop-wash px-4 py-1" role="alert">
        {draft.saver.problem}
        <button type="button" class="word ml-2" onclick={() => void draft.saver.tryAgain()}>try again</button>
        {#if draft.editable}
          <button type="button" class="word ml-2" disabled={!draft.canUndo} onclick={() => draft.undo()}>undo it</button
          >
        {:else}
          <button type="button" class="word ml-2" onclick={() => draft.leaveRefused()}>leave it as it was</button>
        {/if}
      </p>{/if}
    {#each clashes as [id, { ref }] (id)}
      {#if ref.kind === 'rule'}
        {@const rule = draft.rulebook.rules.find((r) => r.key === ref.key)}
        {#if rule && !page.url.pathname.endsWith(`/${rule.key}`)}<p class="bg-stop-wash px-4 py-1">
            Two versions of <a class="editable" href={ruleAddress(rule.recordType, rule.key)}>{rule.name}</a>: choose
            one.
          </p>{/if}
      {:else}{#await import('./Clash.svelte') then { default: Clash }}<div class="px-4 pt-3">
            <Clash {draft} {id} />
          </div>{/await}{/if}
    {/each}
    {#if absent && !isWhole(absent)}{@render notThere(absent)}{/if}
  </div>
  <div class="min-h-0">
    {#if absent && isWhole(absent)}{@render notThere(absent)}{:else}{@render children()}{/if}
  </div>
</div>
