import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { canonicalJson } from './canonical.ts';
import { applyPatch, difference, PatchError, pointer, type Operation } from './patch.ts';

function frozen<T>(value: T): T {
  if (typeof value === 'object' && value !== null) Object.values(Object.freeze(value)).forEach(frozen);
  return value;
}

describe('JSON Patch', () => {
  // RFC 6902, Appendix A.
  it.each<[string, unknown, Operation, unknown]>([
    [
      'A.1 adding an object member',
      { foo: 'bar' },
      { op: 'add', path: '/baz', value: 'qux' },
      { baz: 'qux', foo: 'bar' },
    ],
    [
      'A.2 adding an array element',
      { foo: ['bar', 'baz'] },
      { op: 'add', path: '/foo/1', value: 'qux' },
      { foo: ['bar', 'qux', 'baz'] },
    ],
    ['A.3 removing an object member', { baz: 'qux', foo: 'bar' }, { op: 'remove', path: '/baz' }, { foo: 'bar' }],
    [
      'A.4 removing an array element',
      { foo: ['bar', 'qux', 'baz'] },
      { op: 'remove', path: '/foo/1' },
      { foo: ['bar', 'baz'] },
    ],
    [
      'A.5 replacing a value',
      { baz: 'qux', foo: 'bar' },
      { op: 'replace', path: '/baz', value: 'boo' },
      { baz: 'boo', foo: 'bar' },
    ],
    [
      'A.10 adding a nested member object',
      { foo: 'bar' },
      { op: 'add', path: '/child', value: { grandchild: {} } },
      { foo: 'bar', child: { grandchild: {} } },
    ],
    [
      'A.16 adding an array value',
      { foo: ['bar'] },
      { op: 'add', path: '/foo/-', value: ['abc', 'def'] },
      { foo: ['bar', ['abc', 'def']] },
    ],
  ])('%s', (_, before, operation, after) => {
    const { value, inverse } = applyPatch(before, [operation]);
    expect(value).toEqual(after);
    expect(applyPatch(value, inverse).value).toEqual(before);
  });

  it.each<[string, unknown, Operation]>([
    ['A.12 adding to a nonexistent target', { foo: 'bar' }, { op: 'add', path: '/baz/bat', value: 'qux' }],
    ['a place behind the end', { a: [1] }, { op: 'add', path: '/a/3', value: 1 }],
    ['a leading zero', { a: [1, 2] }, { op: 'remove', path: '/a/01' }],
    ['a member that is not there', {}, { op: 'remove', path: '/constructor' }],
    ['no pointer at all', {}, { op: 'remove', path: 'a' }],
    ['the whole taken away', { a: 1 }, { op: 'remove', path: '' }],
    ['a way through what has no members', { a: 1 }, { op: 'add', path: '/a/b/c', value: 1 }],
    ['A.9 a test of another value', { a: ['b'] }, { op: 'test', path: '/a', value: ['c'] }],
    ['a test of what is not there', { a: 1 }, { op: 'test', path: '/b', value: null }],
    ['a test behind the end', { a: 'x' }, { op: 'test', path: '/a/0', value: 'x' }],
  ])('refuses %s', (_, before, operation) => {
    expect(() => applyPatch(before, [operation])).toThrow(PatchError);
  });

  it('A.8 a test that holds changes nothing, and is no part of the way back', () => {
    const test = { op: 'test', path: '/a/1/b', value: { y: 1, x: [2] } } as const;
    const before = { a: [0, { b: { x: [2], y: 1 } }] };
    expect(applyPatch(before, [test])).toEqual({ value: before, inverse: [] });
  });

  it('escapes slashes and tildes in names (RFC 6901)', () => {
    const path = pointer('a/b', 'm~n');
    expect(path).toBe('/a~1b/m~0n');
    expect(applyPatch({ 'a/b': { 'm~n': 1 } }, [{ op: 'replace', path, value: 2 }]).value).toEqual({
      'a/b': { 'm~n': 2 },
    });
  });

  it('names that every object inherits are names like others', () => {
    expect(difference({ valueOf: 0 }, {})).toEqual([{ op: 'remove', path: '/valueOf' }]);
  });

  const json = fc.jsonValue({ maxDepth: 3 });
  it('the difference of two values leads from one to the other, and its inverse back', () => {
    fc.assert(
      fc.property(json, json, (a, b) => {
        const { value, inverse } = applyPatch(a, difference(a, b));
        expect(canonicalJson(value)).toBe(canonicalJson(b));
        expect(canonicalJson(applyPatch(value, inverse).value)).toBe(canonicalJson(a));
      }),
    );
  });

  it('many operations at once do what they do one by one, and change nothing that they are given', () => {
    fc.assert(
      fc.property(json, json, json, (a, b, c) => {
        const operations = frozen([...difference(a, b), ...difference(b, c), ...difference(c, a), ...difference(a, b)]);
        const { value, inverse } = applyPatch(frozen(a), operations);
        expect(canonicalJson(value)).toBe(canonicalJson(b));
        expect(canonicalJson(applyPatch(frozen(value), frozen(inverse)).value)).toBe(canonicalJson(a));
        const one = operations.reduce((at, operation) => applyPatch(at, [operation]).value, a);
        expect(canonicalJson(one)).toBe(canonicalJson(value));
      }),
    );
  });
});
