<script lang="ts">
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { organisation } from '$lib/organisation.svelte.ts';
  import { attributesOf, focusAtFirst, say, type FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
  const type = $derived(fieldTypeOf(props.field));
  // What is being typed shows as it is while it is typed or wrong; then the settled form.
  let typing = $state<string>();
  let focused = $state(false);
</script>

<input
  {...attributesOf(props)}
  use:focusAtFirst={props.autofocus}
  type="text"
  inputmode={type.numeric ? 'decimal' : undefined}
  title={type.instant ? `${organisation.zone} time` : undefined}
  autocomplete="off"
  spellcheck="false"
  class={['box min-w-0', props.invalid && 'border-stop', props.class]}
  value={focused || props.invalid ? (typing ?? props.text) : props.text}
  onfocus={() => {
    focused = true;
    if (!props.invalid) typing = props.text;
  }}
  oninput={(e) => {
    typing = e.currentTarget.value;
    if (props.live) say(props, typing);
  }}
  onchange={(e) => !props.live && say(props, e.currentTarget.value)}
  onblur={() => (focused = false)}
/>
