/** What an undo takes back is what its author changed, or nothing. */
import { editPartBody, PatchError, type Operation } from '@rigid-rule/core/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { takenBack, type PartChange } from './parts.ts';

const ref = { kind: 'table', key: 't' } as const;
const table = { name: 'T', rows: [{ a: 1 }, { a: 2 }, { a: 3 }] };

function changed(body: object, operations: readonly Operation[]): { body: object; change: PartChange } {
  const { body: now, inverse } = editPartBody(body, operations);
  return { body: now!, change: { ref, operations, inverse } };
}
const undone = (body: object, change: PartChange) => editPartBody(body, takenBack([change])[0]!.operations).body;

describe('an undo', () => {
  it.each<[string, Operation[]]>([
    ['a cell', [{ op: 'replace', path: '/rows/1/a', value: 9 }]],
    ['a new member', [{ op: 'add', path: '/rows/1/b', value: 9 }]],
    ['a row behind', [{ op: 'add', path: '/rows/-', value: { a: 4 } }]],
    ['a row between', [{ op: 'add', path: '/rows/1', value: { a: 4 } }]],
    ['a row less', [{ op: 'remove', path: '/rows/1' }]],
    [
      'several at once',
      [
        { op: 'remove', path: '/rows/0' },
        { op: 'replace', path: '/rows/0/a', value: 7 },
      ],
    ],
  ])('of %s gives back what was there', (_, operations) => {
    const { body, change } = changed(table, operations);
    expect(undone(body, change)).toEqual(table);
  });

  it.each<[string, Operation[], Operation]>([
    [
      'a row was put before it',
      [{ op: 'replace', path: '/rows/1/a', value: 9 }],
      { op: 'add', path: '/rows/0', value: { a: 0 } },
    ],
    ['its row was taken out', [{ op: 'add', path: '/rows/3', value: { a: 4 } }], { op: 'remove', path: '/rows/3' }],
    [
      'the same cell was changed',
      [{ op: 'replace', path: '/rows/1/a', value: 9 }],
      { op: 'replace', path: '/rows/1/a', value: 5 },
    ],
    [
      'its new row was changed',
      [{ op: 'add', path: '/rows/-', value: { a: 4 } }],
      { op: 'replace', path: '/rows/3/a', value: 5 },
    ],
  ])('is refused where %s by somebody else meanwhile', (_, own, theirs) => {
    const mine = changed(table, own);
    const { body } = changed(mine.body, [theirs]);
    expect(() => undone(body, mine.change)).toThrow(PatchError);
  });

  it('done again and undone again comes to the same, whatever was done', () => {
    const operation = fc.oneof<fc.Arbitrary<Operation>[]>(
      fc
        .tuple(fc.nat({ max: 2 }), fc.nat({ max: 9 }))
        .map(([i, v]) => ({ op: 'replace', path: `/rows/${i}/a`, value: v })),
      fc.nat({ max: 9 }).map((v) => ({ op: 'add', path: '/rows/-', value: { a: v } })),
      fc.nat({ max: 2 }).map((i) => ({ op: 'add', path: `/rows/${i}`, value: { a: -1 } })),
      fc.string({ maxLength: 3 }).map((v) => ({ op: 'replace', path: '/name', value: v })),
    );
    fc.assert(
      fc.property(fc.array(operation, { minLength: 1, maxLength: 6 }), (operations) => {
        const first = changed(table, operations);
        const [back] = takenBack([first.change]);
        const second = changed(first.body, back!.operations);
        expect(second.body).toEqual(table);
        const [again] = takenBack([second.change]);
        expect(changed(second.body, again!.operations).body).toEqual(first.body);
      }),
    );
  });
});
