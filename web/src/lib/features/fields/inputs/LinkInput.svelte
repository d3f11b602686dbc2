<script module lang="ts">
  import type LookupInput from '../LookupInput.svelte';

  let loaded: typeof LookupInput | undefined;
  const load = async () => (loaded = (await import('../LookupInput.svelte')).default);
</script>

<script lang="ts">
  /**
   * A link to a record. The list to choose from is loaded when the input is first turned to; what is typed before it is
   * there goes on in it.
   */
  import type { Begun } from '../links.ts';
  import { attributesOf, focusAtFirst, type FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
  const { id, invalid, describedBy, field, value, text, commit, find } = $derived(props);

  let Lookup = $state.raw(loaded);
  let input = $state<HTMLInputElement>();
  let typed = $state<string>();
  let wantsList = false;
  let begun = $state.raw<Begun & { readonly sitting: number }>();
  let isAway = $state(false);

  async function turnTo() {
    try {
      const found = await load();
      begun = {
        sitting: props.sitting,
        typed,
        wantsList,
        focus:
          input && document.activeElement === input
            ? { from: input.selectionStart ?? 0, to: input.selectionEnd ?? 0 }
            : undefined,
      };
      Lookup = found;
    } catch {
      isAway = true;
    }
  }
  function ended() {
    typed = undefined;
    wantsList = false;
  }
</script>

{#key props.sitting}
  {#if Lookup}
    <Lookup
      {id}
      {invalid}
      {describedBy}
      {field}
      {value}
      shown={text}
      {commit}
      {find}
      autofocus={props.autofocus}
      begun={begun?.sitting === props.sitting ? begun : undefined}
      class={props.class}
    />
  {:else}
    <input
      {...attributesOf(props)}
      bind:this={input}
      use:focusAtFirst={props.autofocus}
      {@attach () => ended}
      type="text"
      role="combobox"
      aria-expanded="false"
      aria-autocomplete="list"
      autocomplete="off"
      class={['box w-full min-w-0', invalid && 'border-stop', props.class]}
      value={typed ?? text}
      onpointerenter={() => void load().catch(() => {})}
      onfocus={() => void turnTo()}
      oninput={(e) => (typed = e.currentTarget.value)}
      onkeydown={(e) => (wantsList ||= e.key === 'ArrowDown')}
    />
    {#if isAway}<span class="text-small text-stop" role="status"
        >The network is away: records cannot be looked for.</span
      >{/if}
  {/if}
{/key}
