<script lang="ts">
  import { browser } from '$app/environment';
  import { counted } from '$lib/counted.ts';
  import { recordsPath, releaseAddress, releasePath } from '$lib/addresses.ts';
  import { afterNavigate, invalidateAll } from '$app/navigation';
  import { page, updated } from '$app/state';
  import { provideOffers } from '$lib/features/shell/acts.svelte.ts';
  import { areaAt, areaEntries } from '$lib/features/shell/areas.ts';
  import { provideKeptRun } from '$lib/features/proof/kept-run.ts';
  import { Proof, provideProof } from '$lib/features/proof/proof.svelte.ts';
  import { hearSigned, lookForSigned, SignedIn, tellSigned } from '$lib/features/shell/presence.svelte.ts';
  import { stayWhileAway } from '$lib/features/shell/stay.ts';
  import TopBar from '$lib/features/shell/TopBar.svelte';
  import { nothingTyped, typeAhead, type TypedAhead } from '$lib/features/shell/typed-ahead.ts';
  import { askAs } from '$lib/network.ts';
  import { organisation } from '$lib/organisation.svelte.ts';
  import { handleKey, leaveWritten, noteTyping, type KeyAct } from '$lib/ui/keys.ts';
  import { enterPane, goToNextPane } from '$lib/ui/panes.ts';
  import { onMount, type Component } from 'svelte';

  const { data, children } = $props();
  // svelte-ignore state_referenced_locally
  Object.assign(organisation, data.organisation);
  // svelte-ignore state_referenced_locally
  const owner = data.user;
  if (browser) askAs(owner.id);
  let signedIn = $state.raw<SignedIn>();
  onMount(() => {
    const own = (signedIn = new SignedIn(owner.id, { tell: tellSigned, look: lookForSigned }));
    return hearSigned((signed) => own.hear(signed));
  });
  const presence = $derived(signedIn?.presence ?? 'here');
  // Somebody else signed in here: what is at hand is not theirs.
  $effect(() => {
    if (data.user.id !== owner.id) location.reload();
  });
  const offers = provideOffers();
  const proof = provideProof(new Proof());
  const dryRun = provideKeptRun();
  onMount(() => () => {
    proof.close();
    dryRun.run?.close();
  });
  $effect.pre(() => void Object.assign(organisation, offers.draft?.organisation ?? data.organisation));
  /** Until the page is alive nobody can type into it: what is typed before would be lost. */
  let alive = $state(false);
  onMount(() => (alive = true));
  /** A page that was not gone to since the network is away, or a part of this one that could not be loaded. */
  let missed = $state<'page' | 'part'>();
  stayWhileAway(offers, () => (missed = 'page'));
  afterNavigate(() => (missed = undefined));
  onMount(() => {
    // The server of a newer version has no parts of a former one.
    const missPart = () => {
      missed ??= 'part';
      void updated.check();
    };
    addEventListener('vite:preloadError', missPart);
    return () => removeEventListener('vite:preloadError', missPart);
  });
  let paletteOpen = $state(false);
  let keysOpen = $state(false);
  // Both dialogs are loaded when they are first opened.
  let Palette =
    $state<
      Component<
        { open: boolean; entries: typeof offers.entries; types: typeof data.liveTypes; takeAhead: () => TypedAhead },
        object,
        'open'
      >
    >();
  let KeyList = $state<Component<{ open: boolean; keys: readonly KeyAct[] }, object, 'open'>>();

  /** Keys typed after Ctrl K and before the palette has the focus are its own. */
  let ahead = $state.raw<TypedAhead>();
  async function openPalette() {
    ahead ??= nothingTyped;
    try {
      Palette ??= (await import('$lib/features/shell/Palette.svelte')).default;
      paletteOpen = true;
    } catch (e) {
      // Keys go where they went before.
      ahead = undefined;
      throw e;
    }
  }
  /** The palette has the focus: what was typed ahead of it. */
  function takeAhead(): TypedAhead {
    const typed = ahead ?? nothingTyped;
    ahead = undefined;
    return typed;
  }
  function pressAhead(typed: TypedAhead, e: KeyboardEvent) {
    ahead = typeAhead(typed, e);
    if (ahead === typed && !typed.entered) return;
    e.preventDefault();
    e.stopPropagation();
  }
  async function openKeys() {
    KeyList ??= (await import('$lib/features/shell/KeyList.svelte')).default;
    keysOpen = true;
  }

  const keys = $derived<readonly KeyAct[]>([
    { keys: 'Ctrl K', does: 'find any field, rule, area or act', run: openPalette },
    { keys: '?', does: 'list the keys of this screen', run: openKeys },
    { keys: 'F6', does: 'go to the next pane', run: () => goToNextPane(1) },
    { keys: 'Shift F6', does: 'go to the pane before', run: () => goToNextPane(-1) },
    ...offers.keys,
  ]);
  const entries = $derived([
    ...offers.entries,
    ...areaEntries({
      types: offers.draft?.types ?? data.types,
      liveTypes: data.liveTypes,
      mayWriteRecords: data.permissions.includes('records.write'),
    }),
    { group: 'Acts', name: 'List the keys', hint: '?', run: openKeys },
  ]);
  const note = $derived.by(() => {
    const release = data.release === null ? 'nothing released yet' : `release ${data.release}`;
    if (areaAt(page.url.pathname)?.href === recordsPath)
      return data.release === null
        ? { text: 'No release is live', href: releasePath }
        : { text: `Live, ${release}`, href: releaseAddress(data.release) };
    const changes = offers.draft?.changes ?? data.draftChanges;
    const text = changes === 0 ? `Draft, same as ${release}` : `Draft, ${counted(changes, 'change')} since ${release}`;
    return { text, href: releasePath };
  });
