/** Formulas said as people say them, for sentences that are read and never parsed again. */
import type { Expression } from '../expression/ast.ts';
import { createFormula } from '../expression/formula.ts';
import { createScope, originName, previousName, userName, type Scope } from '../expression/scope.ts';
import { fieldTypeOf } from '../field-types/index.ts';
import type { Field, MappingTable, RecordType, Rulebook } from '../../document/document.ts';
import { plainWriting, type Writing } from '../types/writing.ts';
import { enumerate } from './prose.ts';
import { spokenValue, writtenLoose } from './written.ts';
import { findComparison, rowsOf, type ConditionGroup, type ConditionRow } from './condition-rows.ts';

/** What a sentence about rules of one record type draws on. */
export interface SentenceWords {
  readonly recordTypes: readonly RecordType[];
  readonly tables: readonly MappingTable[];
  readonly writing: Writing;
  /** A formula that is one value reads as the value: `1250` as `1,250`, `"Red"` as `Red`; others stay as written. */
  value(formula: string, field?: Field): string;
  /** `Stage moves back from Proposal to Surveyed`; what does not fit rows stays as written. */
  condition(formula: string): string;
}

type Book = Pick<Rulebook, 'recordTypes'> & Partial<Rulebook>;

export function sentenceWords(
  recordType: RecordType,
  book: Book = { recordTypes: [recordType] },
  writing: Writing = plainWriting,
): SentenceWords {
  let made: Scope | undefined;
  const scope = (): Scope => (made ??= createScope(recordType, book));
  return {
    recordTypes: book.recordTypes,
    tables: book.tables ?? [],
    writing,
    value(formula, field) {
      const { expression } = createFormula(formula, scope());
      if (!expression) return formula.trim();
      return literalWords(expression, field, writing) ?? askedWords(expression) ?? formula.trim().replace(/\s+/g, ' ');
    },
    condition(formula) {
      const rows = rowsOf(formula, scope());
      if (!rows || rows.items.length === 0) return formula.trim().replace(/\s+/g, ' ');
      const words = (text: string, field: Field | undefined): string => {
        const { expression } = createFormula(text, scope());
        return (expression && literalWords(expression, field, writing)) ?? text;
      };
      return groupWords(rows, { recordType, book, words }, true);
    },
  };
}

/** Words for all record types of a rulebook: what they draw on is worked out once for each, however many rules are told. */
export function rulebookWords(book: Book, writing?: Writing): (recordType: RecordType) => SentenceWords {
  const made = new Map<string, SentenceWords>();
  return (recordType) => {
    let words = made.get(recordType.key);
    if (!words) made.set(recordType.key, (words = sentenceWords(recordType, book, writing)));
    return words;
  };
}

/** Undefined where the expression is more than one written value, or a list of such. */
function literalWords(e: Expression, field: Field | undefined, writing: Writing): string | undefined {
  if (e.kind === 'list') {
    const items = e.items.map((i) => literalWords(i, field, writing));
    return items.every((i) => i !== undefined) ? items.join(', ') || 'nothing' : undefined;
  }
  if (e.kind !== 'literal') return undefined;
  const { value } = e;
  if (value === null) return 'blank';
  const coerced = field && fieldTypeOf(field).coerce(value, field);
  if (coerced && 'value' in coerced && coerced.value !== null) {
    const shown = spokenValue(field, coerced.value, writing);
    return shown === value ? textWords(shown) : shown;
  }
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string') return textWords(value);
  return writtenLoose(value, writing);
}

/** In quotation marks where a text could be taken for more than one, or for none. */
const textWords = (text: string): string => (/^$|^\s|\s$|[,;]/.test(text) ? `“${text}”` : text);

const ofUser: Readonly<Record<string, string>> = {
  contact: 'the contact of',
  name: 'the name of',
  email: 'the email of',
};

