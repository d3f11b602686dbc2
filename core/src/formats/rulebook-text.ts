/** A whole rulebook in sentences, for review and audit: as blocks that a page draws, and as Markdown. */
import { partOfFinding } from '../analysis/accepted.ts';
import { counted } from '../language/wording/prose.ts';
import { sentenceWords, type SentenceWords } from '../language/wording/words.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { optionList } from '../language/wording/option-list.ts';
import { writtenLoose } from '../language/wording/written.ts';
import type { Writing } from '../language/types/writing.ts';
import { cellText } from '../compile/mapping/cells.ts';
import { ruleSentence } from '../compile/rule-kinds/sentence.ts';
import type { Field, MappingTable } from '../document/document.ts';
import { slotAt } from '../document/slots.ts';

export type TextBlock =
  | { readonly block: 'heading'; readonly level: 1 | 2 | 3; readonly text: string; readonly id: string }
  /** `said`: what a rule does; `wrong`: what is wrong with it; else what is said about it. */
  | { readonly block: 'paragraph'; readonly text: string; readonly tone?: 'said' | 'wrong' }
  /** Label and what is said of it. */
  | { readonly block: 'lines'; readonly lines: readonly (readonly [string, string])[] }
  | {
      readonly block: 'table';
      readonly head: readonly string[];
      readonly rows: readonly (readonly string[])[];
    };

const heading = (level: 1 | 2 | 3, text: string, id: string): TextBlock => ({ block: 'heading', level, text, id });
const paragraph = (text: string, tone?: 'said' | 'wrong'): TextBlock => ({
  block: 'paragraph',
  text,
  ...(tone ? { tone } : {}),
});

/** Everything that the rulebook says, in reading order: record types with their fields and rules, tables, acceptances. */
export function rulebookText(program: Program): TextBlock[] {
  const { rulebook } = program;
  const types = [...program.types.values()];
  const tables = rulebook.tables ?? [];
  const blocks: TextBlock[] = [
    heading(1, rulebook.name, 'rulebook'),
    paragraph(
      `${counted(types.length, 'record type')}, ${counted(rulebook.rules.length, 'rule')}, ${counted(tables.length, 'mapping table')}, ${counted(rulebook.tests?.length ?? 0, 'test')}. Time zone ${rulebook.zone}, currency ${rulebook.currency}.`,
    ),
  ];
  for (const type of types) blocks.push(...typeText(type, program));
  if (tables.length > 0) blocks.push(heading(2, 'Mapping tables', 'tables'));
  for (const table of tables) blocks.push(...tableText(table, program.writing));
  const accepted = rulebook.accepted ?? [];
  if (accepted.length > 0)
    blocks.push(heading(2, 'Findings that were accepted', 'accepted'), {
      block: 'lines',
      lines: accepted.map((a) => [partOfFinding(a.finding, rulebook), a.reason]),
    });
  return blocks;
}

function typeText(type: TypeProgram, program: Program): TextBlock[] {
  const { recordType, rules } = type;
  const words = sentenceWords(recordType, program.rulebook, program.writing);
  const written = new Map(
    type.slots
      .map((_, i) => slotAt(i))
      .map((slot) => [slot, rules.filter((r) => r.writes.includes(slot)).map((r) => r.rule.name)]),
  );
  return [
    heading(2, recordType.plural, recordType.key),
    {
      block: 'table',
      head: ['Field', 'Type', 'What it holds', 'Written by'],
      rows: recordType.fields.map((f, i) => [
        f.name,
        fieldTypeOf(f).name,
        fieldText(f, program),
        written.get(slotAt(i))!.join('; ') || 'people and programs',
      ]),
    },
    ...(rules.length > 0
      ? [paragraph(`${counted(rules.length, 'rule')}, in the order in which they run.`)]
      : [paragraph('No rule looks at them.')]),
    ...rules.flatMap((r, i) => ruleText(r, i + 1, type, words)),
  ];
}

function fieldText(f: Field, { rulebook, writing }: Program): string {
  const linked = rulebook.recordTypes.find((t) => t.key === f.recordType)?.name.toLowerCase();
  return [
    f.help,
    optionList(f),
    linked && `a ${linked}`,
    f.required && 'required',
    f.unique && 'unique',
    f.min !== undefined && `from ${writtenLoose(f.min, writing)}`,
    f.max !== undefined && `to ${writtenLoose(f.max, writing)}`,
    f.scale !== undefined && (f.scale < 0 ? 'never rounded' : counted(f.scale, 'decimal')),
  ]
    .filter((part): part is string => typeof part === 'string' && part !== '')
    .join('; ');
}

function ruleText(
  { rule, compiles, diagnostics }: CompiledRule,
  order: number,
  type: TypeProgram,
  words: SentenceWords,
) {
  const { recordType } = type;
  return [
    heading(3, `${order}. ${rule.name}`, rule.key),
    paragraph(ruleSentence(rule, recordType, words), 'said'),
    ...(rule.purpose ? [paragraph(rule.purpose)] : []),
    ...(compiles ? [] : [paragraph(`It does not compile: ${diagnostics.map((d) => d.message).join(' ')}`, 'wrong')]),
  ];
}

function tableText(table: MappingTable, writing: Writing): TextBlock[] {
  const columns = [...table.keys, ...table.outputs];
  const blank = (isKey: boolean, cell: string): string => (cell === 'any' && !isKey ? '' : cell);
  return [
    heading(3, table.name, table.key),
    ...(table.purpose ? [paragraph(table.purpose)] : []),
    paragraph(`Hit policy ${table.hitPolicy}${table.aggregation ? `, ${table.aggregation}` : ''}.`),
    {
      block: 'table',
      head: columns.map((c, i) => (i < table.keys.length ? `${c.name} (key)` : c.name)),
      rows: table.rows.map((row) => columns.map((c, i) => blank(i < table.keys.length, cellText(row[c.key], writing)))),
    },
  ];
}

const escaped = (text: string): string => text.replace(/([\\`*_[\]<>|#])/g, '\\$1').replace(/\s*\n\s*/g, ' ');

/** GitHub-flavoured Markdown, which most tools read. */
export function rulebookMarkdown(program: Program): string {
  const parts = rulebookText(program).map((b) => {
    if (b.block === 'heading') return `${'#'.repeat(b.level)} ${escaped(b.text)}`;
    if (b.block === 'paragraph') return escaped(b.text);
    if (b.block === 'lines')
      return b.lines.map(([label, text]) => `- **${escaped(label)}**: ${escaped(text)}`).join('\n');
    const line = (cells: readonly string[]): string => `| ${cells.map(escaped).join(' | ')} |`;
    return [line(b.head), line(b.head.map(() => '---')), ...b.rows.map(line)].join('\n').replaceAll('\\---', '---');
  });
  return `${parts.join('\n\n')}\n`;
}
