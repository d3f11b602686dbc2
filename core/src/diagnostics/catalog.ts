/**
 * The wording of everything that core reports, in one place. A diagnostic is a value: a code, a severity, a range in
 * the text it is about, and data. Core never throws at what a user wrote; it returns diagnostics.
 */

export type Severity = 'error' | 'warning' | 'info';

/** Offsets are UTF-16 code units into the text that was parsed; `to` is exclusive. */
export interface TextRange {
  readonly from: number;
  readonly to: number;
}

type Data = Readonly<Record<string, string | number | readonly string[]>>;

/** A sentence with the names of data in braces, or a function where more has to be made of them. */
type Sentence = string | ((d: Data) => string);

interface Entry {
  readonly severity: Severity;
  readonly text: Sentence;
}

const entry = (severity: Severity, text: Sentence): Entry => ({ severity, text });
/** `{didYouMean}`: the name that may have been meant, where one is near. */
const filled = (text: string, d: Data): string =>
  text.replace(/\{(\w+)\}/g, (_, name: string) => (name === 'didYouMean' ? nearest(d) : String(d[name])));
const grouped = (n: Data[string] | undefined): string => String(n).replace(/\B(?=(?:\d{3})+$)/g, ',');
const nearest = (d: Data): string => (d['nearest'] ? ` Did you mean ${String(d['nearest'])}?` : '');

