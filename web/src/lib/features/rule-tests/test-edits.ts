/** What the editors of a test's parts are given. */

/** Edits of one test, at JSON pointers. */
export interface TestEdits {
  readonly set: (path: string, value: unknown) => void;
  readonly drop: (path: string) => void;
}

/** Records of a type that a value of the test can link to. */
export type Linkable = (recordType: string) => readonly { readonly value: string; readonly name: string }[];
