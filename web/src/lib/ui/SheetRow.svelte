<script lang="ts">
  import type { Snippet } from 'svelte';
  interface Props {
    label: string;
    children: Snippet;
  }
  const { label, children }: Props = $props();
</script>

<div class="row">
  <span class="label">{label}</span>
  <div class="min-w-0">{@render children()}</div>
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: 112px minmax(0, 1fr);
    column-gap: 18px;
    margin-bottom: 9px;
    align-items: baseline;
  }
  .row > span {
    text-align: right;
  }
  @media (max-width: 1100px) {
    .row {
      grid-template-columns: 1fr;
    }
    .row > span {
      text-align: left;
    }
  }
</style>
