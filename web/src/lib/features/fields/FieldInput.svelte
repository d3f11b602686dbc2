<script lang="ts">
  /** One value, edited in the way of its type. Says `commit` with the raw value as soon as it changes. */
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import type { FieldInputProps } from './inputs/field-input.ts';
  import { inputs } from './inputs/index.ts';
  import { findRecords } from './links.ts';
  import { editedValue, type Titles } from './shown.ts';

  type Given = Omit<FieldInputProps, 'text'>;
  type Always = 'id' | 'field' | 'value' | 'commit';
  interface Props extends Pick<Given, Always>, Partial<Omit<Given, Always>> {
    titles?: Titles;
  }
  const {
    field,
    value,
    titles = {},
    live = false,
    invalid = false,
    describedBy,
    users = [],
    autofocus = false,
    find = findRecords,
    sitting = 0,
    nothing = 'blank',
    allowed,
    class: extra = '',
    ...rest
  }: Props = $props();

  const Input = $derived(inputs[fieldTypeOf(field).key]);
  const text = $derived(editedValue(field, value, titles));
</script>

<Input
  {...rest}
  {field}
  {value}
  {text}
  {live}
  {invalid}
  {describedBy}
  {users}
  {autofocus}
  {find}
  {sitting}
  {nothing}
  {allowed}
  class={extra}
/>
