/** Whether something failed since the server could not be reached. */

/** What browsers, and Vite, say of a request or a part of the application that never came: no standard words, so all of theirs. */
const said = /failed to fetch|load failed|networkerror|error loading dynamically imported module|unable to preload/i;

/** Addresses of pages that could not be had: the framework tells of them in no other way. */
export const missedPages = new Set<string>();

export const isUnreached = (thrown: unknown): boolean => thrown instanceof Error && said.test(thrown.message);
