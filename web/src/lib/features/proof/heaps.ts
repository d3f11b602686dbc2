/** How heaps of figures become one: loaded with the first dry run. */
export { moving, sumOfFigures } from '@rigid-rule/core/rule-tests';
