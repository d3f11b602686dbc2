<script lang="ts">
  import { attributesOf, focusAtFirst, offered, type FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
</script>

<select
  {...attributesOf(props)}
  use:focusAtFirst={props.autofocus}
  class={['box max-w-full min-w-0', props.invalid && 'border-stop', props.class]}
  value={props.value ?? ''}
  onchange={(e) => props.commit(e.currentTarget.value || null)}
>
  <option value="">blank</option>
  {#each offered(props) as option, nth (nth)}<option value={option.key}>{option.name}</option>{/each}
</select>
