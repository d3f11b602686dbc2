<script lang="ts">
  /** A number edited in place: Enter or leaving commits, Escape takes it back; what is no number is said and stays. */
  import { fieldTypes } from '@rigid-rule/core/language';
  import { ownForm, ownSentences, ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    value: number;
    label: string;
    commit: (value: number) => void;
    /** What leaving it blank does; absent: a number has to be there. */
    open?: () => void;
  }
  const { value, label, commit, open }: Props = $props();

  const number = fieldTypes.find((t) => t.key === 'number')!;
  const plain = { key: 'boundary', name: 'boundary', type: 'number' };
  let typing = $state<string>();
  const id = $props.id();
  /** What was typed, in the form of the organisation or the neutral one. */
  const read = (text: string) => number.coerce(number.parse(ownForm().typedNumber(text), plain), plain, ownSentences);
  const wrong = $derived.by(() => {
    if (typing === undefined) return undefined;
    if (typing.trim() === '') return open ? undefined : 'Enter a number';
    const coerced = read(typing);
    return 'problem' in coerced ? `${typing.trim()} ${coerced.problem}` : undefined;
  });

  function give(text: string) {
    if (typing === undefined || wrong !== undefined) return;
    typing = undefined;
    if (text.trim() === '') return open?.();
    const coerced = read(text);
    if ('value' in coerced && typeof coerced.value === 'number' && coerced.value !== value) commit(coerced.value);
  }
  const shown = $derived(typing ?? ownWriting(value));
</script>

<input
  class={['editable text-left', wrong && 'border-stop text-stop']}
  style:width="{shown.length + 0.4}ch"
  aria-label={label}
  aria-invalid={wrong ? 'true' : undefined}
  aria-describedby={wrong ? id : undefined}
  inputmode="decimal"
  autocomplete="off"
  value={shown}
  oninput={(e) => (typing = e.currentTarget.value)}
  onblur={(e) => give(e.currentTarget.value)}
  onkeydown={(e) => {
    if (e.key === 'Enter') give(e.currentTarget.value);
    if (e.key === 'Escape') {
      typing = undefined;
      e.currentTarget.value = ownWriting(value);
    }
  }}
/>{#if wrong}<span {id} class="text-small text-stop" role="alert">{wrong}.</span>{/if}
