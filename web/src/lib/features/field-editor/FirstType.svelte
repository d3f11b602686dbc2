<script lang="ts">
  /** An installation without a record type: the first step, and what comes after it. */
  import { fieldsOf } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { useDraft } from '../draft/context.ts';
  import { addRecordType } from './new-record-type.ts';

  const { draft } = useDraft();
  let name = $state('');

  function begin(e: SubmitEvent) {
    e.preventDefault();
    const key = addRecordType(draft, name);
    if (key) void goto(fieldsOf(key));
  }
</script>

<svelte:head><title>Fields · Rigid Rule</title></svelte:head>
<div class="page bg-sheet px-8 pt-[9vh]">
  <div class="mx-auto max-w-[520px]">
    {#if draft.editable}
      <h1 class="mb-1">Which records do your rules act on?</h1>
      <p class="mb-6 text-soft">
        Begin with one: a customer, a contact, a lead or a deal. Its fields come next, then the first rule, and a
        release makes both act.
      </p>
      <form class="flex items-end gap-3" onsubmit={begin}>
        <label class="grid flex-1 gap-1"
          ><span class="label">Name of one such record</span><input
            class="box py-1 text-[15px]"
            maxlength="60"
            required
            placeholder="Customer"
            bind:value={name}
          /></label
        >
        <button class="button px-5 py-1.5">Make the record type</button>
      </form>
    {:else}
      <h1 class="mb-1">There is nothing here yet</h1>
      <p class="text-soft">An author makes the first record type with its fields; then everything else has a place.</p>
    {/if}
  </div>
</div>
