/** The published schema and the types of the document say the same; whole documents pass it, broken ones do not. */
import Ajv2020 from 'ajv/dist/2020.js';
import type { FromSchema } from 'json-schema-to-ts';
import { readFileSync } from 'node:fs';
import { describe, expect, expectTypeOf, it } from 'vitest';
import { dealBook, ruleOf, setTo } from '../testing/deals.ts';
import type { Cell, Field, MappingTable, RecordType, Rule, RuleTest, Rulebook, SampleRecord } from './document.ts';
import { rulebookSchema } from './schema.ts';

type Mutable<T> = T extends readonly (infer I)[]
  ? Mutable<I>[]
  : T extends object
    ? { -readonly [K in keyof T]: Mutable<T[K]> }
    : T;
type Described = FromSchema<typeof rulebookSchema>;

describe('the schema', () => {
  it('describes the types of the document, part by part', () => {
    expectTypeOf<Mutable<RecordType>>().toExtend<Described['recordTypes'][number]>();
    expectTypeOf<Described['recordTypes'][number]>().toExtend<RecordType>();
    expectTypeOf<keyof Described>().toEqualTypeOf<keyof Rulebook>();
    expectTypeOf<keyof Described['recordTypes'][number]['fields'][number]>().toEqualTypeOf<keyof Field>();
    expectTypeOf<keyof Described['rules'][number]>().toEqualTypeOf<keyof Rule>();
    expectTypeOf<Described['rules'][number]['repeat']>().toEqualTypeOf<Rule['repeat']>();
    expectTypeOf<Described['rules'][number]['winner']>().toEqualTypeOf<Rule['winner']>();
    expectTypeOf<Mutable<SampleRecord>>().toExtend<NonNullable<Described['samples']>[number]>();
    expectTypeOf<NonNullable<Described['tests']>[number]>().toExtend<RuleTest>();
    expectTypeOf<NonNullable<Described['tables']>[number]['hitPolicy']>().toEqualTypeOf<MappingTable['hitPolicy']>();
    expectTypeOf<keyof NonNullable<Described['tables']>[number]>().toEqualTypeOf<keyof MappingTable>();
    expectTypeOf<NonNullable<Described['tables']>[number]['rows'][number][string]>().toExtend<Cell>();
  });

  it('is the one that is published', () => {
    const published = new URL('../../../docs/rulebook.schema.json', import.meta.url);
    expect(JSON.parse(readFileSync(published, 'utf8'))).toEqual(rulebookSchema);
  });

  it.each<[string, object, boolean]>([
    ['a whole document', {}, true],
    ['no rules', { rules: undefined }, false],
    ['a member that there is not', { colour: 'red' }, false],
    ['another format', { format: 'rigid-rule/0' }, false],
    ['a cell that is none', { tables: [{ ...dealBook([]).tables![0], rows: [{ country: { like: 'P' } }] }] }, false],
  ])('%s', (_, more, valid) => {
    const book = dealBook([ruleOf('deal', 'derive', setTo('title', 'Customer.Name'))]);
    const document: unknown = JSON.parse(JSON.stringify({ ...book, ...more }));
    expect(new Ajv2020({ allowUnionTypes: true }).validate(rulebookSchema, document)).toBe(valid);
  });
});
