<script lang="ts">
  /** A number that is typed as the organisation writes numbers, or as formulas do. */
  import type { HTMLInputAttributes } from 'svelte/elements';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { orNothing } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { numberReader } from './readers.ts';

  interface Props extends Pick<HTMLInputAttributes, 'class' | 'disabled' | 'id'> {
    value: number | undefined;
    label: string;
    whole?: boolean;
    min?: number;
    max?: number;
    commit: (n: number) => void;
    /** What leaving it blank does; absent: a number has to be there. */
    clear?: () => void;
    /** As `TypedInput` has them. */
    live?: boolean;
    begin?: () => void;
    fits?: boolean;
  }
  const { value, whole = false, min, max, commit, clear, ...typed }: Props = $props();
  const read = $derived(
    numberReader({ whole, ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) }),
  );
</script>

<TypedInput
  {...typed}
  inputmode={whole ? 'numeric' : 'decimal'}
  {value}
  show={(n) => (n === undefined ? '' : ownWriting(n))}
  read={clear ? orNothing(read) : read}
  commit={(n) => (n === undefined ? clear?.() : commit(n))}
/>
