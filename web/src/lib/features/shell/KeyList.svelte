<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { KeyAct } from '$lib/ui/keys.ts';

  interface Props {
    open: boolean;
    keys: readonly KeyAct[];
  }
  let { open = $bindable(), keys }: Props = $props();
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content
      class="fixed top-[12vh] left-1/2 z-50 w-[420px] max-w-[94vw] -translate-x-1/2 border border-ink bg-sheet px-5 py-4"
    >
      <Dialog.Title class="mb-2 text-[15px] font-[650]">Keys on this screen</Dialog.Title>
      <dl class="grid grid-cols-[110px_1fr] gap-y-1">
        {#each keys as act, nth (nth)}
          <dt><kbd class="key">{act.keys}</kbd></dt>
          <dd>{act.does}</dd>
        {/each}
      </dl>
      <Dialog.Close class="button plain mt-4">Close</Dialog.Close>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
