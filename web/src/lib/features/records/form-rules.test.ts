/** Mapping tables on a form: which come along, and a form that asks for the rows of the others. */
import { compileProgram } from '@rigid-rule/core/compile';
import type { MappingTable, Rule, Rulebook } from '@rigid-rule/core/document';
import { describe, expect, it } from 'vitest';
import { rulebookOf, sizeClass } from '../../../../../core/src/testing/customers.ts';
import { rulesOnForm } from './form-rules.ts';
import { formInMemory, MemoryServer } from './memory-server.ts';

const table: MappingTable = {
  key: 'ranks',
  name: 'Ranks',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'kind', name: 'Kind', type: 'text' }],
  outputs: [{ key: 'rank', name: 'Rank', type: 'number' }],
  rows: [
    { kind: 'Orchard', rank: 7 },
    { kind: 'Vineyard', rank: 9 },
    ...Array.from({ length: 400 }, (_, i) => ({ kind: `Kind ${i}`, rank: i })),
  ],
};
const ranked: Rule = {
  ...sizeClass,
  key: 'rank',
  name: 'Rank of the kind',
  kind: 'map',
  outcome: {
    source: { by: 'table', table: 'ranks', keys: { kind: 'Kind' } },
    outputs: [{ target: 'rank', value: 'rank' }],
    none: { do: 'clear' },
    several: { do: 'clear' },
  },
};
const counted: Rule = {
  ...ranked,
  key: 'counted',
  kind: 'derive',
  outcome: { steps: [{ target: 'area', formula: 'count(Ranks)', scratch: '', blank: 'clear' }] },
};
const book = (...rules: readonly Rule[]): Rulebook => ({ ...rulebookOf(...rules), tables: [table] });
const identity = { recordType: 'customer', form: 'full' };
const rowsOf = (rules: Rulebook): readonly number[] => (rules.tables ?? []).map((t) => t.rows.length);

describe('the rules of a form', () => {
  it.each<readonly [string, Rulebook, number | undefined, readonly number[], readonly string[]]>([
    ['a long table stays behind', book(ranked), undefined, [0], ['ranks']],
    ['a short one comes along', book(ranked), 402, [402], []],
    ['one that a formula looks at as a whole comes along', book(ranked, counted), undefined, [402], []],
    [
      'one that a condition counts comes along',
      book({ ...ranked, condition: 'count(Ranks) > 3' }),
      undefined,
      [402],
      [],
    ],
    ['one that no rule asks is no part of them', book(sizeClass), undefined, [], []],
  ])('%s', (_, rulebook, most, rows, elsewhere) => {
    const program = compileProgram(rulebook);
    expect(program.broken).toEqual([]);
    const rules = rulesOnForm(program, 'customer', most);
    expect([rowsOf(rules.rulebook), rules.rowsElsewhere]).toEqual([rows, elsewhere]);
  });

  it('ask for the rows that the record needs, once, and go on with them after it is saved', async () => {
    const server = new MemoryServer(book(ranked), 'customer');
    const asked: unknown[] = [];
    const form = formInMemory(book(ranked), identity, 1, {
      ...server,
      rows: (queries, release) => {
        asked.push(...queries);
        return server.rows(queries, release);
      },
    });
    const kind = async (v: string) => {
      form.commit('kind', v);
      const waited = form.waits;
      await form.answerAsks();
      return [waited, form.value('rank'), form.settlement.trace.find((t) => t.rule === 'rank')?.outcomes[0]?.branch];
    };
    form.commit('name', 'Alder');
    expect(await kind('vineyard')).toEqual([true, 9, 1]);
    expect(await kind('orchard')).toEqual([true, 7, 0]);
    expect(await kind('vineyard')).toEqual([false, 9, 1]);
    expect(asked).toEqual(['Vineyard', 'Orchard'].map((name) => ({ table: 'ranks', keys: [`s${name}`] })));
    expect((await form.save()).outcome).toBe('saved');
    expect(await kind('orchard')).toEqual([false, 7, 0]);
    expect(asked).toHaveLength(2);
  });

  it('are asked to the end before it is saved, where what one table gives is looked up in another', async () => {
    const areas: MappingTable = {
      ...table,
      key: 'areas',
      name: 'Areas',
      keys: [{ key: 'rank', name: 'Rank', type: 'number' }],
      outputs: [{ key: 'area', name: 'Area', type: 'number' }],
      rows: [{ rank: 9, area: 1.5 }],
    };
    const measured: Rule = {
      ...ranked,
      key: 'area',
      name: 'Area of the rank',
      outcome: {
        ...(ranked.outcome as object),
        source: { by: 'table', table: 'areas', keys: { rank: 'Rank' } },
        outputs: [{ target: 'area', value: 'area' }],
      },
    };
    const chained = { ...book(ranked, measured), tables: [table, areas] };
    const form = formInMemory(chained, identity, 1, new MemoryServer(chained, 'customer'));
    form.commit('name', 'Alder');
    form.commit('kind', 'vineyard');
    // Nobody has answered anything yet.
    expect(form.saving.verdict).toBe('waiting');
    expect(await form.save()).toMatchObject({ outcome: 'saved', settlement: { data: { rank: 9, area: 1.5 } } });
  });
});
