/** What some records have in common that others have not. */
import type { RecordType, Stored } from '../document/document.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Writing } from '../language/types/writing.ts';
import { writtenOrBlank } from '../language/wording/written.ts';
import type { FoundRecord } from '../records/record-source.ts';

/** Shares below which a trait sets nobody apart. */
const [mostInside, mostOutside] = [0.95, 0.5];

/**
 * The value, or the range of a number, that (nearly) all of some records have and few of the others: the one that the
 * fewest of the others have. `all have Employee count 200 to 249`.
 */
export function commonTrait(
  recordType: RecordType,
  records: readonly FoundRecord[],
  inside: ReadonlySet<number>,
  writing: Writing,
): string | undefined {
  if (inside.size === 0 || inside.size === records.length) return undefined;
  let best: { words: string; outside: number; share: number } | undefined;
  const offer = (words: string, met: number, others: number): void => {
    const [share, outside] = [met / inside.size, others / (records.length - inside.size)];
    if (share < mostInside || outside > mostOutside) return;
    if (!best || outside < best.outside) best = { words, outside, share };
  };
  for (const field of recordType.fields) {
    const type = fieldTypeOf(field);
    const said = (v: Stored): string => writtenOrBlank(field, v, writing);
    if (type.links || type.users) continue;
    if (type.numeric) {
      const own = [...inside].map((i) => records[i]!.data[field.key]).filter((v): v is number => typeof v === 'number');
      if (own.length < inside.size * mostInside) continue;
      const [low, high] = own.reduce(([a, b], v) => [Math.min(a, v), Math.max(b, v)], [Infinity, -Infinity]);
      let others = 0;
      records.forEach(({ data }, i) => {
        const v = data[field.key];
        if (!inside.has(i) && typeof v === 'number' && v >= low && v <= high) others++;
      });
      const range = low === high ? said(low) : `${said(low)} to ${said(high)}`;
      offer(`${field.name} ${range}`, own.length, others);
      continue;
    }
    const counts = new Map<string, [number, number]>();
    records.forEach(({ data }, i) => {
      const key = JSON.stringify(data[field.key] ?? null);
      const pair = counts.get(key) ?? [0, 0];
      counts.set(key, pair);
      pair[inside.has(i) ? 0 : 1]++;
    });
    for (const [key, [met, others]] of counts) offer(`${field.name} ${said(JSON.parse(key) as Stored)}`, met, others);
  }
  return best && `${best.share === 1 ? 'all' : 'nearly all'} have ${best.words}`;
}
