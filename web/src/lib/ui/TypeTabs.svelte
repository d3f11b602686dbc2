<script lang="ts">
  /** Record types to go between: side by side while they take a few lines at most, otherwise to choose from. */
  interface Props {
    types: readonly { readonly key: string; readonly name: string }[];
    /** Key of the type that is on show. */
    current: string | undefined;
    addressOf: (key: string) => string;
    class?: string;
  }
  const { types, current, addressOf, class: extra = '' }: Props = $props();
  /** Letters and gaps that may stand side by side. */
  const most = 140;
  const isShort = $derived(types.reduce((n, { name }) => n + name.length + 2, 0) <= most);
</script>

<nav aria-label="Record types" class={['flex min-h-6 min-w-0 flex-wrap gap-y-1', extra]}>
  {#if isShort}
    {#each types as { key, name } (key)}
      <a
        class={[
          'max-w-full truncate',
          key === current ? 'font-[650] shadow-[0_2px_var(--ink)]' : 'text-soft hover:text-ink',
        ]}
        aria-current={key === current ? 'page' : undefined}
        href={addressOf(key)}>{name}</a
      >
    {/each}
  {:else}
    {#await import('./TypeChoice.svelte') then { default: TypeChoice }}
      <TypeChoice {types} {current} {addressOf} />
    {/await}
  {/if}
</nav>
