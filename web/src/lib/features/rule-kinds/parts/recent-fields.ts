/** Fields that were looked at, or chosen as what decides, the last first: what a new rule most likely follows from. */

const visited = new Map<string, string[]>();
const mostKept = 10;

export function noteField(recordType: string, field: string): void {
  const before = (visited.get(recordType) ?? []).filter((f) => f !== field);
  visited.set(recordType, [field, ...before].slice(0, mostKept));
}

/** Keys of the fields of a record type that somebody came from, without the one that they are on. */
export const fieldsBefore = (recordType: string, field: string): readonly string[] =>
  (visited.get(recordType) ?? []).filter((f) => f !== field);
