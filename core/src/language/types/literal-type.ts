import { DaysDuration, FeelDate, FeelDateTime, FeelTime, YearsDuration } from '../../values/calendar.ts';
import type { Value } from '../../values/value.ts';
import {
  booleanType,
  dateTimeType,
  dateType,
  daysType,
  nullType,
  numberType,
  textType,
  timeType,
  yearsType,
  type Type,
} from './types.ts';

/** The type of a value that stands in a formula. */
export function literalType(v: Value): Type {
  if (v === null) return nullType;
  if (typeof v === 'boolean') return booleanType;
  if (typeof v === 'string') return textType;
  if (v instanceof FeelDate) return dateType;
  if (v instanceof FeelTime) return timeType;
  if (v instanceof FeelDateTime) return dateTimeType;
  if (v instanceof DaysDuration) return daysType;
  return v instanceof YearsDuration ? yearsType : numberType;
}
