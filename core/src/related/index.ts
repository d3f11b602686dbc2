/** What a write causes on other records; what a person had in sight: what others may use. */
export { settleBatch, type ReadQueries } from './batch.ts';
export { effectsOf, fieldsReadElsewhere, type Effect } from './effects.ts';
export { integrityOf, usersNamed } from './integrity.ts';
export {
  findDependants,
  settleAnswered,
  settleAndPropagate,
  type ChildWrite,
  type Dependants,
  type Follower,
  type Transaction,
} from './propagation.ts';
export {
  judge,
  overruled,
  seenOf,
  storedOf,
  typeInto,
  type Difference,
  type Judged,
  type Seen,
  type Typed,
} from './sitting.ts';
export { isTrialMember, trialCondition } from './trial.ts';
