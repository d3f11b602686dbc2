/** Numbers with what they count, as the organisation writes numbers. */
import { ownWriting } from './organisation.svelte.ts';

/** `1 record`, `2,000 records`. `many`: where it is not the same with an s. */
export const counted = (n: number, one: string, many = `${one}s`): string => `${ownWriting(n)} ${n === 1 ? one : many}`;
