/** Tests of rules: run, suggested, weighed, claimed: what others may use. */
export { TestRunner } from './affected.ts';
export { checkClaims, searchClaim, type ClaimResult, type ClaimState } from './claims.ts';
export {
  coverageBy,
  coverageOf,
  marksOf,
  type CellKind,
  type CellReach,
  type Coverage,
  type Reached,
  type RuleCoverage,
} from './coverage.ts';
export { casesOf, linesOf } from './family.ts';
export { familyOfTable } from './table-family.ts';
export { Comparison, Impact, impactWrite, type SettledByBoth } from './dry-run.ts';
export {
  impactWays,
  moving,
  sumOfFigures,
  type FieldMoves,
  type ImpactFigures,
  type ImpactWay,
} from './impact-figures.ts';
export { ImpactTally, type Baseline, type MovedRecord, type TriedRecord } from './impact-tally.ts';
export { mutantKinds, type MutantKind } from './mutants.ts';
export { firstOffers, identityOf, offersFor, type Offer } from './offers.ts';
export { partThatDiffers } from './part-that-differs.ts';
export { readinessOf, type Readiness } from './readiness.ts';
export {
  acceptedSteps,
  idleVerdicts,
  reachedBy,
  runTest,
  runTests,
  settleTest,
  shownStep,
  stateText,
  stateWords,
  type TestResult,
} from './run.ts';
export {
  StrengthMeter,
  strengthOf,
  sumOfStrength,
  type PartStrength,
  type Strength,
  type Survivor,
} from './strength.ts';
export { expectationOf, wholeExpectation } from './expectations.ts';
export { suggestionKinds, type SuggestionKind } from './suggest.ts';
export { changedRules, findWitnesses, type Witness } from './witnesses.ts';
export { generateRecords } from './generate.ts';
export { commonTrait } from './traits.ts';
export { recordTitleIn, relatedText, testedId, testValueText, type Shown } from './test-values.ts';
export { didText, expectedVerdicts, otherVerdictText, settledText } from './verdict-words.ts';
