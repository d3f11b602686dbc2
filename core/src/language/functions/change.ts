import { anyType, booleanType } from '../types/types.ts';
import type { Value } from '../../values/value.ts';
import type { LanguageFunction, Parameter } from './function.ts';

const field: Parameter = { name: 'field', type: anyType };

/** How far an ordered picklist moved: options outside the order stand nowhere, so a move from or to them is none. */
function move(now: Value, before: Value, order: ReadonlyMap<string, number> | null): number | null {
  const [to, from] = [order?.get(now as string), order?.get(before as string)];
  return to === undefined || from === undefined ? null : to - from;
}

const moved = (name: string, help: string, gives: boolean, holds: (by: number) => boolean): LanguageFunction => ({
  name,
  parameters: [field],
  result: booleanType,
  help,
  // Stage goes from Enquiry to Won.
  examples: [[`${name}(Stage)`, gives]],
  ordered: true,
  onField(now, before, _, order) {
    const by = move(now, before, order);
    return by === null ? null : holds(by);
  },
  work: 1,
  evaluate: () => null,
});

export const changeFunctions: readonly LanguageFunction[] = [
  {
    name: 'has changed',
    parameters: [field],
    result: booleanType,
    help: 'Whether this write changes the field: has changed(Stage). On a new record, whether it has a value.',
    examples: [
      ['has changed(Stage)', true],
      ['has changed(Name)', false],
    ],
    onField: (_now, _before, changed) => changed,
    work: 1,
    evaluate: () => null,
  },
  moved(
    'moved forward',
    'Whether an ordered picklist went to a later option; blank where either stands outside the order.',
    true,
    (by) => by > 0,
  ),
  moved(
    'moved back',
    'Whether an ordered picklist went to an earlier option; blank where either stands outside the order.',
    false,
    (by) => by < 0,
  ),
  {
    name: 'furthest',
    parameters: [{ name: 'options', type: anyType }],
    variadic: true,
    ordered: true,
    passes: true,
    compares: true,
    result: (args) => args.find((t) => t.kind === 'option') ?? anyType,
    help: 'The latest of the options in their order: furthest(previous.Furthest stage, Stage). Options outside the order count for nothing.',
    examples: [
      ['furthest(previous.Stage, Stage)', 'Won'],
      ['furthest(Stage, previous.Stage)', 'Won'],
    ],
    evaluateOrdered(args, order) {
      let best: string | null = null;
      for (const v of args) {
        if (typeof v !== 'string' || !order.has(v)) continue;
        if (best === null || order.get(v)! > order.get(best)!) best = v;
      }
      return best;
    },
    // Without an order nothing is further than anything else.
    work: 1,
    evaluate: () => null,
  },
];
