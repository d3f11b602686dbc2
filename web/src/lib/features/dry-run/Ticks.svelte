<script lang="ts">
  /** Several of some named things. */
  interface Props {
    of: readonly { readonly key: string; readonly name: string }[];
    chosen: readonly string[];
    choose: (keys: readonly string[]) => void;
  }
  const { of, chosen, choose }: Props = $props();
  const toggled = (key: string) => (chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
</script>

<span class="flex flex-wrap gap-x-4">
  {#each of as { key, name } (key)}<label class="flex min-h-6 items-center gap-1.5"
      ><input
        type="checkbox"
        class="check"
        checked={chosen.includes(key)}
        onchange={() => choose(toggled(key))}
      />{name}</label
    >{/each}
</span>
