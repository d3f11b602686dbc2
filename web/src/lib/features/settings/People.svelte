<script lang="ts">
  import type { User } from '$lib/server/db/users.ts';
  import SentForm from '$lib/ui/SentForm.svelte';
  import SecretShown from './SecretShown.svelte';

  interface Props {
    readonly people: readonly User[];
    readonly roles: readonly string[];
    readonly added: { readonly name: string; readonly password: string } | undefined;
    readonly problem: string | undefined;
  }
  const { people, roles, added, problem }: Props = $props();
</script>

{#if added}
  <SecretShown
    says="{added.name} can sign in with this password, and change it under Settings. It is shown this once."
    secret={added.password}
    name="password"
  />
{/if}
<div class="mb-4 overflow-x-auto">
  <table class="w-full">
    <thead>
      <tr class="label text-left">
        <th class="border-b border-ink py-1 pr-3 font-normal">Name</th>
        <th class="border-b border-ink pr-3 font-normal">Email</th>
        <th class="border-b border-ink font-normal">Role</th>
      </tr>
    </thead>
    <tbody>
      {#each people as person (person.id)}
        <tr>
          <td class="border-b border-line py-1 pr-3 font-[650]">{person.name}</td>
          <td class="border-b border-line pr-3">{person.email}</td>
          <td class="border-b border-line">{person.role}</td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
<SentForm action="?/addPerson" class="mb-2 flex flex-wrap items-end gap-3">
  <label class="grid flex-1 gap-1"
    ><span class="label">Name</span><input name="name" class="box py-1" maxlength="120" required /></label
  >
  <label class="grid flex-1 gap-1"
    ><span class="label">Email</span><input
      name="email"
      type="email"
      class="box py-1"
      maxlength="254"
      required
    /></label
  >
  <label class="grid gap-1"
    ><span class="label">Role</span><select name="role" class="box py-1">
      {#each roles as role (role)}<option>{role}</option>{/each}
    </select></label
  >
  <button class="button">Add</button>
</SentForm>
{#if problem}<p class="mb-4 text-stop" role="alert">{problem}</p>{/if}
