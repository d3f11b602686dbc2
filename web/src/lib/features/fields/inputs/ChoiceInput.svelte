<script lang="ts">
  /** One of the few values that the type itself brings along. */
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { attributesOf, say, type FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
  const choices = $derived(fieldTypeOf(props.field).choices ?? []);
</script>

<select
  {...attributesOf(props)}
  class={['box', props.class]}
  value={choices.find((c) => c.value === props.value)?.name ?? ''}
  onchange={(e) => say(props, e.currentTarget.value)}
>
  <option value="">blank</option>{#each choices as { key, name } (key)}<option>{name}</option>{/each}
</select>
