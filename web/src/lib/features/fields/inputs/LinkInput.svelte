<script lang="ts">
  import type { FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
  const { id, invalid, describedBy, field, value, text, commit, find } = $derived(props);
</script>

<!-- The list to choose from is loaded with the first lookup on show. -->
{#await import('../LookupInput.svelte')}
  <span class="quiet">{text}</span>
{:then { default: LookupInput }}
  {#key props.sitting}
    <LookupInput {id} {invalid} {describedBy} {field} {value} shown={text} {commit} {find} class={props.class} />
  {/key}
{/await}
