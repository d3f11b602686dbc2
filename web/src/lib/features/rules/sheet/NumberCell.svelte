<script lang="ts">
  /** A number edited in place: Enter or leaving commits, Escape takes it back, what is no number is marked. */
  import { fieldTypes, groupDigits } from '@rigid-rule/core';

  interface Props {
    value: number;
    label: string;
    commit: (value: number) => void;
  }
  const { value, label, commit }: Props = $props();

  const number = fieldTypes.find((t) => t.key === 'number')!;
  const plain = { key: 'boundary', name: 'boundary', type: 'number' };
  let typing = $state<string>();
  const wrong = $derived(typing !== undefined && 'problem' in number.coerce(number.parse(typing, plain), plain));

  function give(text: string) {
    const coerced = number.coerce(number.parse(text, plain), plain);
    typing = undefined;
    if ('value' in coerced && typeof coerced.value === 'number' && coerced.value !== value) commit(coerced.value);
  }
  const shown = $derived(typing ?? groupDigits(value));
</script>

<input
  class={['editable text-left', wrong && 'border-stop text-stop']}
  style:width="{shown.length + 0.4}ch"
  aria-label={label}
  aria-invalid={wrong ? 'true' : undefined}
  inputmode="decimal"
  autocomplete="off"
  value={shown}
  oninput={(e) => (typing = e.currentTarget.value)}
  onblur={(e) => give(e.currentTarget.value)}
  onkeydown={(e) => {
    if (e.key === 'Enter') give(e.currentTarget.value);
    if (e.key === 'Escape') {
      typing = undefined;
      e.currentTarget.value = groupDigits(value);
    }
  }}
/>
