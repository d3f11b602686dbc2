/** What a write causes on other records; what a person had in sight: what others may use. */
export { settleBatch, type ReadQueries } from './batch.ts';
export { findDependants, type Dependants } from './dependants.ts';
export { effectsOf, fieldsReadElsewhere, type Effect } from './effects.ts';
export { integrityOf, usersNamed } from './integrity.ts';
export { settleAnswered, settleAndPropagate, type ChildWrite, type Follower, type Transaction } from './propagation.ts';
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
