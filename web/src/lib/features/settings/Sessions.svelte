<script lang="ts">
  import { ownMoments } from '$lib/organisation.svelte.ts';
  import type { Session } from '$lib/server/db/sessions.ts';
  import SentForm from '$lib/ui/SentForm.svelte';

  interface Props {
    readonly sessions: readonly (Session & { readonly program: string })[];
    /** Id of the one that this page belongs to. */
    readonly current: number;
  }
  const { sessions, current }: Props = $props();
  const moment = $derived(ownMoments({ dateStyle: 'medium', timeStyle: 'short' }));
</script>

<ul class="mb-3">
  {#each sessions as session (session.id)}
    <li class="flex gap-4 border-b border-line py-1">
      <span class="min-w-0 flex-1 truncate" title={session.agent}>
        {session.program}{#if session.place}<span class="text-soft">, from {session.place}</span>{/if}
      </span>
      <span class="text-soft">
        {session.id === current ? 'this one' : `last used ${moment.format(session.seenAt)}`}
      </span>
    </li>
  {/each}
</ul>
{#if sessions.length > 1}
  <SentForm action="?/endSessions">
    <button class="button">End all others</button>
  </SentForm>
{/if}
