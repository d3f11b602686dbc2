<script lang="ts">
  /** An earlier release is made live again: one of several, or the one that is read. */
  import { releaseAddress } from '$lib/addresses.ts';
  import SentForm from '$lib/ui/SentForm.svelte';

  interface Props {
    earlier: readonly { readonly number: number; readonly note: string }[];
    problem: string | undefined;
    /** The only one to choose. */
    only?: boolean;
  }
  const { earlier, problem, only = false }: Props = $props();
  let picked = $state<number>();
  const chosen = $derived(only ? earlier[0]?.number : picked);
  let why = $state('');
  let isOpen = $state(false);
</script>

<details bind:open={isOpen}>
  <summary class="cursor-pointer"
    ><span class="editable">{only ? 'Put this release back' : 'Put an earlier release back'}</span></summary
  >
  <SentForm action="?/putBack" class="mt-3 grid gap-2.5">
    {#snippet children(busy)}
      {#if only}<input type="hidden" name="number" value={chosen} />{:else}
        <fieldset class="grid gap-1.5">
          <legend class="label">Which one</legend>
          {#each earlier as r (r.number)}
            <label class="flex gap-2"
              ><input
                type="radio"
                name="number"
                value={r.number}
                bind:group={picked}
                class="mt-1 accent-(--brass)"
              /><span
                ><b class="font-[650]">Release {r.number}</b>
                <span class="line-clamp-2 text-soft">{r.note}</span></span
              ></label
            >
          {/each}
        </fieldset>
        {#if chosen !== undefined}<a class="editable justify-self-start" href={releaseAddress(chosen, 'live')}
            >what that would change</a
          >{/if}
      {/if}
      <label class="grid gap-1"
        ><span class="label">Why</span><input
          name="note"
          required
          maxlength="2000"
          class="box py-1"
          bind:value={why}
        /></label
      >
      {#if problem}<p class="text-stop" role="alert">{problem}</p>{/if}
      <button class="button plain" disabled={chosen === undefined || busy}
        >{busy ? 'Putting it back …' : `Put release ${chosen ?? '…'} back`}</button
      >
    {/snippet}
  </SentForm>
</details>
