/**
 * How many random cases a property is tried with: what fits into every run, times `RUNS` (`npm run soak` says 20) where
 * there is time to look for more.
 */
export const runsOf = (usual: number): number => Math.ceil(usual * Number(process.env['RUNS'] ?? 1));
