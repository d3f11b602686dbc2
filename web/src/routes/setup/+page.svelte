<script lang="ts">
  import Logo from '$lib/ui/Logo.svelte';
  import RuledEdge from '$lib/ui/RuledEdge.svelte';
  import SentForm from '$lib/ui/SentForm.svelte';

  const { form } = $props();
</script>

<svelte:head><title>Begin · Rigid Rule</title></svelte:head>

<header>
  <div class="flex h-[42px] items-center gap-[9px] px-4 text-[15px] font-bold"><Logo />Rigid Rule</div>
  <RuledEdge />
</header>
<main class="mx-auto mt-[9vh] max-w-[420px] px-6">
  <h1 class="mb-1">Begin</h1>
  <p class="mb-6 text-soft">
    Nobody can sign in to this installation yet. You are the first: you write its rules, and add the others under
    Settings.
  </p>
  <SentForm class="grid gap-4">
    <label class="grid gap-1"
      ><span class="label">Name</span><input
        name="name"
        class="box py-1"
        maxlength="120"
        autocomplete="name"
        required
        value={form?.name ?? ''}
      /></label
    >
    <label class="grid gap-1"
      ><span class="label">Email</span><input
        name="email"
        type="email"
        class="box py-1"
        autocomplete="username"
        required
        value={form?.email ?? ''}
      /></label
    >
    <label class="grid gap-1"
      ><span class="label">Password, at least 12 characters</span><input
        name="password"
        type="password"
        class="box py-1"
        autocomplete="new-password"
        minlength="12"
        required
      /></label
    >
    {#if form?.problem}<p class="text-stop" role="alert">{form.problem}</p>{/if}
    <button class="button justify-self-start px-6 py-1.5">Begin</button>
  </SentForm>
</main>
