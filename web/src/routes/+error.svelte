<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import Logo from '$lib/ui/Logo.svelte';
  import RuledEdge from '$lib/ui/RuledEdge.svelte';
  const heads: Readonly<Record<number, string>> = {
    403: 'Not yours to do',
    404: 'Nothing is drawn here',
    401: 'Signed out',
  };
  const isAway = $derived(page.error?.away === true);
  const again = () => void goto(page.url, { invalidateAll: true, replaceState: true });
  /** Milliseconds between two looks whether the server can be reached. */
  const pause = 5000;
  $effect(() => {
    if (!isAway) return;
    const timer = setInterval(again, pause);
    return () => clearInterval(timer);
  });
</script>

<svelte:window ononline={() => isAway && again()} />
<svelte:head><title>{isAway ? 'The network is away' : page.status} · Rigid Rule</title></svelte:head>
<header>
  <div class="flex h-[42px] items-center gap-[9px] px-4 text-[15px] font-bold">
    <a href="/" class="flex items-center gap-[9px]"><Logo />Rigid Rule</a>
  </div>
  <RuledEdge />
</header>
<main class="mx-auto mt-[14vh] max-w-[520px] px-6">
  {#if isAway}
    <h1 class="mb-2">The network is away</h1>
    <p class="mb-6 text-soft">{page.error?.message} It is shown once the network is back.</p>
    <button type="button" class="editable cursor-pointer" onclick={again}>Try again now</button>
  {:else}
    <p class="font-mono text-small text-faint">{page.status}</p>
    <h1 class="mb-2">{heads[page.status] ?? 'This went wrong'}</h1>
    <p class="mb-6 text-soft">{page.error?.message}</p>
    <a class="editable" href="/">Go to where your work begins</a>
  {/if}
</main>
