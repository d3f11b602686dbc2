<script lang="ts">
  /** Who writes, and the record of theirs that rules can ask for. */
  import type { RuleTest, User } from '@rigid-rule/core/document';
  import { userLinkOf } from '$lib/user-link.ts';
  import { useDraft } from '../draft/context.ts';
  import type { Linkable, TestEdits } from './test-edits.ts';

  interface Props extends TestEdits {
    test: RuleTest;
    linkable: Linkable;
  }
  const { test, set, drop, linkable }: Props = $props();
  const { draft, users } = useDraft();

  const user = $derived(test.user);
  const own = $derived(userLinkOf(draft.rulebook)?.recordType);
  const records = $derived(own ? linkable(own.key) : []);

  function choose(email: string) {
    const chosen = users.find((u) => u.email === email);
    if (chosen) set('/user', { name: chosen.name, email, role: chosen.role } satisfies User);
    else if (user) drop('/user');
  }
</script>

<div class="flex flex-wrap items-baseline gap-x-4">
  <select
    class="editable"
    aria-label="Who writes"
    value={user?.email ?? ''}
    onchange={(e) => choose(e.currentTarget.value)}
  >
    <option value="">nobody in particular</option>
    {#if user && !users.some((u) => u.email === user.email)}<option value={user.email}>{user.name}</option>{/if}
    {#each users as u (u.email)}<option value={u.email}>{u.name}</option>{/each}
  </select>
  {#if user}
    <span class="text-soft">{user.role}</span>
    {#if own && (records.length > 0 || user.contact !== undefined)}
      <label class="text-soft"
        >who is
        <select
          class="editable text-ink"
          aria-label="Who is"
          value={user.contact ?? ''}
          onchange={(e) =>
            e.currentTarget.value ? set('/user/contact', e.currentTarget.value) : drop('/user/contact')}
        >
          <option value="">no {own.name.toLowerCase()}</option>
          {#if user.contact !== undefined && !records.some((r) => r.value === user.contact)}<option value={user.contact}
              >{user.contact}, which is not beside it</option
            >{/if}
          {#each records as r (r.value)}<option value={r.value}>{r.name}</option>{/each}
        </select></label
      >
    {/if}
  {/if}
</div>
