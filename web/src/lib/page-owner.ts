/**
 * Whose page a request comes from. The session is the browser's: whoever signs in there signs in for every page that it
 * shows, also for those that somebody else opened. What their pages ask for, and keep sending, is refused.
 */

/** Carries the id of the person as requests of scripts name it. */
export const ownerHeader = 'rigid-rule-user';

/** The same of a form, which browsers also send without scripts: in the address of its action. */
export const ownerParameter = 'user';
