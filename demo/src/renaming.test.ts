/** A rulebook under other names is the same rulebook: whatever is renamed in turn, its tests go on holding. */
import { compileProgram } from '@rigid-rule/core/compile';
import { createPatterns } from '@rigid-rule/core/host/patterns';
import { phoneNumber } from '@rigid-rule/core/host/phone-numbers';
import { zoneOffset } from '@rigid-rule/core/host/zones';
import { rename, type Renaming } from '@rigid-rule/core/refactor';
import { runTests } from '@rigid-rule/core/rule-tests';
import { expect, it } from 'vitest';
import { draft } from './index.ts';

const host = { zoneOffset, phone: phoneNumber, pattern: createPatterns() };

let names = 0;
const name = (): string => `Zest ${++names} new`;
const renamings: readonly Renaming[] = [
  ...draft.recordTypes.flatMap(({ key: recordType, fields }): readonly Renaming[] => [
    { what: 'plural', recordType, name: name() },
    ...fields.flatMap((f): readonly Renaming[] => [
      { what: 'field', recordType, key: f.key, name: name() },
      ...(f.options ?? []).map(
        (o) => ({ what: 'option', recordType, field: f.key, key: o.key, name: name() }) as const,
      ),
    ]),
  ]),
  ...(draft.tables ?? []).flatMap(({ key: table, keys, outputs }): readonly Renaming[] => [
    { what: 'table', key: table, name: name() },
    ...[...keys, ...outputs].map(({ key }) => ({ what: 'column', table, key, name: name() }) as const),
  ]),
];
/** All of them take ten seconds. */
const step = 3;

it('whatever is renamed, in turn', { timeout: 120_000 }, () => {
  let book = draft;
  const told = new Set<string>();
  for (const renaming of renamings.filter((_, i) => i % step === 0)) {
    const done = rename(book, renaming);
    if ('problem' in done) throw new Error(`${JSON.stringify(renaming)}: ${done.problem}`);
    // What a record is made from may be of any type: such formulas are left, and said to be.
    for (const { text } of done.left) told.add(text.replace(/origin\.[\w ]+/g, 'origin'));
    if (done.left.length === 0) book = done.rulebook;
  }
  expect([...told].filter((text) => !text.includes('origin'))).toEqual([]);
  const program = compileProgram(book, host);
  expect(program.broken).toEqual([]);
  const failing = runTests(program, book.tests ?? []).filter((r) => r.failures.length > 0);
  expect(failing.map((r) => [r.test.name, ...r.failures])).toEqual([]);
});
