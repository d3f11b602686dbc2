<script lang="ts">
  import SentForm from '$lib/ui/SentForm.svelte';

  const { changed, problem }: { readonly changed: boolean; readonly problem: string | undefined } = $props();
</script>

<SentForm action="?/changePassword" class="mb-2 flex flex-wrap items-end gap-3">
  <label class="grid flex-1 gap-1"
    ><span class="label">Current password</span><input
      name="current"
      type="password"
      autocomplete="current-password"
      class="box py-1"
      required
    /></label
  >
  <label class="grid flex-1 gap-1"
    ><span class="label">New one, 12 characters or more</span><input
      name="next"
      type="password"
      autocomplete="new-password"
      minlength="12"
      class="box py-1"
      required
    /></label
  >
  <button class="button">Change it</button>
</SentForm>
{#if problem}<p class="text-stop" role="alert">{problem}</p>{/if}
{#if changed}<p role="status">Your password is changed. Your other sessions are ended.</p>{/if}
