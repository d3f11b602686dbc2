<script lang="ts">
  import { tellSigned } from '$lib/features/shell/presence.svelte.ts';
  import { onMount, untrack } from 'svelte';
  import Logo from '$lib/ui/Logo.svelte';
  import RuledEdge from '$lib/ui/RuledEdge.svelte';
  import SentForm from '$lib/ui/SentForm.svelte';

  const { data, form } = $props();
  // Who is signed in is not shown this page.
  onMount(() => tellSigned(null));
  // After a refusal without script the page comes anew: what was typed stands again.
  let email = $state(untrack(() => form?.email ?? ''));
  let password = $state('');
</script>

<svelte:head><title>Sign in · Rigid Rule</title></svelte:head>

<header>
  <div class="flex h-[42px] items-center gap-[9px] px-4 text-[15px] font-bold"><Logo />Rigid Rule</div>
  <RuledEdge />
</header>
<main class="mx-auto mt-[9vh] grid max-w-[860px] gap-x-16 gap-y-10 px-6 md:grid-cols-[1fr_1fr]">
  <section>
    <h1 class="mb-1">Sign in</h1>
    {#if !data.begun}
      <p class="mb-4">
        Nobody can sign in yet. The address where the first person begins was told where the application was started.
      </p>
    {/if}
    <p class="mb-6 text-soft">Where an organisation’s field rules are written, tried, released and watched.</p>
    <SentForm class="grid gap-4">
      <label class="grid gap-1">
        <span class="label">Email</span>
        <input name="email" type="email" autocomplete="username" required bind:value={email} class="box py-1" />
      </label>
      <label class="grid gap-1">
        <span class="label">Password</span>
        <input
          name="password"
          type="password"
          autocomplete="current-password"
          required
          bind:value={password}
          class="box py-1"
        />
      </label>
      {#if form?.problem}<p class="text-stop" role="alert">{form.problem}</p>{/if}
      <button class="button justify-self-start px-6 py-1.5">Sign in</button>
    </SentForm>
  </section>
  {#if data.demo.length > 0}
    <section class="border-l border-line pl-10 max-md:border-0 max-md:pl-0">
      <h2 class="mb-1 text-[15px] font-[650]">This is a demo</h2>
      <p class="mb-4 text-soft">Quillhaven Orchard Systems is made up, and so are these people. Choose one:</p>
      <ul>
        {#each data.demo as user (user.email)}
          <li class="border-b border-line">
            <button
              type="button"
              class="grid w-full cursor-pointer grid-cols-[1fr_auto] py-2 text-left hover:bg-sheet"
              onclick={() => {
                email = user.email;
                password = user.password;
              }}
            >
              <span class="font-[650]">{user.name}</span><span class="text-soft">{user.role}</span>
              <span class="text-small text-faint">{user.email}</span>
              <code class="font-mono text-small text-faint">{user.password}</code>
            </button>
          </li>
        {/each}
      </ul>
    </section>
  {/if}
</main>
