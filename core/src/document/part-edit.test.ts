import fc from 'fast-check';
import { expect, it } from 'vitest';
import { PatchError, type Operation } from './patch.ts';
import { creating, editPartBody, removing, type PartBody } from './part-edit.ts';

const cases: readonly (readonly [string, PartBody, readonly Operation[], PartBody])[] = [
  ['is made where it is not', undefined, [creating({ a: 1 })], { a: 1 }],
  ['is changed once it is made', undefined, [creating({ a: 1 }), { op: 'replace', path: '/a', value: 2 }], { a: 2 }],
  ['is taken away', { a: 1 }, [removing], undefined],
  ['is replaced whole', { a: 1 }, [{ op: 'replace', path: '', value: { b: 2 } }], { b: 2 }],
  ['is changed inside', { a: 1 }, [{ op: 'add', path: '/b', value: 2 }], { a: 1, b: 2 }],
  ['comes and goes in one edit', undefined, [creating({}), removing], undefined],
];

it.each(cases)('a part %s, and its inverse gives back what was there', (_, before, operations, after) => {
  const { body, inverse } = editPartBody(before, operations);
  expect(body).toEqual(after);
  expect(editPartBody(body, inverse).body).toEqual(before);
});

const misfits: readonly (readonly [string, PartBody, Operation])[] = [
  ['made where there is one', { a: 1 }, creating({})],
  ['taken away where there is none', undefined, removing],
  ['changed where there is none', undefined, { op: 'replace', path: '/a', value: 1 }],
  ['made of a list', undefined, { op: 'add', path: '', value: [] }],
  ['replaced by a number', { a: 1 }, { op: 'replace', path: '', value: 3 }],
];

it.each(misfits)('no part is %s', (_, before, operation) => {
  expect(() => editPartBody(before, [operation])).toThrow(PatchError);
});

it('any run of edits is undone to the start', () => {
  const member = fc.constantFrom('a', 'b');
  const edit = fc.oneof(
    fc.record({ op: fc.constant('add' as const), path: member.map((m) => `/${m}`), value: fc.integer() }),
    fc.record({ op: fc.constant('replace' as const), path: fc.constant(''), value: fc.dictionary(member, fc.nat()) }),
  );
  fc.assert(
    fc.property(fc.dictionary(member, fc.integer()), fc.array(edit), fc.boolean(), (before, edits, gone) => {
      const { body, inverse } = editPartBody(before, gone ? [...edits, removing] : edits);
      expect(editPartBody(body, inverse).body).toEqual(before);
    }),
  );
});
