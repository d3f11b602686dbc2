/** The registry of inputs: a field type has one, and none is forgotten. */
import type { FieldTypeKey } from '@rigid-rule/core/language';
import type { Component } from 'svelte';
import ChoiceInput from './ChoiceInput.svelte';
import DayInput from './DayInput.svelte';
import type { FieldInputProps } from './field-input.ts';
import LinesInput from './LinesInput.svelte';
import LinkInput from './LinkInput.svelte';
import OptionInput from './OptionInput.svelte';
import OptionsInput from './OptionsInput.svelte';
import TextInput from './TextInput.svelte';
import UserInput from './UserInput.svelte';

export const inputs = {
  text: TextInput,
  'long text': LinesInput,
  number: TextInput,
  money: TextInput,
  percent: TextInput,
  'yes/no': ChoiceInput,
  date: DayInput,
  'date-time': DayInput,
  duration: TextInput,
  picklist: OptionInput,
  'multi-select': OptionsInput,
  lookup: LinkInput,
  user: UserInput,
  email: TextInput,
  phone: TextInput,
  'web address': TextInput,
} as const satisfies Record<FieldTypeKey, Component<FieldInputProps>>;
