<script lang="ts" generics="T">
  /**
   * A value that is typed. What can be read is taken; what cannot is said beside it once it is left, and stays until it is
   * put right, or taken back by Escape: nothing that was typed is dropped in silence, also where another author changes
   * the value meanwhile.
   */
  import type { HTMLInputAttributes } from 'svelte/elements';
  import type { Reader } from './typed.ts';

  interface Props extends Pick<HTMLInputAttributes, 'class' | 'disabled' | 'id' | 'inputmode' | 'maxlength' | 'title'> {
    value: T;
    label: string;
    show: (value: T) => string;
    read: Reader<T>;
    commit: (value: T) => void;
    /** Taken with each key, instead of by Enter and on leaving. */
    live?: boolean;
    /** Somebody begins to type. */
    begin?: () => void;
    /** As wide as what it holds. */
    fits?: boolean;
  }
  const { value, label, show, read, commit, live = false, begin, fits = false, ...attributes }: Props = $props();
  const id = $props.id();

  /** `from`: the value that the text stands for, or was typed over. */
  let typing = $state.raw<{ readonly text: string; readonly from: T }>();
  let isInside = $state(false);
  const isAsFrom = $derived(typing && Object.is(typing.from, value));
  /** Somebody is typing who has not seen it change: what is taken with each key is seen by everybody at once. */
  const isOvertaken = $derived(typing && !isAsFrom && isInside && !live);
  /** Where nobody types, a text that was typed over another value is of no use. */
  const text = $derived(isAsFrom || isOvertaken ? typing?.text : undefined);
  let wasLeft = $state(false);
  const problem = $derived.by(() => {
    if (text === undefined || !wasLeft) return undefined;
    const found = read(text);
    return 'problem' in found ? found.problem : undefined;
  });
  const shown = $derived(text ?? show(value));

  function take(typed: string): boolean {
    const found = read(typed);
    if ('problem' in found) return false;
    typing = { text: typed, from: found.value };
    if (!Object.is(found.value, value)) commit(found.value);
    return true;
  }
  function type(typed: string) {
    if (!live || !take(typed)) typing = { text: typed, from: isOvertaken ? typing!.from : value };
  }
  function leave() {
    // An input that is taken away is left as well, when nothing is typed in it any more.
    if (!typing || text === undefined) return;
    wasLeft = true;
    if (take(text)) takeBack();
  }
  function takeBack() {
    typing = undefined;
    wasLeft = false;
  }
</script>

<input
  {...attributes}
  class={['editable', attributes.class, problem && 'border-stop text-stop']}
  style:width={fits ? `${shown.length + 0.4}ch` : undefined}
  aria-label={label}
  aria-invalid={problem ? 'true' : undefined}
  aria-describedby={problem ? id : undefined}
  autocomplete="off"
  value={shown}
  onfocus={() => {
    isInside = true;
    begin?.();
  }}
  oninput={(e) => type(e.currentTarget.value)}
  onblur={() => {
    leave();
    isInside = false;
  }}
  onkeydown={(e) => {
    if (e.key === 'Enter') leave();
    if (e.key === 'Escape') takeBack();
  }}
/>{#if problem}<span {id} class="mx-2 text-small text-stop" role="alert">{problem}.</span>{/if}
{#if isOvertaken}<span class="mx-2 text-small text-soft" role="status"
    >It is <b>{show(value)}</b> by now; Escape takes that.</span
  >{/if}
