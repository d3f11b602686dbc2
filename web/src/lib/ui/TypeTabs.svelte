<script lang="ts">
  /** Record types to go between. However many there are, and however long their names, all are in sight. */
  interface Props {
    types: readonly { readonly key: string; readonly name: string }[];
    /** Key of the type that is on show. */
    current: string | undefined;
    addressOf: (key: string) => string;
    class?: string;
  }
  const { types, current, addressOf, class: extra = '' }: Props = $props();
</script>

<nav aria-label="Record types" class={['flex min-w-0 flex-wrap gap-y-1', extra]}>
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
</nav>
