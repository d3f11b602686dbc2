<script lang="ts">
  import { page } from '$app/state';
  import Logo from '$lib/ui/Logo.svelte';
  import RuledEdge from '$lib/ui/RuledEdge.svelte';
  const heads: Readonly<Record<number, string>> = {
    403: 'Not yours to do',
    404: 'Nothing is drawn here',
    401: 'Signed out',
  };
</script>

<svelte:head><title>{page.status} · Rigid Rule</title></svelte:head>
<header>
  <div class="flex h-[42px] items-center gap-[9px] px-4 text-[15px] font-bold">
    <a href="/" class="flex items-center gap-[9px]"><Logo />Rigid Rule</a>
  </div>
  <RuledEdge />
</header>
<main class="mx-auto mt-[14vh] max-w-[520px] px-6">
  <p class="font-mono text-small text-faint">{page.status}</p>
  <h1 class="mb-2">{heads[page.status] ?? 'This went wrong'}</h1>
  <p class="mb-6 text-soft">{page.error?.message}</p>
  <a class="editable" href="/">Go to where your work begins</a>
</main>
