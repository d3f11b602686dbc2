<script lang="ts">
  /** A set of fields: each can be taken out, others added. */
  import { nameOfField, type Field } from '@rigid-rule/core/document';

  interface Props {
    fields: readonly Field[];
    chosen: readonly string[];
    label: string;
    readonly: boolean;
    none?: string;
    /** So many always stay. */
    least?: number;
    change: (keys: readonly string[]) => void;
  }
  const { fields, chosen, label, readonly, none = 'none', least = 0, change }: Props = $props();
  const nameOf = (key: string) => nameOfField(fields, key);
</script>

{#each chosen as key, nth (nth)}
  {#if readonly || chosen.length <= least}<span class="mr-3 font-[650]">{nameOf(key)}</span>{:else}
    <button
      type="button"
      class="mr-3 cursor-pointer font-[650] hover:text-stop"
      aria-label="{label}: take {nameOf(key)} out"
      onclick={() => change(chosen.filter((k) => k !== key))}
      >{nameOf(key)} <span class="quiet font-normal" aria-hidden="true">×</span></button
    >
  {/if}
{:else}<span class="quiet mr-3">{none}</span>{/each}
{#if !readonly}
  <select
    class="editable quiet text-small"
    aria-label="{label}: add a field"
    value=""
    onchange={(e) => {
      if (e.currentTarget.value) change([...chosen, e.currentTarget.value]);
      e.currentTarget.value = '';
    }}
  >
    <option value="">add</option>
    {#each fields.filter((f) => !chosen.includes(f.key)) as f (f.key)}<option value={f.key}>{f.name}</option>{/each}
  </select>
{/if}
