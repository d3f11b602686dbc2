/** How many parts a rulebook adds, removes or changes against another: of what was compared before it knows the answer. */
import { sameJson } from '../document/canonical.ts';
import type { MappingTable, Rulebook } from '../document/document.ts';
import { partId, toParts, type Part } from '../document/parts.ts';

/** Rows compared in one step. */
const rowsInStep = 1000;

export class ChangeCounter {
  private readonly before: ReadonlyMap<string, Part>;
  /** Parts are immutable: of each, what it came to when it stood here last. */
  private readonly compared = new Map<string, { readonly body: unknown; readonly same: boolean }>();
  /** Rows that are the same as the one of the other rulebook that they were compared with. */
  private readonly sameRows = new WeakMap<object, object>();

  constructor(before: Rulebook) {
    this.before = new Map(toParts(before).map((p) => [partId(p), p]));
  }

  count(after: Rulebook): number {
    const work = this.countInSteps(after);
    for (let step = work.next(); ; step = work.next()) if (step.done) return step.value;
  }

  /** The same in short steps, for whoever has others waiting. */
  *countInSteps(after: Rulebook): Generator<void, number> {
    let [kept, changes] = [0, 0];
    for (const part of toParts(after)) {
      const was = this.before.get(partId(part));
      if (was) kept++;
      if (!was || !(yield* this.isSame(was, part))) changes++;
    }
    return changes + this.before.size - kept;
  }

  private *isSame(was: Part, { body, ...part }: Part): Generator<void, boolean> {
    const id = partId(part);
    const known = this.compared.get(id);
    if (known && known.body === body) return known.same;
    const same =
      part.kind === 'table'
        ? yield* this.sameTable(was.body as MappingTable, body as MappingTable)
        : sameJson(was.body, body);
    this.compared.set(id, { body, same });
    return same;
  }

  private *sameTable(was: MappingTable, now: MappingTable): Generator<void, boolean> {
    if (!sameJson({ ...was, rows: was.rows.length }, { ...now, rows: now.rows.length })) return false;
    for (const [i, row] of now.rows.entries()) {
      if (i % rowsInStep === 0) yield;
      const other = was.rows[i]!;
      if (this.sameRows.get(row) === other) continue;
      if (!sameJson(other, row)) return false;
      this.sameRows.set(row, other);
    }
    return true;
  }
}
