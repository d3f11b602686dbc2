/** Who works at the demo's installation. */
export const password = 'orchard-in-bloom';
export const people = {
  tables: 'sunniva',
  author: 'tomas',
  releaser: 'ines',
  keeper: 'mira',
  viewer: 'jorik',
} as const;
export type Person = keyof typeof people;
export const emailOf = (who: Person): string => `${people[who]}@quillhaven.example`;
