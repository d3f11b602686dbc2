/** Whether a value can be one of a type: what static types promise, held against what formulas give. */
import type { Type } from '../language/types/types.ts';
import { DaysDuration, FeelDate, FeelDateTime, FeelTime, YearsDuration } from '../values/calendar.ts';
import { isNumber } from '../values/number.ts';
import { FeelFunction, FeelRange, isContext, isList, RecordRef, type Value } from '../values/value.ts';

export function isOfType(v: Value, type: Type): boolean {
  if (v === null || type.kind === 'any') return true;
  switch (type.kind) {
    case 'null':
      return false;
    case 'boolean':
      return typeof v === 'boolean';
    case 'number':
      return isNumber(v);
    case 'text':
      return typeof v === 'string';
    case 'option':
      return typeof v === 'string';
    case 'list':
      return isList(v) && v.every((item) => isOfType(item, type.item));
    case 'date':
      return v instanceof FeelDate;
    case 'time':
      return v instanceof FeelTime;
    case 'date time':
      return v instanceof FeelDateTime;
    case 'days':
      return v instanceof DaysDuration;
    case 'years':
      return v instanceof YearsDuration;
    case 'range':
      return v instanceof FeelRange;
    case 'function':
      return v instanceof FeelFunction;
    case 'context':
      return (
        isContext(v) &&
        (!type.members || [...type.members].every(([name, t]) => !v.has(name) || isOfType(v.get(name)!, t)))
      );
    case 'record':
      return v instanceof RecordRef;
  }
}
