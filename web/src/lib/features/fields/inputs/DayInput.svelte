<script lang="ts">
  /** A day, or a moment of one, typed or chosen from a calendar. */
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { localInput, withOffset } from '$lib/instants.ts';
  import { organisation } from '$lib/organisation.svelte.ts';
  import DayPicker from '../DayPicker.svelte';
  import type { FieldInputProps } from './field-input.ts';
  import TextInput from './TextInput.svelte';

  const props: FieldInputProps = $props();
  const { value } = $derived(props);
  const isInstant = $derived(fieldTypeOf(props.field).instant === true);
  /** What is held, as the clocks of the organisation show it. */
  const local = $derived(typeof value !== 'string' ? '' : isInstant ? localInput(value, organisation.zone) : value);
  /** Another day keeps the time; a first one begins at midnight. */
  function pick(day: string) {
    const time = local.slice(10) || 'T00:00';
    props.commit(isInstant ? withOffset(`${day}${time}`, organisation.zone) : day);
  }
</script>

<TextInput {...props} />
<DayPicker label={props.field.name} day={local.slice(0, 10)} {pick} />
