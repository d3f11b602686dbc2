<script lang="ts">
  import { Password, People, Sessions, Tokens } from '$lib/features/settings';
  import { page } from '$app/state';

  const { data, form } = $props();
  const user = $derived(page.data['user'] as { name: string; role: string; email: string });
</script>

<svelte:head><title>Settings · Rigid Rule</title></svelte:head>
<div class="page bg-sheet px-8 pt-[18px] pb-12 max-md:px-4">
  <div class="grid max-w-[1180px] grid-cols-[minmax(0,1fr)] gap-x-14 xl:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
    <section>
      <h1 class="mb-4">Settings</h1>
      <h2 class="font-[650]">You</h2>
      <p class="mb-4">{user.name}, <span class="text-soft">{user.role}, {user.email}</span></p>
      <div class="mb-8"><Password changed={form?.changed ?? false} problem={form?.passwordProblem} /></div>
      <h2 class="font-[650]">Where you are signed in</h2>
      <div class="mb-8"><Sessions sessions={data.sessions} current={data.session} /></div>
      {#if data.mayManagePeople}
        <h2 class="font-[650]">People</h2>
        <div class="mb-8">
          <People people={data.people} roles={data.roles} added={form?.added} problem={form?.personProblem} />
        </div>
      {/if}
    </section>
    <section>
      <h2 class="mt-[42px] font-[650] max-xl:mt-0">API tokens</h2>
      {#if data.mayManage}
        <Tokens tokens={data.tokens} origin={data.origin} made={form?.made} problem={form?.problem} />
      {:else}
        <p class="text-soft">
          Authors and releasers make tokens for other programs. As {user.role} you do not need them.
        </p>
      {/if}
    </section>
  </div>
</div>
