/** From the rows of a table to others in few words: what is told of a long table should not be all of it. */
import { sameJson, type MappingTable, type Operation } from '@rigid-rule/core/document';

type Rows = MappingTable['rows'];

/** Fewer changes than this are told one by one, however short the table is. */
const few = 200;

/**
 * The operations that turn rows into others: one for each row that is put in the place of another, comes at the end or
 * goes, as long as most rows stay; otherwise all of them at once.
 */
export function rowOperations(before: Rows, after: Rows): readonly Operation[] {
  const operations = after.length < before.length ? removals(before, after) : replacements(before, after);
  const most = Math.max(few, after.length / 2);
  return operations && operations.length <= most ? operations : [{ op: 'replace', path: '/rows', value: after }];
}

function replacements(before: Rows, after: Rows): readonly Operation[] {
  return after.flatMap((row, i): readonly Operation[] => {
    if (i >= before.length) return [{ op: 'add', path: '/rows/-', value: row }];
    const was = before[i]!;
    return row === was || sameJson(row, was) ? [] : [{ op: 'replace', path: `/rows/${i}`, value: row }];
  });
}

/** Undefined where what is left is more than rows of before, in their order. */
function removals(before: Rows, after: Rows): readonly Operation[] | undefined {
  const gone: number[] = [];
  let at = 0;
  for (const [i, row] of before.entries()) {
    if (at < after.length && after[at] === row) at++;
    else gone.push(i);
  }
  // From the end, so that no place moves before it is named.
  return at < after.length ? undefined : gone.reverse().map((i) => ({ op: 'remove', path: `/rows/${i}` }));
}
