/** For screens that ask for a day only now and then. */
export const loadDayInput = () => import('./DayInput.svelte');
