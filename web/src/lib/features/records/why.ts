/** How a value came to be, in words: loaded once somebody asks. */
export { Why } from '$lib/features/trace';
