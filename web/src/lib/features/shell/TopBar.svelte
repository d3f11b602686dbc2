<script lang="ts">
  import { ask } from '$lib/network.ts';
  import { forgetAnalyses } from '$lib/workers/analysis-memory.ts';
  import { page } from '$app/state';
  import Logo from '$lib/ui/Logo.svelte';
  import RuledEdge from '$lib/ui/RuledEdge.svelte';
  import Icon from '$lib/ui/Icon.svelte';
  import ChevronDown from 'lucide/dist/esm/icons/chevron-down.mjs';
  import { areaAt, areas } from './areas.ts';

  interface Props {
    user: { name: string; role: string };
    /** What the bar says at the right: the draft's or the live state. */
    /** What is worked on, and where it is told. */
    note: { readonly text: string; readonly href: string };
    openPalette: () => void;
    theme: 'light' | 'dark' | undefined;
  }
  const { user, note, openPalette, theme }: Props = $props();

  async function setTheme(chosen: string) {
    if (chosen === 'system') delete document.documentElement.dataset['theme'];
    else document.documentElement.dataset['theme'] = chosen;
    await ask('/api/theme', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ theme: chosen }),
    });
  }

  let menu: HTMLDetailsElement | undefined = $state();
  let areaMenu: HTMLDetailsElement | undefined = $state();
  function close() {
    for (const open of [menu, areaMenu]) if (open) open.open = false;
  }
  const isInside = (target: EventTarget | null) => [menu, areaMenu].some((m) => m?.open && m.contains(target as Node));
</script>

<svelte:window
  onclick={(e) => !isInside(e.target) && close()}
  onkeydown={(e) => {
    if (e.key === 'Escape') close();
  }}
/>

<header class="print:hidden bg-paper">
  <!-- One line at any width: first the name of the product goes, then the areas into a menu; the note takes what is left. -->
  <div class="flex h-[42px] items-center gap-[18px] px-4 whitespace-nowrap max-md:gap-2">
    <a href="/" class="flex shrink-0 items-center gap-[9px] text-[15px] font-bold tracking-[.01em]"
      ><Logo /><span class="max-xl:sr-only">Rigid Rule</span></a
    >
    <details class="relative min-[920px]:hidden" bind:this={areaMenu}>
      <summary class="cursor-pointer list-none rounded-[3px] px-1 font-[650]">
        {areaAt(page.url.pathname)?.name ?? 'Areas'}
        <Icon of={ChevronDown} size={13} class="inline" />
      </summary>
      <nav aria-label="Areas" class="absolute left-0 z-30 mt-1.5 grid w-44 border border-edge bg-sheet py-1.5">
        {#each areas as area (area.href)}
          {@const on = areaAt(page.url.pathname) === area}
          <a
            href={area.href}
            aria-current={on ? 'page' : undefined}
            onclick={close}
            class={['px-3 py-1.5', on ? 'font-[650]' : 'text-soft']}>{area.name}</a
          >
        {/each}
      </nav>
    </details>
    <nav aria-label="Areas" class="ml-1.5 flex shrink-0 items-center gap-0.5 max-[920px]:hidden">
      {#each areas as area, i (area.href)}
        {@const on = areaAt(page.url.pathname) === area}
        {#if area.live && !areas[i - 1]?.live}<i class="mx-2 h-[18px] w-px bg-line"></i>{/if}
        <a
          href={area.href}
          aria-current={on ? 'page' : undefined}
          class={[
            'rounded-[3px] px-[9px] py-1',
            on ? 'font-[650] shadow-[inset_0_-2px_var(--brass)]' : 'text-soft hover:text-ink',
          ]}
        >
          {area.name}
        </a>
      {/each}
    </nav>
    <div class="ml-auto flex min-w-0 items-center gap-3.5 text-soft">
      <a class="min-w-0 truncate hover:text-ink max-sm:hidden" href={note.href} title={note.text}>{note.text}</a>
      <button type="button" class="key shrink-0 cursor-pointer" onclick={openPalette} aria-label="Find anything, Ctrl K"
        >Ctrl K</button
      >
      <details class="relative shrink-0" bind:this={menu}>
        <summary
          class="max-w-[min(42vw,160px)] cursor-pointer truncate list-none rounded-[3px] px-1 hover:text-ink"
          aria-label="You: {user.name}, {user.role}"
        >
          {user.name}
        </summary>
        <div class="absolute right-0 z-30 mt-1.5 w-52 border border-edge bg-sheet p-3 whitespace-normal text-ink">
          <p class="font-[650] wrap-break-word">{user.name}</p>
          <p class="label mb-2">{user.role}</p>
          <fieldset class="mb-3 border-t border-line pt-2">
            <legend class="sr-only">Theme</legend>
            {#each ['system', 'light', 'dark'] as choice (choice)}
              <label class="flex items-center gap-2 py-0.5">
                <input
                  type="radio"
                  name="theme"
                  value={choice}
                  checked={(theme ?? 'system') === choice}
                  onchange={() => setTheme(choice)}
                  class="accent-(--brass)"
                />
                {choice === 'system' ? 'as the system' : choice}
              </label>
            {/each}
          </fieldset>
          <form method="post" action="/sign-out" onsubmit={() => void forgetAnalyses()}>
            <button class="button plain w-full">Sign out</button>
          </form>
        </div>
      </details>
    </div>
  </div>
  <RuledEdge />
</header>
