/** For screens that have findings only now and then. */
export const loadFindingList = () => import('./FindingList.svelte');
