<script lang="ts">
  /**
   * What an address names and the draft has not. It waits a moment: what was made just now and is not saved yet is taken
   * up from where the browser keeps it, and who takes something out is led away from it.
   */
  import { isWhole, type Absent } from './absent.ts';

  interface Props {
    absent: Absent;
    /** Where the area is that it was looked for in. */
    area: { readonly name: string; readonly href: string };
    canUndo: boolean;
  }
  const { absent, area, canUndo }: Props = $props();
  const why = $derived(
    `It may have been removed${canUndo ? '; undo brings back what was removed just now' : ', or the link may be mistaken'}.`,
  );
</script>

<svelte:head
  >{#if isWhole(absent)}<title>{area.name} · Rigid Rule</title>{/if}</svelte:head
>

{#if isWhole(absent)}
  <div class="late mx-auto mt-[14vh] max-w-[520px] px-6">
    <h1 class="mb-2 [overflow-wrap:anywhere]">There is no {absent.what} {absent.key} in the draft</h1>
    <p class="mb-6 text-soft" role="status">{why}</p>
    <a class="editable" href={area.href}>Open {area.name}</a>
  </div>
{:else}
  <p class="late bg-stop-wash px-4 py-1 [overflow-wrap:anywhere]" role="status">
    There is no {absent.what} <strong>{absent.key}</strong> here, which this address names. {why}
  </p>
{/if}
