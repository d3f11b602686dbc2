/** What the whole installation shares in how values are shown: one organisation, one zone. Set by the layout. */
export const organisation = $state({ zone: 'UTC' });