export const catalog = {
  'syntax.empty': entry('error', 'The formula is empty.'),
  'syntax.incomplete': entry('error', (d) => `${String(d['what'] ?? 'Something')} is missing here.`),
  'syntax.unexpected': entry('error', '{found} does not belong here.{didYouMean}'),
  'syntax.operator': entry('error', 'The operator {found} stands without a value before it.'),
  'syntax.string': entry('error', 'The text is not closed with a quotation mark.'),
  'syntax.comment': entry('error', 'The comment is not closed with */.'),
  'syntax.number': entry('error', '{found} is not a number that can be held.'),
  'syntax.temporal': entry('error', '{found} is not a date, time or duration.'),
  'syntax.unsupported': entry('error', '{what} cannot be used in a rule.'),
  'syntax.too-long': entry('error', (d) => `The formula is longer than ${grouped(d['limit'])} characters.`),
  'syntax.too-many-words': entry('error', (d) => `The formula has more than ${grouped(d['limit'])} words and signs.`),
  'syntax.long-chain': entry(
    'error',
    (d) =>
      `More than ${grouped(d['limit'])} parts are joined here: list the values behind \`in\`, or use a mapping table.`,
  ),
  'syntax.too-deep': entry('error', 'The formula is nested deeper than {limit} levels.'),
  'name.unknown': entry('error', 'There is no field or value named {name}.{didYouMean}'),
  'name.unknown-function': entry('error', 'There is no function named {name}.{didYouMean}'),
  'name.previous-path': entry('error', '`previous` reaches one field of this record and no further.'),
  'option.unknown': entry('error', '{field} has no option {option}.{didYouMean}'),
  'option.unordered': entry('error', 'The options of {field} have no order to compare by.'),
  'type.operands': entry(
    'error',
    (d) =>
      `${String(d['operator'])} cannot take ${String(d['left'])} and ${String(d['right'])}.${d['nearest'] === undefined ? '' : ` Write ${String(d['nearest'])}.`}`,
  ),
  'type.operand': entry('error', '{operator} cannot take {left}.'),
  'type.member': entry('error', '{found} has no part named {name}.'),
  'type.call': entry('error', 'Only a function can be called; this is {found}.'),
  'type.condition': entry('error', 'A condition is true or false; this is {found}.'),
  'type.argument': entry('error', '{function} takes {expected} here, not {found}.'),
  'type.result': entry('error', '{field} takes {expected}; the formula gives {found}.'),
  'type.text': entry('error', '{field} is a text; the formula gives {found}. Write it out: {nearest}.'),
  'type.table': entry('error', '{name} is a whole table. Look one value up in it: {example}.'),
  'call.count': entry('error', '{function} takes {expected}.'),
  'call.name': entry('error', '{function} has no parameter named {name}.'),
  'call.field': entry('error', '{function} takes the name of a field.'),
  'compare.itself': entry('error', '{name} is compared with itself.'),
  'document.shape': entry('error', '{what} is left out: {place} {problem}.'),
  'document.setting-missing': entry(
    'error',
    (d) => `The rulebook does not say its ${String(d['name'])}: ${String(d['usual']) || 'none'} is taken.`,
  ),
  'document.key-twice': entry('error', 'The {kind} {name} has the key {key}, which another one has: it is left out.'),
  'document.option-twice': entry('error', '{name}: another option has this key.'),
  'document.option-name-twice': entry(
    'error',
    '{name}: two options are named {option}: nobody can tell which one is meant.',
  ),
  'document.option-names-another': entry(
    'error',
    '{name}: the option {option} is named as the option {other} is stored: nobody can tell which one is meant.',
  ),
  'document.bounds-crossed': entry('error', '{name} can hold no number: the least that it takes is above the most.'),
  'document.column-twice': entry('error', '{name}: two columns have the key {key}, and so the same cells.'),
  'document.options-of': entry(
    'error',
    '{name} shares the options of {key}, which is no field with options of its record type.',
  ),
  'document.name-twice': entry('error', 'Two {what} are named {name}.'),
  'rule.no-name': entry('error', 'The rule has no name.'),
  'rule.no-type': entry('error', 'There is no record type {type}.'),
  'rule.no-kind': entry('error', 'There is no kind of rule {kind}.'),
  'rule.no-target': entry('error', 'The field {field} that the rule writes is not there.'),
  'rule.never-acts': entry('error', 'No moment or no entry point is chosen, so the rule can never act.'),
  'rule.no-form': entry('error', 'There is no entry point {entry}.'),
  'rule.no-wake': entry('error', 'The field {field} that should wake the rule is not there.'),
  'outcome.empty': entry('error', 'The rule does nothing yet.'),
  'validate.no-message': entry('warning', 'There is no message for the people who will be stopped or warned.'),
  'band.empty': entry('error', 'There is no band yet.'),
  'band.result': entry('error', (d) =>
    d['value'] === ''
      ? `The ${String(d['branch'])} gives nothing yet.`
      : `The ${String(d['branch'])} gives ${String(d['value'])}, which ${String(d['problem'])}.`,
  ),
  'band.backwards': entry('error', 'The band {band} ends before it begins.'),
  'band.overlap': entry('error', 'The bands {first} and {second} overlap.'),
  'band.order': entry('error', 'The band {second} begins before {first}: bands stand in ascending order.'),
  'band.gap': entry('warning', 'Between the bands {first} and {second} there is a gap.'),
  'band.source': entry(
    'error',
    (d) => `This needs ${String(d['wanted'] ?? 'a number')} to compare; it is ${String(d['found'])}.`,
  ),
  'group.twice': entry('error', '{value} stands in two groups.'),
  'band.number': entry('error', '{value} is not a number that a boundary can hold.'),
  'table.no-key': entry('error', 'The table has no key column.'),
  'table.no-output': entry('error', 'The table has no output column.'),
  'table.column-twice': entry('error', 'Two columns are named {column}.'),
  'table.no-field': entry('error', 'The column {column} stands for the field {field}, which is not there.'),
  'table.no-column': entry('error', 'The row has a cell {column}, and the table has no such column.'),
  'table.aggregation': entry('error', 'Values are put together under collect only, not under {policy}.'),
  'table.no-order': entry('error', '{policy} needs the order of the values of {column}.'),
  'table.value': entry('error', '{column}: {value} {problem}.'),
  'table.tests': entry('error', (d) => `${String(d['column'])}: ${String(d['problem']).replace(/[.?]$/, '')}.`),
  'otherwise.value': entry('error', '{field} {problem}.'),
  'map.no-table': entry('error', 'There is no mapping table {table}.'),
  'map.no-key': entry('error', 'Nothing says what to look up in {column}.'),
  'map.no-column': entry('error', 'The table has no output {column}.'),
  'map.no-output': entry('error', 'Nothing is written yet.'),
  'map.no-pair': entry('error', 'There is no pair yet.'),
  'map.pair': entry('error', '{value} {problem}.'),
  'map.twice': entry('error', '{value} stands here twice.'),
  'map.not-list': entry('error', '{field} holds one value: only replacing it makes sense.'),
  'map.onto': entry('error', '{onto} is neither a lookup nor a child list of this record type.'),
  'template.open': entry('error', 'A brace is opened and not closed.'),
} as const satisfies Record<string, Entry>;

export type DiagnosticCode = keyof typeof catalog;

export interface Diagnostic {
  readonly code: DiagnosticCode;
  readonly severity: Severity;
  /** Where in the text; for something that is not text, `path` says where in the document. */
  readonly range: TextRange;
  readonly message: string;
  readonly path?: string;
  readonly data: Data;
}

/** Longer pieces of what was written are cut in messages. */
const mostShown = 120;
const shortened = (data: Data): Data =>
  Object.values(data).some((v) => typeof v === 'string' && v.length > mostShown)
    ? Object.fromEntries(
        Object.entries(data).map(([k, v]) => [
          k,
          typeof v === 'string' && v.length > mostShown ? `${v.slice(0, mostShown - 1)}…` : v,
        ]),
      )
    : data;

export function diagnostic(code: DiagnosticCode, range: TextRange, details: Data = {}, path?: string): Diagnostic {
  const found: Entry = catalog[code];
  const data = shortened(details);
  const base = {
    code,
    severity: found.severity,
    range,
    message: typeof found.text === 'string' ? filled(found.text, data) : found.text(data),
    data,
  };
  return path === undefined ? base : { ...base, path };
}

export const nowhere: TextRange = { from: 0, to: 0 };

export function hasErrors(list: readonly Diagnostic[]): boolean {
  return list.some((d) => d.severity === 'error');
}
