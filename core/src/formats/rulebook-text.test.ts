import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { dealBook } from '../testing/deals.ts';
import { sizeClass, rulebookOf } from '../testing/customers.ts';
import { rulebookMarkdown, rulebookText } from './rulebook-text.ts';

const mapped = {
  ...sizeClass,
  key: 'region',
  recordType: 'customer',
  name: 'Region | by country',
  kind: 'map',
  outcome: {
    source: { by: 'table', table: 'countries', keys: { country: 'Home country' } },
    onto: '',
    outputs: [{ value: 'region', target: 'region', way: 'replace' }],
    blank: { do: 'clear' },
    none: { do: 'leave' },
    several: { do: 'stop', message: 'Two.' },
  },
};

describe('a rulebook as text', () => {
  it('says every field, rule and row, and names instead of keys', () => {
    const book = dealBook([mapped as never]);
    const blocks = rulebookText(compileProgram(book));
    const text = JSON.stringify(blocks);
    for (const type of book.recordTypes) for (const f of type.fields) expect(text).toContain(f.name);
    for (const table of book.tables ?? []) {
      const found = blocks.find((b, i) => b.block === 'table' && JSON.stringify(blocks[i - 2]).includes(table.key));
      expect(found?.block === 'table' && found.rows).toHaveLength(table.rows.length);
    }
    const table = book.tables![0]!;
    expect(text).toContain(
      `Region comes from ${table.name}, looked up by Home country. Cleared when Home country is blank. Left as it is when Home country has no row. Not saved, with “Two.”, when Home country has several.`,
    );
  });

  it('as Markdown keeps what would be taken for markup', () => {
    const markdown = rulebookMarkdown(compileProgram(dealBook([mapped as never])));
    expect(markdown).toContain('### 1. Region \\| by country');
    const rows = markdown.split('\n').filter((l) => l.startsWith('| Region'));
    expect(rows).toHaveLength(1);
    expect(rows[0]!.replaceAll('\\|', '').split('|')).toHaveLength(6);
  });

  it('says what does not compile', () => {
    const broken = { ...sizeClass, condition: 'Emplyee count > 3' };
    const said = JSON.stringify(rulebookText(compileProgram(rulebookOf(broken))));
    expect(said).toMatch(/It does not compile: .*Emplyee count/);
  });
});
