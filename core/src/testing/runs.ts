/**
 * How many random cases a property is tried with, times `RUNS`: a whole `npm test` says 0.25, since it has ten minutes, and
 * `npm run soak` 20, to look for more.
 */
export const runsOf = (usual: number): number => Math.ceil(usual * Number(process.env['RUNS'] ?? 1));
