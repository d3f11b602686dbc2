<script lang="ts">
  import { attributesOf, type FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
  const { value, users } = $derived(props);
</script>

<select
  {...attributesOf(props)}
  class={['box max-w-full min-w-0', props.class]}
  value={value ?? ''}
  onchange={(e) => props.commit(e.currentTarget.value || null)}
>
  <option value="">blank</option>
  {#if value && !users.some((u) => u.email === value)}<option value={String(value)}>{props.text}</option>{/if}
  {#each users as user (user.email)}<option value={user.email}>{user.name}</option>{/each}
</select>