</script>

<!-- A page that comes back as it was left, as browsers keep some to go back to, asks whether it still may. -->
<svelte:window
  onpageshow={(e) => e.persisted && void invalidateAll()}
  ononline={() => (missed = undefined)}
  oninputcapture={noteTyping}
  onbeforeinputcapture={leaveWritten}
  onkeydowncapture={(e) => ahead && pressAhead(ahead, e)}
  onkeydown={(e) => presence === 'here' && ahead === undefined && handleKey(e, keys)}
/>
<svelte:document
  onvisibilitychange={() => void signedIn?.seen(document.visibilityState === 'visible', performance.now())}
/>

{#if offers.skips.length > 0}
  <nav aria-label="Skip" class="fixed top-1 left-1 z-50">
    {#each offers.skips as skip (skip.pane)}<button
        type="button"
        class="button sr-only focus:not-sr-only"
        onclick={() => enterPane(document.querySelector<HTMLElement>(`[data-keypane=${skip.pane}]`)!)}
        >To {skip.name}</button
      >{/each}
  </nav>
{/if}
<!-- What is for readers only stands inside, so that it never makes the page larger than the screen. -->
<div
  inert={presence !== 'here'}
  class="relative grid h-dvh inert:invisible grid-cols-[minmax(0,1fr)] grid-rows-[52px_minmax(0,1fr)_28px] overflow-clip print:block print:h-auto print:overflow-visible"
>
  <TopBar user={data.user} theme={data.theme} {note} {openPalette} />
  <main class="relative min-h-0 overflow-clip print:overflow-visible" inert={!alive}>{@render children()}</main>
  <footer class="flex print:hidden items-center gap-[22px] border-t border-line px-4 text-small text-soft">
    <span role="status" aria-live="polite" class="truncate"
      >{#if updated.current}This page is of an earlier version of Rigid Rule.
        <button type="button" class="editable cursor-pointer" onclick={() => location.reload()}>Load it again</button>
      {:else if missed === 'page'}The network is away: that page cannot be shown now, and this one stays.
      {:else if missed}The network is away: that cannot be shown now.
      {:else}{offers.status}{/if}</span
    >
    <button type="button" class="ml-auto shrink-0 cursor-pointer whitespace-nowrap" onclick={openKeys}
      >Keys <span class="key">?</span></button
    >
  </footer>
</div>

{#if presence !== 'here'}
  <!-- Until its words are there, and where they cannot be had, nothing is seen either. -->
  {#await import('$lib/features/shell/Away.svelte') then { default: Away }}<Away {presence} name={owner.name} />
  {:catch}
    <p class="fixed inset-0 p-6">You are signed out. Load this page again.</p>
  {/await}
{/if}
{#if Palette}<Palette bind:open={paletteOpen} {entries} types={data.liveTypes} {takeAhead} />{/if}
{#if KeyList}<KeyList bind:open={keysOpen} {keys} />{/if}
