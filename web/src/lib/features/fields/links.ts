import { ask } from '$lib/network.ts';

export interface FoundLink {
  readonly id: number;
  readonly title: string;
}

/** Records of a type whose title holds a text. */
export type FindLinks = (recordType: string, text: string) => Promise<readonly FoundLink[]> | readonly FoundLink[];

/** What was done in the input of a link before its list was loaded. */
export interface Begun {
  /** Absent: nothing was typed. */
  readonly typed: string | undefined;
  /** The list was asked for by key. */
  readonly wantsList: boolean;
  /** Where the caret stands, in UTF-16 units; absent: the input was left. */
  readonly focus: { readonly from: number; readonly to: number } | undefined;
}

/** Among the live records. */
export const findRecords: FindLinks = async (recordType, text) => {
  const answer = await ask(`/api/lookup/${recordType}?q=${encodeURIComponent(text)}`);
  return answer.ok ? ((await answer.json()) as readonly FoundLink[]) : [];
};
