/** What the input of every field type is given. */
import type { Field, Stored } from '@rigid-rule/core/document';
import type { FindLinks } from '../links.ts';
import { typedValue } from '../shown.ts';

export interface FieldInputProps {
  id: string;
  field: Field;
  value: Stored;
  /** The value as it is shown. */
  text: string;
  /** Takes a raw value, as the field type coerces it. */
  commit: (value: unknown) => void;
  /** Text inputs speak with every key rather than on leaving. */
  live: boolean;
  invalid: boolean;
  describedBy: string | undefined;
  users: readonly { email: string; name: string }[];
  autofocus: boolean;
  /** Where a lookup finds the records that it can link to. */
  find: FindLinks;
  /** Changes when what is held is to be shown again whatever was being typed. */
  sitting: number;
  /** What is said where nothing is chosen. */
  nothing: string;
  /** Keys of the options on offer, where a rule limits them. */
  allowed: readonly string[] | undefined;
  class: string;
}

/** Attributes of whichever element takes the focus. */
export const attributesOf = ({ id, invalid, describedBy }: FieldInputProps) => ({
  id,
  'aria-invalid': invalid ? ('true' as const) : undefined,
  'aria-describedby': describedBy,
});

export const say = ({ field, commit }: FieldInputProps, typed: string): void => {
  commit(typedValue(field, typed));
};

/** What is chosen stays on show, also where it is no longer on offer. */
export const offered = ({ field, value, allowed }: FieldInputProps) =>
  (field.options ?? []).filter(
    ({ key }) => !allowed || allowed.includes(key) || value === key || (Array.isArray(value) && value.includes(key)),
  );

/** An action: the first input of a form that begins is ready to be typed into. */
export function focusAtFirst(node: HTMLElement, wanted: boolean): void {
  if (wanted) node.focus();
}
