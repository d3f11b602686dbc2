/** JSON Patch (RFC 6902) with `add`, `remove`, `replace` and `test`, applied to immutable values, each with its inverse. */
import { sameJson } from './canonical.ts';

export type Operation =
  | { readonly op: 'add'; readonly path: string; readonly value: unknown }
  | { readonly op: 'replace'; readonly path: string; readonly value: unknown }
  | { readonly op: 'remove'; readonly path: string }
  /** A guard: changes nothing, and nothing is done where the value is another one. */
  | { readonly op: 'test'; readonly path: string; readonly value: unknown };

type Changing = Exclude<Operation, { op: 'test' }>;

export interface Patched<T> {
  readonly value: T;
  /** Applied to `value` it gives back what was there before. */
  readonly inverse: readonly Operation[];
}

/** A patch that does not fit what it is applied to. Callers turn it into an answer; it never reaches a user raw. */
export class PatchError extends Error {}

/** RFC 6901: `~1` is a slash, `~0` a tilde. */
export function pointer(...tokens: readonly (string | number)[]): string {
  return tokens.map((t) => `/${String(t).replace(/~/g, '~0').replace(/\//g, '~1')}`).join('');
}

function tokensOf(path: string): string[] {
  if (path === '') return [];
  if (!path.startsWith('/')) throw new PatchError(`${path} is no JSON Pointer`);
  return path
    .slice(1)
    .split('/')
    .map((t) => t.replace(/~1/g, '/').replace(/~0/g, '~'));
}

/** The value at a JSON Pointer; undefined where it leads nowhere. */
export function valueAt(body: unknown, path: string): unknown {
  let at = body;
  for (const token of tokensOf(path)) {
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, token)) return undefined;
    at = (at as Record<string, unknown>)[token];
  }
  return at;
}

/** All operations or none. @throws {PatchError} where one does not fit. */
export function applyPatch<T>(value: T, operations: readonly Operation[]): Patched<T> {
  const patch = new Patch();
  let current: unknown = value;
  const inverse: Operation[] = [];
  for (const operation of operations) {
    if (operation.op === 'test') {
      testValue(current, operation);
      continue;
    }
    const step = patch.apply(current, tokensOf(operation.path), operation);
    current = step.value;
    inverse.push(step.inverse);
  }
  return { value: current as T, inverse: inverse.reverse() };
}

/** @throws {PatchError} where something else stands there, or nothing. */
export function testValue(target: unknown, { path, value }: Extract<Operation, { op: 'test' }>): void {
  let at = target;
  for (const token of tokensOf(path)) {
    const there = typeof at === 'object' && at !== null && Object.hasOwn(at, token);
    if (!there) throw new PatchError(`${path} leads nowhere`);
    at = (at as Record<string, unknown>)[token];
  }
  if (!sameJson(at, value)) throw new PatchError(`${path} holds something else by now`);
}

interface Step {
  readonly value: unknown;
  readonly inverse: Operation;
}

/**
 * One application of operations. Lists and objects are copied before they are changed, and each but once: a long list of
 * which many members change is not copied for each of them. What an inverse holds is out of reach by then.
 */
class Patch {
  private readonly owned = new WeakSet<object>();

  private own<T extends object>(target: T, copy: (target: T) => T): T {
    if (this.owned.has(target)) return target;
    const own = copy(target);
    this.owned.add(own);
    return own;
  }

  apply(target: unknown, tokens: readonly string[], operation: Changing): Step {
    const { path } = operation;
    const [token, ...rest] = tokens;
    if (token === undefined) {
      if (operation.op === 'remove') throw new PatchError('the whole cannot be removed');
      return { value: operation.value, inverse: { op: 'replace', path, value: target } };
    }
    if (Array.isArray(target)) return this.inArray(target, token, rest, operation);
    if (typeof target === 'object' && target !== null)
      return this.inObject(target as Record<string, unknown>, token, rest, operation);
    throw new PatchError(`${path} leads nowhere`);
  }

  private inArray(target: unknown[], token: string, rest: readonly string[], operation: Changing): Step {
    const { path } = operation;
    const appending = token === '-' && rest.length === 0 && operation.op === 'add';
    if (!appending && !/^(?:0|[1-9]\d{0,8})$/.test(token)) throw new PatchError(`${path} leads nowhere`);
    const index = appending ? target.length : Number(token);
    const last = rest.length === 0 && operation.op === 'add' ? target.length : target.length - 1;
    if (index > last) throw new PatchError(`${path} leads nowhere`);
    const before = target[index];
    const inner = rest.length > 0 ? this.apply(before, rest, operation) : undefined;
    const list = this.own(target, (t) => [...t]);
    if (inner) {
      list[index] = inner.value;
      return { value: list, inverse: inner.inverse };
    }
    const written = appending ? `${path.slice(0, -1)}${index}` : path;
    switch (operation.op) {
      case 'add':
        list.splice(index, 0, operation.value);
        return { value: list, inverse: { op: 'remove', path: written } };
      case 'remove':
        list.splice(index, 1);
        return { value: list, inverse: { op: 'add', path, value: before } };
      case 'replace':
        list[index] = operation.value;
        return { value: list, inverse: { op: 'replace', path, value: before } };
    }
  }

  private inObject(target: Record<string, unknown>, token: string, rest: readonly string[], operation: Changing): Step {
    const { path } = operation;
    const there = Object.hasOwn(target, token);
    if (!there && (rest.length > 0 || operation.op !== 'add')) throw new PatchError(`${path} leads nowhere`);
    const before = target[token];
    const inner = rest.length > 0 ? this.apply(before, rest, operation) : undefined;
    const object = this.own(target, (t) => ({ ...t }));
    if (inner) return { value: setMember(object, token, inner.value), inverse: inner.inverse };
    if (operation.op === 'remove') {
      Reflect.deleteProperty(object, token);
      return { value: object, inverse: { op: 'add', path, value: before } };
    }
    const inverse: Changing = there ? { op: 'replace', path, value: before } : { op: 'remove', path };
    return { value: setMember(object, token, operation.value), inverse };
  }
}

/** Whatever the name is: none of them reaches the prototype. */
const setMember = (object: object, name: string, value: unknown): object =>
  Object.defineProperty(object, name, { value, writable: true, enumerable: true, configurable: true });

/** The operations that turn one JSON value into another, member by member; lists of another length are replaced whole. */
export function difference(before: unknown, after: unknown, path = ''): Operation[] {
  if (Object.is(before, after)) return [];
  const isRecord = (v: unknown): v is Record<string, unknown> =>
    typeof v === 'object' && v !== null && !Array.isArray(v);
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return before.flatMap((v, i) => difference(v, after[i], path + pointer(i)));
  if (isRecord(before) && isRecord(after)) {
    const has = (k: string): boolean => Object.hasOwn(after, k) && after[k] !== undefined;
    const removed = Object.keys(before).filter((k) => !has(k) && before[k] !== undefined);
    return [
      ...removed.map((k): Operation => ({ op: 'remove', path: path + pointer(k) })),
      ...Object.entries(after)
        .filter(([, v]) => v !== undefined)
        .flatMap(([k, v]): Operation[] =>
          Object.hasOwn(before, k)
            ? difference(before[k], v, path + pointer(k))
            : [{ op: 'add', path: path + pointer(k), value: v }],
        ),
    ];
  }
  return [{ op: 'replace', path, value: after }];
}
