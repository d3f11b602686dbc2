/** Help while a formula is written: what others may use. */
export { completionsAt, type Completion } from './completions.ts';
export { formulaOfTemplate, templateOfFormula } from './convert-step.ts';
export { describeAt, functionHelp } from './describe.ts';
export { fixedOrder, moveRule, type Move, type RunsAfter } from './run-order.ts';
export { tokensOf, type Token } from './tokens.ts';
