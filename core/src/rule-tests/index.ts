/** Tests of rules: run, suggested, weighed: what others may use. */
export { Impact, impactWays, type ImpactFigures, type ImpactWay } from './impact.ts';
export { readinessOf, type Readiness } from './readiness.ts';
export { reachedBy, runTest, runTests, testedId, type TestResult } from './run.ts';
