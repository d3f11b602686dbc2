export interface FoundLink {
  readonly id: number;
  readonly title: string;
}

/** Records of a type whose title holds a text. */
export type FindLinks = (recordType: string, text: string) => Promise<readonly FoundLink[]> | readonly FoundLink[];

/** Among the live records. */
export const findRecords: FindLinks = async (recordType, text) => {
  const answer = await fetch(`/api/lookup/${recordType}?q=${encodeURIComponent(text)}`);
  return answer.ok ? ((await answer.json()) as readonly FoundLink[]) : [];
};
