/** Small faults that can be planted in a mapping: in its pairs, in the ways that it matches, in what it gives. */
import { readMap } from './map-outcome.ts';
import { destinationOf, fieldOf } from './map.ts';
import type { Mutant, OutcomeMutants } from './rule-kind.ts';
import { looseObject } from './read-outcome.ts';

/** A pair or way or output left out, the results of two pairs exchanged. */
export const mapMutants: OutcomeMutants = (outcome, recordType, recordTypes) => {
  const { source, outputs, onto } = readMap(outcome);
  const o = looseObject(outcome);
  const found: Mutant[] = [];
  if (source.by === 'pairs') {
    const { pairs } = source;
    pairs.forEach((p, i) => {
      const without = pairs.filter((_, at) => at !== i);
      found.push({ text: `the pair of ${p.from} left out`, outcome: { ...o, source: { ...source, pairs: without } } });
      const next = pairs[i + 1];
      if (!next || next.to === p.to) return;
      const swapped = pairs.map((x, at) => (at === i ? { ...x, to: next.to } : at === i + 1 ? { ...x, to: p.to } : x));
      found.push({
        text: `the values of ${p.from} and ${next.from} exchanged`,
        outcome: { ...o, source: { ...source, pairs: swapped } },
      });
    });
  }
  if (source.by === 'match' && source.ways.length > 1) {
    const sought = recordTypes.find((t) => t.key === source.recordType);
    source.ways.forEach((w, i) => {
      const left = source.ways.filter((_, at) => at !== i);
      found.push({
        text: `matching by ${fieldOf(sought, w.field)} left out`,
        outcome: { ...o, source: { ...source, ways: left } },
      });
    });
  }
  if (outputs.length > 1)
    outputs.forEach((out, i) => {
      found.push({
        text: `${fieldOf(destinationOf(onto, recordType, { recordTypes }), out.target)} not written`,
        outcome: { ...o, outputs: outputs.filter((_, at) => at !== i) },
      });
    });
  return found;
};