/** What is asked of the clock, of who writes, of the record as it was and of where it came from, in words. */
function askedWords(e: Expression): string | undefined {
  if (e.kind === 'call' && e.arguments.length === 0)
    return e.name === 'today' ? 'the present day' : e.name === 'now' ? 'the present moment' : undefined;
  if (e.kind !== 'path' || e.object.kind !== 'name') return undefined;
  if (e.object.name === previousName) return `what ${e.name} was before`;
  if (e.object.name === originName) return `the ${e.name} that it was made from`;
  return e.object.name === userName && ofUser[e.name] ? `${ofUser[e.name]} whoever writes` : undefined;
}

interface Around {
  readonly recordType: RecordType;
  readonly book: Book;
  readonly words: (text: string, field: Field | undefined) => string;
}

const isPrevious = (subject: string): boolean => subject.startsWith(`${previousName}.`);
const ofNow = (subject: string): string => (isPrevious(subject) ? subject.slice(previousName.length + 1) : subject);

/** The field that a path of names ends at. */
function fieldAt(subject: string, { recordType, book }: Around): Field | undefined {
  let type: RecordType | undefined = recordType;
  let field: Field | undefined;
  for (const name of ofNow(subject).split('.')) {
    field = type?.fields.find((f) => f.name === name.trim());
    type = field?.recordType === undefined ? undefined : book.recordTypes.find((t) => t.key === field?.recordType);
  }
  return field;
}

const isGroup = (item: ConditionRow | ConditionGroup): item is ConditionGroup => item.kind === 'group';

function groupWords({ items, join }: ConditionGroup, around: Around, outermost: boolean): string {
  const rest = join === 'all' ? mergeMoves(items, around) : items.map((i) => itemWords(i, around));
  const text = rest.join(join === 'all' ? ' and ' : ' or ');
  return outermost || rest.length < 2 ? text : `(${text})`;
}

const itemWords = (item: ConditionRow | ConditionGroup, around: Around): string =>
  isGroup(item) ? groupWords(item, around, false) : rowWords(item, around);

/** How a row that says that a field moved reads, before *from* and *to*. */
const moves: Readonly<Record<string, string>> = {
  changed: 'changes',
  forward: 'moves forward',
  back: 'moves back',
};

function rowWords(row: ConditionRow, around: Around): string {
  const field = fieldAt(row.subject, around);
  const subject = isPrevious(row.subject) ? `${ofNow(row.subject)} before` : row.subject;
  const move = moves[row.comparison];
  if (move) return `${subject} ${move}`;
  const { name, takes } = findComparison(row.comparison)!;
  const values = row.values.map((v) => around.words(v, field));
  if (takes === 'none') return `${subject} ${name}`;
  return `${subject} ${name} ${takes === 'many' ? enumerate(values, 'or') : values.join(' and ')}`;
}

/** Rows of one field that together say a move read as one: from what it was, to what it is. */
function mergeMoves(items: ConditionGroup['items'], around: Around): readonly string[] {
  const rows = items.filter((i): i is ConditionRow => !isGroup(i));
  const is = (subject: string): ConditionRow | undefined =>
    rows.find((r) => r.subject === subject && (r.comparison === 'is' || r.comparison === 'one of'));
  const merged = new Map<ConditionRow | ConditionGroup, string | null>();
  for (const row of rows) {
    const move = moves[row.comparison];
    if (!move || isPrevious(row.subject)) continue;
    const [from, to] = [is(`${previousName}.${row.subject}`), is(row.subject)];
    const field = fieldAt(row.subject, around);
    const end = (word: string, r: ConditionRow | undefined): string =>
      r
        ? ` ${word} ${enumerate(
            r.values.map((v) => around.words(v, field)),
            'or',
          )}`
        : '';
    merged.set(row, `${row.subject} ${move}${end('from', from)}${end('to', to)}`);
    for (const part of [from, to]) if (part) merged.set(part, null);
  }
  return items.flatMap((item) => {
    const said = merged.get(item);
    return said === undefined ? [itemWords(item, around)] : said === null ? [] : [said];
  });
}
