<script lang="ts">
  import { ownMoments } from '$lib/organisation.svelte.ts';
  import type { ApiToken } from '$lib/server/db/tokens.ts';
  import SentForm from '$lib/ui/SentForm.svelte';
  import SecretShown from './SecretShown.svelte';

  interface Props {
    readonly tokens: readonly ApiToken[];
    readonly origin: string;
    readonly made: { readonly name: string; readonly secret: string } | undefined;
    readonly problem: string | undefined;
  }
  const { tokens, origin, made, problem }: Props = $props();
  const date = $derived(ownMoments({ dateStyle: 'medium' }));
  const example = $derived(
    `curl -X PATCH ${origin}/api/v1/records/customer/1 \\\n  -H 'Authorization: Bearer …' \\\n  -H 'Content-Type: application/merge-patch+json' \\\n  -H 'If-Match: *' -d '{"employee_count": 251}'`,
  );
  const columns = ['Name', 'Allowed to', 'Made by', 'Last used', 'In force until'];
</script>

<p class="mb-3 text-soft">Other programs read and write records with a token. The same rules act on what they send.</p>
{#if made}
  <SecretShown
    says="The token for {made.name}. It is shown this once: copy it now."
    secret={made.secret}
    name="token"
  />
{/if}
<div class="mb-4 overflow-x-auto">
  <table class="w-full">
    <thead>
      <tr class="label text-left">
        {#each columns as column, nth (nth)}<th class="border-b border-ink py-1 pr-3 font-normal">{column}</th>{/each}
        <th class="border-b border-ink"><span class="sr-only">Revoke</span></th>
      </tr>
    </thead>
    <tbody>
      {#each tokens as token (token.id)}
        <tr>
          <td class="border-b border-line py-1 pr-3 font-[650]">{token.name}</td>
          <td class="border-b border-line pr-3">{token.mayWrite ? 'read and write' : 'read'}</td>
          <td class="border-b border-line pr-3">{token.createdBy}</td>
          <td class="border-b border-line pr-3">{token.lastUsedAt ? date.format(token.lastUsedAt) : 'never'}</td>
          <td class="border-b border-line pr-3 {token.expiresAt < new Date() ? 'text-stop' : ''}">
            {date.format(token.expiresAt)}{token.expiresAt < new Date() ? ', no longer' : ''}
          </td>
          <td class="border-b border-line text-right">
            <SentForm action="?/revoke">
              <input type="hidden" name="id" value={token.id} /><button
                class="cursor-pointer text-stop hover:underline"
                aria-label="Revoke the token {token.name}">revoke</button
              >
            </SentForm>
          </td>
        </tr>
      {:else}
        <tr><td colspan="6" class="border-b border-line py-2 text-soft">No program has a token yet.</td></tr>
      {/each}
    </tbody>
  </table>
</div>
<SentForm action="?/create" class="mb-4 flex flex-wrap items-end gap-3">
  <label class="grid flex-1 gap-1"
    ><span class="label">Name of the program that will use it</span><input
      name="name"
      class="box py-1"
      maxlength="80"
      required
    /></label
  >
  <label class="grid gap-1"
    ><span class="label">Allowed to</span><select name="scope" class="box h-[30px] py-1">
      <option value="write">read and write</option><option value="read">read</option>
    </select></label
  >
  <label class="grid gap-1"
    ><span class="label">In force for</span><select name="days" class="box h-[30px] py-1">
      <option value="30">30 days</option><option value="90" selected>90 days</option><option value="365">a year</option>
    </select></label
  >
  <button class="button">Make a token</button>
</SentForm>
{#if problem}<p class="mb-4 text-stop" role="alert">{problem}</p>{/if}
<p class="label">How a record is changed</p>
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<pre class="overflow-x-auto border border-line bg-field px-3 py-2 font-mono text-small" tabindex="0">{example}</pre>
