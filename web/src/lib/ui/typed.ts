/** What is made of a text that was typed: a value, or a sentence on why it is none. */
export type Read<T> = { readonly value: T } | { readonly problem: string };
export type Reader<T> = (text: string) => Read<T>;

/** The same where nothing may be there. */
export const orNothing =
  <T>(read: Reader<T>): Reader<T | undefined> =>
  (text) =>
    text.trim() === '' ? { value: undefined } : read(text);

/** As it is typed: what else is needed of a name is told where it is looked at. */
export const readName: Reader<string> = (text) => (text.trim() === '' ? { problem: 'Enter a name' } : { value: text });
