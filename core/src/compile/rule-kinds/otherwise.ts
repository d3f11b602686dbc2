/** What is done where an outcome has no value of its own: the source is blank, nothing fits. */
export type Otherwise =
  | { readonly do: 'clear' }
  | { readonly do: 'leave' }
  | { readonly do: 'set'; readonly value: string | number }
  | { readonly do: 'stop'; readonly message: string };
