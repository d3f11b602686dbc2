/** Small faults that can be planted in bands and groups. */
import type { RecordType } from '../../document/document.ts';
import { fieldTypeOf } from '../../language/field-types/index.ts';
import type { Writing } from '../../language/types/writing.ts';
import { dateOfDay, dateText } from '../../values/calendar.ts';
import { bandText } from './bands.ts';
import { boundaryText, readCategorize } from './categorize-outcome.ts';
import { type Loose, looseList, looseObject } from './read-outcome.ts';
import type { Mutant } from './rule-kind.ts';

/** A boundary, or an outer end, moved by one step of the field or given to the other side; the results of two bands exchanged. */
export function bandMutants(outcome: unknown, recordType: RecordType, writing: Writing): Mutant[] {
  const raw = looseObject(outcome);
  const { bands, dates, source } = readCategorize(outcome);
  const field = recordType.fields.find((f) => f.name === source.trim());
  const step = (!dates && field && fieldTypeOf(field).step?.(field)) || 1;
  const moved = (n: number, by: number): number => Number((n + by * step).toPrecision(15));
  const list = looseList(raw['bands']);
  const mutants: Mutant[] = [];
  const replace = (changes: Readonly<Record<number, Loose>>): unknown => ({
    ...raw,
    bands: list.map((b, i) => ({ ...b, ...changes[i] })),
  });
  const stored = (n: number): string | number => (dates ? dateText(dateOfDay(n)) : n);
  const outer = (i: number, side: 'from' | 'to', open: 'fromOpen' | 'toClosed', word: string): void => {
    const band = bands[i];
    const end = band?.[side];
    if (band === undefined || end === undefined) return;
    for (const by of [-1, 1])
      mutants.push({
        text: `the ${word} ${boundaryText(end, dates, writing)} moved to ${boundaryText(moved(end, by), dates, writing)}`,
        outcome: replace({ [i]: { [side]: stored(moved(end, by)) } }),
      });
    mutants.push({
      text: `the ${word} ${boundaryText(end, dates, writing)} given to the other side`,
      outcome: replace({ [i]: { [open]: band[open] !== true } }),
    });
  };
  outer(0, 'from', 'fromOpen', 'beginning');
  outer(bands.length - 1, 'to', 'toClosed', 'end');
  bands.forEach((band, i) => {
    const next = bands[i + 1];
    if (!next || band.to === undefined) return;
    const { to } = band;
    const at = boundaryText(to, dates, writing);
    for (const by of [-1, 1])
      mutants.push({
        text: `the boundary ${at} moved to ${boundaryText(moved(to, by), dates, writing)}`,
        outcome: replace({ [i]: { to: stored(moved(to, by)) }, [i + 1]: { from: stored(moved(to, by)) } }),
      });
    mutants.push({
      text: `the boundary ${at} given to the other side`,
      outcome: replace({ [i]: { toClosed: band.toClosed !== true }, [i + 1]: { fromOpen: next.fromOpen !== true } }),
    });
    mutants.push({
      text: `the results of “${bandText(band, dates, writing)}” and “${bandText(next, dates, writing)}” exchanged`,
      outcome: replace({ [i]: { result: next.result }, [i + 1]: { result: band.result } }),
    });
  });
  return mutants;
}

/** A value of a group forgotten; the results of two groups exchanged. */
export function groupMutants(outcome: unknown): Mutant[] {
  const { groups } = readCategorize(outcome);
  const list = looseList(looseObject(outcome)['groups']);
  const replace = (change: (g: Loose, i: number) => Loose): unknown => ({
    ...looseObject(outcome),
    groups: list.map((g, i) => change(g, i)),
  });
  return groups.flatMap((group, i): Mutant[] => {
    const forgotten = group.values.map((value) => ({
      text: `${value} left out of its group`,
      outcome: replace((g, at) => (at === i ? { ...g, values: group.values.filter((v) => v !== value) } : g)),
    }));
    const next = groups[i + 1];
    if (!next || next.result === group.result) return forgotten;
    const result = (at: number): string | number | undefined =>
      at === i ? next.result : at === i + 1 ? group.result : undefined;
    return [
      ...forgotten,
      {
        text: `the results of “${group.values.join(', ')}” and “${next.values.join(', ')}” exchanged`,
        outcome: replace((g, at) => (result(at) === undefined ? g : { ...g, result: result(at) })),
      },
    ];
  });
}
