/** Reading outcomes of unknown origin: what is missing or of the wrong shape takes its starting value. */
export type Loose = Readonly<Record<string, unknown>>;

export const looseObject = (v: unknown): Loose =>
  typeof v === 'object' && v !== null && !Array.isArray(v) ? (v as Loose) : {};
export const looseText = (v: unknown): string => (typeof v === 'string' ? v : '');
export const looseList = (v: unknown): readonly Loose[] => (Array.isArray(v) ? v.map(looseObject) : []);
export const looseTexts = (v: unknown): readonly string[] =>
  Array.isArray(v) ? v.filter((t): t is string => typeof t === 'string') : [];
export const oneOf = <T extends string>(v: unknown, known: readonly T[]): T =>
  known.includes(v as T) ? (v as T) : known[0]!;
