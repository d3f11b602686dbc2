<script lang="ts">
  import { attributesOf, offered, type FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
  const chosen = $derived(Array.isArray(props.value) ? (props.value as readonly string[]) : []);
</script>

<details class="relative w-full">
  <summary class={['box cursor-pointer list-none truncate', props.class]} {...attributesOf(props)}
    >{#if props.text}{props.text}{:else}<span class="quiet">{props.nothing}</span>{/if}</summary
  >
  <fieldset class="absolute z-20 mt-px grid w-44 border border-edge bg-field px-2.5 py-1.5">
    <legend class="sr-only">{props.field.name}</legend>
    {#each offered(props) as option, nth (nth)}
      <label class="flex gap-2 py-px">
        <input
          type="checkbox"
          class="accent-(--brass)"
          checked={chosen.includes(option.key)}
          onchange={(e) =>
            props.commit(e.currentTarget.checked ? [...chosen, option.key] : chosen.filter((k) => k !== option.key))}
        />{option.name}
      </label>
    {/each}
  </fieldset>
</details>
