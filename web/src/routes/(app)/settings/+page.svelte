<script lang="ts">
  import { organisation } from '$lib/organisation.svelte.ts';
  import { enhance } from '$app/forms';
  import { page } from '$app/state';

  const { data, form } = $props();
  const user = $derived(page.data['user'] as { name: string; role: string; email: string });
  const date = new Intl.DateTimeFormat(organisation.locale, { dateStyle: 'medium' });
  const example = $derived(
    `curl -X PATCH ${data.origin}/api/v1/records/customer/1 \\\n  -H 'Authorization: Bearer …' -H 'Content-Type: application/merge-patch+json' \\\n  -H 'If-Match: *' -d '{"employee_count": 251}'`,
  );
</script>

<svelte:head><title>Settings · Rigid Rule</title></svelte:head>
<div class="h-full overflow-y-auto bg-sheet px-8 pt-[18px] pb-12">
  <div class="max-w-[760px]">
    <h1 class="mb-4">Settings</h1>
    <h2 class="font-[650]">You</h2>
    <p class="mb-6">{user.name}, <span class="text-soft">{user.role}, {user.email}</span></p>

    <h2 class="font-[650]">API tokens</h2>
    {#if !data.mayManage}
      <p class="text-soft">
        Authors and releasers make tokens for other programs. As {user.role} you do not need them.
      </p>
    {:else}
      <p class="mb-3 text-soft">Other programs write records with a token. The same rules act on what they send.</p>
      {#if form?.secret}
        <div class="mb-4 border-l-[3px] border-brass bg-brass-wash px-3 py-2" role="status">
          <p>The token for {form.name}. It is shown this once: copy it now.</p>
          <p class="font-mono text-small break-all select-all" data-testid="token">{form.secret}</p>
        </div>
      {/if}
      <table class="mb-4 w-full">
        <thead
          ><tr class="label text-left"
            ><th class="border-b border-ink py-1 font-normal">Name</th><th class="border-b border-ink font-normal"
              >Made by</th
            ><th class="border-b border-ink font-normal">Made on</th><th class="border-b border-ink font-normal"
              >Last used</th
            ><th class="border-b border-ink"><span class="sr-only">Revoke</span></th></tr
          ></thead
        >
        <tbody>
          {#each data.tokens as token (token.id)}
            <tr>
              <td class="border-b border-line py-1 font-[650]">{token.name}</td>
              <td class="border-b border-line">{token.createdBy}</td>
              <td class="border-b border-line">{date.format(token.createdAt)}</td>
              <td class="border-b border-line">{token.lastUsedAt ? date.format(token.lastUsedAt) : 'never'}</td>
              <td class="border-b border-line text-right">
                <form method="post" action="?/revoke" use:enhance>
                  <input type="hidden" name="id" value={token.id} /><button
                    class="cursor-pointer text-stop hover:underline"
                    aria-label="Revoke the token {token.name}">revoke</button
                  >
                </form>
              </td>
            </tr>
          {:else}
            <tr><td colspan="5" class="border-b border-line py-2 text-soft">No program has a token yet.</td></tr>
          {/each}
        </tbody>
      </table>
      <form method="post" action="?/create" use:enhance class="mb-6 flex items-end gap-3">
        <label class="grid flex-1 gap-1"
          ><span class="label">Name of the program that will use it</span><input
            name="name"
            class="box py-1"
            maxlength="80"
            required
          /></label
        >
        <button class="button">Make a token</button>
      </form>
      {#if form?.problem}<p class="mb-4 text-stop" role="alert">{form.problem}</p>{/if}
      <p class="label">How a record is changed</p>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <pre
        class="overflow-x-auto border border-line bg-field px-3 py-2 font-mono text-small"
        tabindex="0">{example}</pre>
    {/if}
  </div>
</div>
