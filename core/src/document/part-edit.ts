/**
 * Edits of a part of the draft, creation and removal included: the operation `add` at the root makes a part that is not
 * there, `remove` at the root takes away one that is. Each edit has its inverse, like every patch.
 */
import { applyPatch, type Operation, PatchError, testValue } from './patch.ts';

/** A part's body; undefined where there is no such part. */
export type PartBody = object | undefined;

export interface EditedPart {
  readonly body: PartBody;
  /** Applied to `body` it gives back what was there before. */
  readonly inverse: readonly Operation[];
}

export const creating = (value: object): Operation => ({ op: 'add', path: '', value });
export const removing: Operation = { op: 'remove', path: '' };

/** All operations or none. @throws {PatchError} where one does not fit. */
export function editPartBody(body: PartBody, operations: readonly Operation[]): EditedPart {
  let current = body;
  const inverses: (readonly Operation[])[] = [];
  for (let i = 0; i < operations.length;) {
    const inner = innerFrom(operations, i);
    const step = inner.length > 0 ? editWithin(current, inner) : editWhole(current, operations[i]!);
    i += Math.max(inner.length, 1);
    current = step.body;
    inverses.push(step.inverse);
  }
  return { body: current, inverse: inverses.reverse().flat() };
}

/** The operations from the `i`th on, as far as they are within the part. */
function innerFrom(operations: readonly Operation[], i: number): readonly Operation[] {
  let end = i;
  while (end < operations.length && operations[end]!.path !== '') end++;
  return operations.slice(i, end);
}

function editWithin(body: PartBody, operations: readonly Operation[]): EditedPart {
  if (body === undefined) throw new PatchError('the part is not there');
  const { value, inverse } = applyPatch(body, operations);
  return { body: value, inverse };
}

/** An operation at the root. */
function editWhole(body: PartBody, operation: Operation): EditedPart {
  if (body === undefined) {
    if (operation.op !== 'add') throw new PatchError('the part is not there');
    return { body: asObject(operation.value), inverse: [removing] };
  }
  if (operation.op === 'test') {
    testValue(body, operation);
    return { body, inverse: [] };
  }
  if (operation.op === 'add') throw new PatchError('the part is there already');
  if (operation.op === 'remove') return { body: undefined, inverse: [creating(body)] };
  return { body: asObject(operation.value), inverse: [{ op: 'replace', path: '', value: body }] };
}

function asObject(value: unknown): object {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new PatchError('a part is an object');
  return value;
}
