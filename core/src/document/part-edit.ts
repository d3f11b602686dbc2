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
  const inverse: Operation[] = [];
  for (const operation of operations) {
    const step = editOnce(current, operation);
    current = step.body;
    inverse.unshift(...step.inverse);
  }
  return { body: current, inverse };
}

function editOnce(body: PartBody, operation: Operation): EditedPart {
  if (operation.op === 'test') {
    if (body === undefined) throw new PatchError('the part is not there');
    testValue(body, operation);
    return { body, inverse: [] };
  }
  if (body === undefined) {
    if (operation.op !== 'add' || operation.path !== '') throw new PatchError('the part is not there');
    return { body: asObject(operation.value), inverse: [removing] };
  }
  if (operation.path !== '') {
    const { value, inverse } = applyPatch(body, [operation]);
    return { body: value, inverse };
  }
  if (operation.op === 'add') throw new PatchError('the part is there already');
  if (operation.op === 'remove') return { body: undefined, inverse: [creating(body)] };
  return { body: asObject(operation.value), inverse: [{ op: 'replace', path: '', value: body }] };
}

function asObject(value: unknown): object {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new PatchError('a part is an object');
  return value;
}
