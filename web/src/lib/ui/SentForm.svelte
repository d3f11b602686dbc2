<script lang="ts">
  /**
   * A form that is sent to an action of its page: once at a time, however often it is pressed, since what is shown once (a
   * password, a token) would be taken away by the second answer. Where it was not done it stays as it is, and says why.
   */
  import { enhance } from '$app/forms';
  import { page } from '$app/state';
  import { isUnreached } from '$lib/network.ts';
  import { ownerParameter } from '$lib/page-owner.ts';
  import type { ActionResult, SubmitFunction } from '@sveltejs/kit';
  import type { Snippet } from 'svelte';

  interface Props {
    /** Of those of its page; absent: its only one. */
    action?: string;
    class?: string;
    /** Whether what was typed goes once it was done. */
    reset?: boolean;
    /** Called once it was done. */
    done?: () => void;
    /** Given whether it is on its way. */
    children: Snippet<[busy: boolean]>;
  }
  const { action, class: style, reset = true, done, children }: Props = $props();

  const owner = $derived(page.data.user ? `${ownerParameter}=${page.data.user.id}` : '');
  let busy = $state(false);
  /** Why it was not done. */
  let problem = $state<string>();

  /** Errors of actions, and what the server says where it does not come to one: an answer without a type. */
  function whyNotDone(result: ActionResult | { readonly type?: never; readonly message?: string }): string | undefined {
    if (result.type === 'error') {
      if (isUnreached(result.error))
        return 'The network is away: whether this was done is not known. Look again once it is back.';
      return (result.error as App.Error).message;
    }
    return result.type === undefined ? (result.message ?? 'This was not done.') : undefined;
  }

  const send: SubmitFunction = ({ cancel }) => {
    if (busy) return cancel();
    busy = true;
    problem = undefined;
    return async ({ result, update }) => {
      try {
        problem = whyNotDone(result);
        if (problem === undefined) await update({ reset });
        if (result.type === 'success') done?.();
      } finally {
        busy = false;
      }
    };
  };
</script>

<form method="post" action={action && [action, owner].filter(Boolean).join('&')} class={style} use:enhance={send}>
  {@render children(busy)}
  {#if problem !== undefined}<p class="basis-full text-stop" role="alert">{problem}</p>{/if}
</form>
