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

interface Entry {
  readonly severity: Severity;
  readonly text: (d: Data) => string;
}

const entry = (severity: Severity, text: (d: Data) => string): Entry => ({ severity, text });
const grouped = (n: Data[string] | undefined): string => String(n).replace(/\B(?=(?:\d{3})+$)/g, ',');
const nearest = (d: Data): string => (d['nearest'] ? ` Did you mean ${String(d['nearest'])}?` : '');

export const catalog = {
  'syntax.empty': entry('error', () => 'The formula is empty.'),
  'syntax.incomplete': entry('error', (d) => `${String(d['what'] ?? 'Something')} is missing here.`),
  'syntax.unexpected': entry('error', (d) => `${String(d['found'])} does not belong here.${nearest(d)}`),
  'syntax.operator': entry('error', (d) => `The operator ${String(d['found'])} stands without a value before it.`),
  'syntax.string': entry('error', () => 'The text is not closed with a quotation mark.'),
  'syntax.comment': entry('error', () => 'The comment is not closed with */.'),
  'syntax.number': entry('error', (d) => `${String(d['found'])} is not a number that can be held.`),
  'syntax.temporal': entry('error', (d) => `${String(d['found'])} is not a date, time or duration.`),
  'syntax.unsupported': entry('error', (d) => `${String(d['what'])} cannot be used in a rule.`),
  'syntax.too-long': entry('error', (d) => `The formula is longer than ${grouped(d['limit'])} characters.`),
  'syntax.too-many-words': entry('error', (d) => `The formula has more than ${grouped(d['limit'])} words and signs.`),
  'syntax.long-chain': entry(
    'error',
    (d) =>
      `More than ${grouped(d['limit'])} parts are joined here: list the values behind \`in\`, or use a mapping table.`,
  ),
  'syntax.too-deep': entry('error', (d) => `The formula is nested deeper than ${String(d['limit'])} levels.`),
  'name.unknown': entry('error', (d) => `There is no field or value named ${String(d['name'])}.${nearest(d)}`),
  'name.unknown-function': entry('error', (d) => `There is no function named ${String(d['name'])}.${nearest(d)}`),
  'name.previous-path': entry('error', () => '`previous` reaches one field of this record and no further.'),
  'option.unknown': entry('error', (d) => `${String(d['field'])} has no option ${String(d['option'])}.${nearest(d)}`),
  'option.unordered': entry('error', (d) => `The options of ${String(d['field'])} have no order to compare by.`),
  'type.operands': entry(
    'error',
    (d) =>
      `${String(d['operator'])} cannot take ${String(d['left'])} and ${String(d['right'])}.${d['nearest'] === undefined ? '' : ` Write ${String(d['nearest'])}.`}`,
  ),
  'type.operand': entry('error', (d) => `${String(d['operator'])} cannot take ${String(d['left'])}.`),
  'type.member': entry('error', (d) => `${String(d['found'])} has no part named ${String(d['name'])}.`),
  'type.call': entry('error', (d) => `Only a function can be called; this is ${String(d['found'])}.`),
  'type.condition': entry('error', (d) => `A condition is true or false; this is ${String(d['found'])}.`),
  'type.argument': entry(
    'error',
    (d) => `${String(d['function'])} takes ${String(d['expected'])} here, not ${String(d['found'])}.`,
  ),
  'type.result': entry(
    'error',
    (d) => `${String(d['field'])} takes ${String(d['expected'])}; the formula gives ${String(d['found'])}.`,
  ),
  'type.text': entry(
    'error',
    (d) =>
      `${String(d['field'])} is a text; the formula gives ${String(d['found'])}. Write it out: ${String(d['nearest'])}.`,
  ),
  'type.table': entry(
    'error',
    (d) => `${String(d['name'])} is a whole table. Look one value up in it: ${String(d['example'])}.`,
  ),
  'call.count': entry('error', (d) => `${String(d['function'])} takes ${String(d['expected'])}.`),
  'call.name': entry('error', (d) => `${String(d['function'])} has no parameter named ${String(d['name'])}.`),
  'call.field': entry('error', (d) => `${String(d['function'])} takes the name of a field.`),
  'compare.itself': entry('error', (d) => `${String(d['name'])} is compared with itself.`),
  'document.shape': entry(
    'error',
    (d) => `${String(d['what'])} is left out: ${String(d['place'])} ${String(d['problem'])}.`,
  ),
  'document.setting-missing': entry(
    'error',
    (d) => `The rulebook does not say its ${String(d['name'])}: ${String(d['usual']) || 'none'} is taken.`,
  ),
  'document.key-twice': entry(
    'error',
    (d) =>
      `The ${String(d['kind'])} ${String(d['name'])} has the key ${String(d['key'])}, which another one has: it is left out.`,
  ),
  'document.option-twice': entry('error', (d) => `${String(d['name'])}: another option has this key.`),
  'document.option-name-twice': entry(
    'error',
    (d) => `${String(d['name'])}: two options are named ${String(d['option'])}: nobody can tell which one is meant.`,
  ),
  'document.option-names-another': entry(
    'error',
    (d) =>
      `${String(d['name'])}: the option ${String(d['option'])} is named as the option ${String(d['other'])} is stored: nobody can tell which one is meant.`,
  ),
  'document.bounds-crossed': entry(
    'error',
    (d) => `${String(d['name'])} can hold no number: the least that it takes is above the most.`,
  ),
  'document.options-of': entry(
    'error',
    (d) =>
      `${String(d['name'])} shares the options of ${String(d['key'])}, which is no field with options of its record type.`,
  ),
  'document.name-twice': entry('error', (d) => `Two ${String(d['what'])} are named ${String(d['name'])}.`),
  'rule.no-name': entry('error', () => 'The rule has no name.'),
  'rule.no-type': entry('error', (d) => `There is no record type ${String(d['type'])}.`),
  'rule.no-kind': entry('error', (d) => `There is no kind of rule ${String(d['kind'])}.`),
  'rule.no-target': entry('error', (d) => `The field ${String(d['field'])} that the rule writes is not there.`),
  'rule.never-acts': entry('error', () => 'No moment or no entry point is chosen, so the rule can never act.'),
  'rule.no-form': entry('error', (d) => `There is no entry point ${String(d['entry'])}.`),
  'rule.no-wake': entry('error', (d) => `The field ${String(d['field'])} that should wake the rule is not there.`),
  'outcome.empty': entry('error', () => 'The rule does nothing yet.'),
  'validate.no-message': entry('warning', () => 'There is no message for the people who will be stopped or warned.'),
  'band.empty': entry('error', () => 'There is no band yet.'),
  'band.result': entry('error', (d) =>
    d['value'] === ''
      ? `The ${String(d['branch'])} gives nothing yet.`
      : `The ${String(d['branch'])} gives ${String(d['value'])}, which ${String(d['problem'])}.`,
  ),
  'band.backwards': entry('error', (d) => `The band ${String(d['band'])} ends before it begins.`),
  'band.overlap': entry('error', (d) => `The bands ${String(d['first'])} and ${String(d['second'])} overlap.`),
  'band.order': entry(
    'error',
    (d) => `The band ${String(d['second'])} begins before ${String(d['first'])}: bands stand in ascending order.`,
  ),
  'band.gap': entry(
    'warning',
    (d) => `Between the bands ${String(d['first'])} and ${String(d['second'])} there is a gap.`,
  ),
  'band.source': entry(
    'error',
    (d) => `This needs ${String(d['wanted'] ?? 'a number')} to compare; it is ${String(d['found'])}.`,
  ),
  'group.twice': entry('error', (d) => `${String(d['value'])} stands in two groups.`),
  'band.number': entry('error', (d) => `${String(d['value'])} is not a number that a boundary can hold.`),
  'table.no-key': entry('error', () => 'The table has no key column.'),
  'table.no-output': entry('error', () => 'The table has no output column.'),
  'table.column-twice': entry('error', (d) => `Two columns are named ${String(d['column'])}.`),
  'table.no-field': entry(
    'error',
    (d) => `The column ${String(d['column'])} stands for the field ${String(d['field'])}, which is not there.`,
  ),
  'table.no-column': entry(
    'error',
    (d) => `The row has a cell ${String(d['column'])}, and the table has no such column.`,
  ),
  'table.aggregation': entry(
    'error',
    (d) => `Values are put together under collect only, not under ${String(d['policy'])}.`,
  ),
  'table.no-order': entry(
    'error',
    (d) => `${String(d['policy'])} needs the order of the values of ${String(d['column'])}.`,
  ),
  'table.value': entry('error', (d) => `${String(d['column'])}: ${String(d['value'])} ${String(d['problem'])}.`),
  'table.tests': entry('error', (d) => `${String(d['column'])}: ${String(d['problem']).replace(/[.?]$/, '')}.`),
  'otherwise.value': entry('error', (d) => `${String(d['field'])} ${String(d['problem'])}.`),
  'map.no-table': entry('error', (d) => `There is no mapping table ${String(d['table'])}.`),
  'map.no-key': entry('error', (d) => `Nothing says what to look up in ${String(d['column'])}.`),
  'map.no-column': entry('error', (d) => `The table has no output ${String(d['column'])}.`),
  'map.no-output': entry('error', () => 'Nothing is written yet.'),
  'map.no-pair': entry('error', () => 'There is no pair yet.'),
  'map.pair': entry('error', (d) => `${String(d['value'])} ${String(d['problem'])}.`),
  'map.twice': entry('error', (d) => `${String(d['value'])} stands here twice.`),
  'map.not-list': entry('error', (d) => `${String(d['field'])} holds one value: only replacing it makes sense.`),
  'map.onto': entry('error', (d) => `${String(d['onto'])} is neither a lookup nor a child list of this record type.`),
  'template.open': entry('error', () => 'A brace is opened and not closed.'),
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
  const base = { code, severity: found.severity, range, message: found.text(data), data };
  return path === undefined ? base : { ...base, path };
}

export const nowhere: TextRange = { from: 0, to: 0 };

export function hasErrors(list: readonly Diagnostic[]): boolean {
  return list.some((d) => d.severity === 'error');
}
