/** How many parts a rulebook adds, removes or changes against another: of what was compared before it knows the answer. */
import { sameJson } from '../document/canonical.ts';
import type { MappingTable, Rulebook } from '../document/document.ts';
import { partId, toParts, type Part } from '../document/parts.ts';
import { inOneGo } from '../values/steps.ts';

/** Parts and rows compared in one step. */
const partsInStep = 100;
const rowsInStep = 1000;

/** In short steps. */
export function* partsById(parts: readonly Part[]): Generator<void, ReadonlyMap<string, Part>> {
  const found = new Map<string, Part>();
  for (const [i, part] of parts.entries()) {
    if (i % partsInStep === 0) yield;
    found.set(partId(part), part);
  }
  return found;
}

/** Rows that are known to be the same as others. */
type SameRows = Pick<WeakMap<object, object>, 'get' | 'set'>;

function* sameTable(was: MappingTable, now: MappingTable, known: SameRows): Generator<void, boolean> {
  if (!sameJson({ ...was, rows: was.rows.length }, { ...now, rows: now.rows.length })) return false;
  for (const [i, row] of now.rows.entries()) {
    if (i % rowsInStep === 0) yield;
    const other = was.rows[i]!;
    if (row === other || known.get(row) === other) continue;
    if (!sameJson(other, row)) return false;
    known.set(row, other);
  }
  return true;
}

/** Whether two parts of the same kind and key say the same, in short steps. */
export function* samePart(was: Part, now: Part, known: SameRows = new WeakMap()): Generator<void, boolean> {
  if (was.body === now.body) return true;
  return now.kind === 'table'
    ? yield* sameTable(was.body as MappingTable, now.body as MappingTable, known)
    : sameJson(was.body, now.body);
}

export class ChangeCounter {
  private before: ReadonlyMap<string, Part> | undefined;
  /** Parts are immutable: of each, what it came to when it stood here last. */
  private readonly compared = new Map<string, { readonly body: unknown; readonly same: boolean }>();
  /** Rows that are the same as the one of the other rulebook that they were compared with. */
  private readonly sameRows = new WeakMap<object, object>();

  constructor(private readonly rulebook: Rulebook) {}

  count(after: Rulebook): number {
    return inOneGo(this.countInSteps(after));
  }

  /** The same in short steps, for whoever has others waiting. */
  *countInSteps(after: Rulebook): Generator<void, number> {
    const before = (this.before ??= yield* partsById(toParts(this.rulebook)));
    yield;
    let [kept, changes] = [0, 0];
    for (const [i, part] of toParts(after).entries()) {
      if (i % partsInStep === 0) yield;
      const was = before.get(partId(part));
      if (was) kept++;
      if (!was || !(yield* this.isSame(was, part))) changes++;
    }
    return changes + before.size - kept;
  }

  private *isSame(was: Part, part: Part): Generator<void, boolean> {
    const id = partId(part);
    const known = this.compared.get(id);
    if (known && known.body === part.body) return known.same;
    const same = yield* samePart(was, part, this.sameRows);
    this.compared.set(id, { body: part.body, same });
    return same;
  }
}
