<script lang="ts">
  /**
   * A form that is sent to an action of its page: once at a time, however often it is pressed, since what is shown once (a
   * password, a token) would be taken away by the second answer. Where the server cannot be reached it stays as it is.
   */
  import { enhance } from '$app/forms';
  import { isUnreached } from '$lib/network.ts';
  import type { SubmitFunction } from '@sveltejs/kit';
  import type { Snippet } from 'svelte';

  interface Props {
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

  let busy = $state(false);
  let away = $state(false);
  const send: SubmitFunction = ({ cancel }) => {
    if (busy) return cancel();
    busy = true;
    away = false;
    return async ({ result, update }) => {
      try {
        away = result.type === 'error' && isUnreached(result.error);
        if (!away) await update({ reset });
        if (result.type === 'success') done?.();
      } finally {
        busy = false;
      }
    };
  };
</script>

<form method="post" {action} class={style} use:enhance={send}>
  {@render children(busy)}
  {#if away}<p class="basis-full text-stop" role="alert">
      The network is away: whether this was done is not known. Look again once it is back.
    </p>{/if}
</form>
