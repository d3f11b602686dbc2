import type { Writing } from '../language/types/writing.ts';

const number = (neutral: string): string => neutral.replace(/[.,]/g, (mark) => (mark === ',' ? '.' : ','));
const day = (iso: string): string => iso.split('-').reverse().join('.');

/** Another way of writing than the neutral one, with nothing of a host in it. */
export const german: Writing = {
  number,
  money: (neutral) => `${number(neutral)} €`,
  day,
  instant: (iso) => iso,
  text: (text) => text,
};
