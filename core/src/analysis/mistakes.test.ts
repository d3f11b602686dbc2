/** Whatever can be wrong in a rulebook as it is written: told at its place, in words, and ended by its repair where it has one. */
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { catalog, type DiagnosticCode } from '../diagnostics/catalog.ts';
import type { Field, MappingTable, Rule, Rulebook } from '../document/document.ts';
import { partId, toParts, fromParts } from '../document/parts.ts';
import { applyPatch } from '../document/patch.ts';
import { countryTable, dealBook, dealTypes, ruleOf, setTo } from '../testing/deals.ts';
import type { Finding } from './finding.ts';
import { findingsOf } from './findings.ts';

/** What is wrong, where (behind `/outcome/` unless it begins with a slash), and how it is said. */
type Mistake = readonly [code: DiagnosticCode, path: string, sentence: RegExp, book: Rulebook];

type Band = (more: object) => object;
const rule = (kind: string, outcome: unknown, more: Partial<Rule> = {}): Rulebook =>
  dealBook([ruleOf('customer', kind, outcome, { key: 'r', ...more })]);
const value = (formula: string, target = 'name'): Rulebook => rule('derive', setTo(target, formula));
const when = (condition: string): Rulebook => rule('derive', setTo('name', '"x"'), { condition });
const fixed = (more: Partial<Rule>): Rulebook => rule('derive', setTo('name', '"x"'), more);
const bands = (list: readonly object[], more: object = {}): Rulebook =>
  rule('categorize', {
    source: 'Open deal value',
    target: 'size',
    bands: list,
    blank: { do: 'clear' },
    outside: { do: 'clear' },
    ...more,
  });
const groups = (list: readonly object[], source = 'Home country'): Rulebook => bands([], { source, groups: list });
const map = (source: object, outputs: readonly object[], more: object = {}): Rulebook =>
  rule('map', {
    source,
    onto: '',
    outputs,
    blank: { do: 'leave' },
    none: { do: 'leave' },
    several: { do: 'leave' },
    ...more,
  });
const pairs = (list: readonly object[], formula = 'Home country') => ({ by: 'pairs', formula, pairs: list });
const toRegion = { value: '', target: 'region', way: 'replace' };
const [micro, large] = ['micro', 'large'].map((result) => (more: object) => ({ ...more, result })) as [Band, Band];
const pair = (from: string, to: string): object => ({ from, to });
const offer = (value: string, allowed: readonly string[]): object => ({ value, allowed });
const toGone = { ...toRegion, target: 'gone' };
const matched = (ways: readonly object[]): Rulebook =>
  map({ by: 'match', recordType: 'area', ways }, [{ ...toRegion, target: 'area' }]);
const south = [{ from: 'Portugal', to: 'south' }];
const limits = (list: readonly object[]): Rulebook => rule('validate', { limits: list });
const limit = (grid: readonly object[], more: object = {}): Rulebook =>
  limits([{ field: 'region', source: 'Home country', grid, otherwise: 'stop', message: '', ...more }]);
const table = (more: Partial<MappingTable>): Rulebook => dealBook([], { tables: [{ ...countryTable, ...more }] });
const fields = (...more: readonly Field[]): Rulebook =>
  dealBook([], {
    recordTypes: dealTypes.map((t) => (t.key === 'area' ? { ...t, fields: [...t.fields, ...more] } : t)),
  });
const notice = (more: object): Rulebook =>
  rule('derive', setTo('name', '"x"'), {
    notify: [{ channel: 'task', to: '"a@b.example"', subject: 'S', body: 'B', dueInDays: 2, ...more } as never],
  });

const inFormulas: readonly Mistake[] = [
  ['syntax.empty', 'steps/0/formula', /^The formula is empty/, value('')],
  ['syntax.incomplete', 'steps/0/formula', /missing here/, value('1 +')],
  ['syntax.unexpected', 'steps/0/formula', /does not belong here/, value('1 )')],
  ['syntax.operator', 'steps/0/formula', /^The operator \* stands without/, value('* 2')],
  ['syntax.string', 'steps/0/formula', /not closed with a quotation mark/, value('"open')],
  ['syntax.comment', 'steps/0/formula', /not closed with \*\//, value('1 /* open')],
  ['syntax.number', 'steps/0/formula', /is not a number that can be held/, value('1e9999', 'open')],
  ['syntax.temporal', 'steps/0/formula', /is not a date, time or duration/, value('@"2026-13-01"')],
  ['syntax.unsupported', 'steps/0/formula', /cannot be used in a rule/, value('function(x) external {a: 1}')],
  ['syntax.too-long', 'steps/0/formula', /longer than [\d,]+ characters/, value(`"${'x'.repeat(30_000)}"`)],
  ['syntax.too-many-words', 'steps/0/formula', /more than [\d,]+ words/, value(`[${'1,'.repeat(9_000)}1]`)],
  ['syntax.long-chain', 'steps/0/formula', /parts are joined here/, value(`1${'+1'.repeat(3_000)}`, 'open')],
  ['syntax.too-deep', 'steps/0/formula', /nested deeper/, value(`${'('.repeat(500)}1${')'.repeat(500)}`)],
  ['name.unknown', '/condition', /named Home county\. Did you mean Home country\?/, when('Home county = "Spain"')],
  ['name.unknown', '/condition', /named Gone\.$/, when('record.Gone = 1')],
  ['name.unknown', '/condition', /named Nam\. Did you mean Name/, when('previous.Nam = "x"')],
  ['name.unknown', '/condition', /named Zebra\.$/, when('Service area.Zebra = "x"')],
  ['name.unknown', '/condition', /named alpah\. Did you mean alpha/, when('{alpha: 1}.alpah = 1')],
  ['name.unknown', '/condition', /named zebra\.$/, when('{alpha: 1}.zebra = 1')],
  ['call.count', '/condition', /^today takes nothing/, when('today(1) = today()')],
  ['call.field', '/condition', /^has changed takes/, when('has changed(previous.Name)')],
  ['type.call', '/condition', /this is a number/, when('{f: 5}.f(1) = 1')],
  ['name.unknown-function', '/condition', /no function named lenth/, when('lenth(Name) > 1')],
  ['name.previous-path', '/condition', /reaches one field/, when('previous.Service area.Depot = "x"')],
  ['option.unknown', '/condition', /no option Spian\. Did you mean Spain/, when('Home country = "Spian"')],
  ['option.unordered', '/condition', /have no order/, when('Home country < "Spain"')],
  ['type.operands', '/condition', /cannot take/, when('Name > 5')],
  ['type.operand', '/condition', /cannot take/, when('-Name = 1')],
  ['type.member', '/condition', /^a text has no part named first/i, when('Name.first = 1')],
  ['type.call', '/condition', /Only a function can be called/, when('Name(1) = 1')],
  ['type.condition', '/condition', /A condition is true or false/, when('Open deal value')],
  ['type.argument', '/condition', /takes .* here, not/, when('string length(5) > 1')],
  ['type.result', 'steps/0/formula', /^Open deal value takes/, value('Name', 'open')],
  ['type.text', 'steps/0/formula', /Write it out: as text\(Reviewed on, /, value('Reviewed on')],
  ['type.table', 'steps/0/formula', /is a whole table/, value('Country table')],
  ['call.count', '/condition', /^string length takes/, when('string length() > 1')],
  ['call.name', '/condition', /no parameter named text/, when('string length(text: Name) > 1')],
  ['call.field', '/condition', /takes the name of a field/, when('has changed(1 + 1)')],
  ['compare.itself', '/condition', /compared with itself/, when('Name = Name')],
  [
    'template.open',
    'steps/0/template',
    /not closed/,
    rule('derive', setTo('name', '', { template: 'To {Name', formula: '' })),
  ],
];

const inRules: readonly Mistake[] = [
  ['rule.no-name', '/name', /no name/, fixed({ name: ' ' })],
  ['rule.no-kind', '/kind', /no kind of rule guess/, rule('guess', {})],
  ['rule.never-acts', '/moments', /can never act/, fixed({ moments: [] })],
  ['rule.no-form', '/entryPoints', /no entry point form:gone/, fixed({ entryPoints: ['form:gone'] })],
  ['rule.no-wake', '/wakesOn/0', /should wake/, fixed({ wakesOn: ['gone'] })],
  ['rule.no-target', 'steps/0/target', /field gone .* is not there/, value('"x"', 'gone')],
  ['rule.no-target', 'target', /field gone/, bands([micro({})], { target: 'gone' })],
  [
    'document.shape',
    '/notify/0/dueInDays',
    /: days until it is due of number 1 of notices must be a whole number/,
    notice({ dueInDays: 1.5 }),
  ],
  ['syntax.empty', '/notify/0/to', /empty/, notice({ to: '' })],
  ['name.unknown', '/notify/0/subject', /named Nobody/, notice({ subject: 'For {Nobody}' })],
  ['outcome.empty', 'steps', /does nothing yet/, rule('derive', { steps: [] })],
  ['outcome.empty', '/outcome', /does nothing yet/, rule('validate', {})],
  [
    'validate.no-message',
    'checks/0/message',
    /no message/,
    rule('validate', { checks: [{ hold: 'must', formula: 'Open deal value > {a: 1}.a', message: ' ', field: '' }] }),
  ],
  ['band.empty', 'bands', /no band yet/, bands([])],
  [
    'band.result',
    'bands/0/result',
    /below 5 gives Mikro, which is not an option .* did you mean Micro/,
    bands([{ to: 5, result: 'Mikro' }]),
  ],
  ['band.result', 'bands/0/result', /^The band every number gives nothing yet/, bands([{ result: true }])],
  ['band.backwards', 'bands/0/to', /ends before/, bands([micro({ from: 9, to: 1 })])],
  ['band.backwards', 'bands/0/to', /ends before/, bands([micro({ from: 9, to: 9, fromOpen: true, toClosed: true })])],
  ['band.overlap', 'bands/1/from', /overlap/, bands([micro({ to: 5 }), large({ from: 4 })])],
  ['band.overlap', 'bands/1/from', /overlap/, bands([micro({ to: 5, toClosed: true }), large({ to: 9 })])],
  ['band.order', 'bands/1/from', /ascending/, bands([large({ from: 5 }), micro({ from: 1, to: 5 })])],
  ['band.gap', 'bands/1/from', /there is a gap/, bands([micro({ to: 5 }), large({ from: 7, fromOpen: true })])],
  ['band.number', 'bands/0/from', /boundary/, bands([{ from: [], result: 'micro' }])],
  ['band.number', 'bands/0/to', /boundary/, bands([micro({ to: 1234567890123456 })])],
  ['band.source', 'source', /needs a date/, bands([micro({ from: '2026-01-01' })])],
  ['band.source', 'source', /needs a number/, bands([micro({})], { source: 'Name' })],
  [
    'group.twice',
    'groups/1/values/0',
    /spain stands/,
    groups([micro({ values: ['Spain'] }), large({ values: ['spain'] })]),
  ],
  [
    'option.unknown',
    'groups/0/values/0',
    /no option Spian\. Did you mean Spain/,
    groups([micro({ values: ['Spian'] })]),
  ],
  ['option.unknown', 'groups/0/values/0', /no option Q\.$/, groups([micro({ values: ['Q'] })])],
  ['option.unknown', 'blank/value', /no option tall/, bands([micro({})], { blank: { do: 'set', value: 'tall' } })],
  [
    'otherwise.value',
    'outside/value',
    /^Open deal value /,
    bands([{ result: 5 }], { target: 'open', source: 'string length(Name)', outside: { do: 'set', value: 'much' } }),
  ],
  ['map.no-output', 'outputs', /Nothing is written/, map(pairs(south), [])],
  ['map.no-pair', 'source/pairs', /no pair/, map(pairs([]), [toRegion])],
  [
    'map.twice',
    'source/pairs/1/from',
    /portugal stands/,
    map(pairs([...south, pair('portugal', 'north')]), [toRegion]),
  ],
  ['map.pair', 'source/pairs/0/to', /^west /, map(pairs([pair('Spain', 'west')]), [toRegion])],
  ['option.unknown', 'source/pairs/0/from', /no option Peru/, map(pairs([pair('Peru', 'south')]), [toRegion])],
  ['map.not-list', 'outputs/0/way', /one value/, map(pairs(south), [{ ...toRegion, way: 'add' }])],
  ['map.not-list', 'steps/0/way', /one value/, rule('derive', setTo('name', '"x"', { way: 'add' }))],
  ['map.onto', 'onto', /neither a lookup nor a child list/, map(pairs(south), [toRegion], { onto: 'Name' })],
  ['rule.no-target', 'outputs/0/target', /field gone/, map(pairs(south), [toGone], { onto: 'area' })],
  ['rule.no-target', 'outputs/0/target', /field gone/, map(pairs(south), [toGone])],
  ['syntax.empty', 'source/formula', /empty/, map(pairs(south, ''), [toRegion])],
  ['map.no-table', 'source/table', /no mapping table gone/, map({ by: 'table', table: 'gone', keys: {} }, [toRegion])],
  [
    'map.no-key',
    'source/keys/country',
    /what to look up in Country/,
    map({ by: 'table', table: 'countries', keys: { country: ' ' } }, [{ ...toRegion, value: 'region' }]),
  ],
  [
    'map.no-column',
    'outputs/0/value',
    /no output gone/,
    map({ by: 'table', table: 'countries', keys: { country: 'Home country' } }, [{ ...toRegion, value: 'gone' }]),
  ],
  [
    'rule.no-type',
    'source/recordType',
    /no record type firm/,
    map({ by: 'match', recordType: 'firm', ways: [] }, [toRegion]),
  ],
  ['map.no-key', 'source/ways', /look up in Service area/, matched([])],
  [
    'rule.no-target',
    'source/ways/0/field',
    /field gone/,
    matched([{ formula: 'Postcode', field: 'gone', mode: 'exact' }]),
  ],
  ['map.pair', 'limits/0/grid/0/allowed', /^West /, limit([offer('Spain', ['West'])])],
  ['map.twice', 'limits/0/grid/1/value', /Spain stands/, limit([offer('Spain', ['South']), offer('spain', ['North'])])],
  ['option.unknown', 'limits/0/grid/0/value', /no option Peru/, limit([offer('Peru', [])])],
  ['syntax.empty', 'limits/0/source', /empty/, limit([], { source: '' })],
  ['rule.no-target', 'limits/0/field', /field gone/, limit([], { field: 'gone' })],
  ['rule.no-target', 'required/0', /field gone/, rule('validate', { required: ['gone'] })],
];

const text: Field = { key: 'more', name: 'More', type: 'text' };
const inDocument: readonly Mistake[] = [
  ['table.no-key', '/keys', /no key column/, table({ keys: [] })],
  ['table.no-output', '/outputs', /no output column/, table({ outputs: [] })],
  [
    'table.column-twice',
    '/keys',
    /named Country/,
    table({ outputs: [{ key: 'region', name: 'Country', field: 'customer.region' }], rows: [] }),
  ],
  [
    'table.no-field',
    '/keys',
    /field customer\.gone/,
    table({ keys: [{ key: 'country', name: 'Country', field: 'customer.gone' }] }),
  ],
  ['table.no-column', '/rows/0/extra', /a cell extra/, table({ rows: [{ country: 'Spain', extra: 'x' }] })],
  ['table.aggregation', '/aggregation', /under collect only/, table({ aggregation: 'sum' } as never)],
  ['table.no-order', '/outputs/1/order', /needs the order/, table({ hitPolicy: 'priority' })],
  ['table.value', '/rows/0/region', /^Table region: West /, table({ rows: [{ country: 'Spain', region: 'West' }] })],
  ['table.tests', '/rows/0/country', /^Country: /, table({ rows: [{ country: { tests: '> (' } as never }] })],
  [
    'document.shape',
    '/on',
    /^The rule Half is left out/,
    dealBook([{ ...ruleOf('customer', 'derive', setTo('name', '"x"')), name: 'Half', on: 'yes' as never }]),
  ],
  [
    'document.setting-missing',
    '/zone',
    /^The rulebook does not say its time zone: UTC is taken/,
    { ...dealBook([]), zone: undefined as never },
  ],
  [
    'document.key-twice',
    '/key',
    /key a, which another one has/,
    dealBook(['A', 'B'].map((name) => ruleOf('customer', 'derive', setTo('name', '"x"'), { key: 'a', name }))),
  ],
  [
    'document.option-twice',
    '/options',
    /another option has this key/,
    fields({
      ...text,
      type: 'picklist',
      options: [
        { key: 'a', name: 'A' },
        { key: 'a', name: 'B' },
      ],
    }),
  ],
  [
    'document.option-name-twice',
    '/options/1/name',
    /two options are named A:/,
    fields({
      ...text,
      type: 'picklist',
      options: [
        { key: 'a', name: 'A' },
        { key: 'b', name: 'A' },
      ],
    }),
  ],
  [
    'document.option-names-another',
    '/options/1/name',
    /the option b is named as the option A is stored/,
    fields({
      ...text,
      type: 'picklist',
      options: [
        { key: 'b', name: 'A' },
        { key: 'c', name: 'b' },
      ],
    }),
  ],
  ['document.bounds-crossed', '/min', /can hold no number/, fields({ ...text, type: 'number', min: 10, max: 5 })],
  ['document.options-of', '/optionsOf', /shares the options of/, fields({ ...text, type: 'picklist', optionsOf: 'x' })],
  [
    'document.name-twice',
    '/name',
    /^Two tables are named Regions\.$/,
    { ...dealBook([]), tables: ['a', 'b'].map((key) => ({ ...countryTable, key, name: 'Regions' })) },
  ],
  [
    'document.name-twice',
    '/outputs',
    /^Two columns of Country table are named Country\.$/,
    table({ outputs: [{ key: 'again', name: 'Country' }] }),
  ],
  [
    'document.column-twice',
    '/outputs',
    /^Country table: two columns have the key country, and so the same cells/,
    table({ outputs: [{ key: 'country', name: 'Country again' }] }),
  ],
  ['document.name-twice', '/fields', /named Depot/, fields({ ...text, name: 'Depot' })],
];

const every = [...inFormulas, ...inRules, ...inDocument];
const mistakes = (book: Rulebook): readonly Finding[] =>
  findingsOf(compileProgram(book)).filter((f) => f.kind === 'does-not-compile');

describe('a mistake', () => {
  it.each(every)('%s at %s', (code, short, sentence, book) => {
    const path = short.startsWith('/') ? short : `/outcome/${short}`;
    const found = mistakes(book);
    const it = found.find((f) => f.key.includes(`${code}:`) && f.path === path);
    expect(it ?? found).toMatchObject({ path, severity: catalog[code].severity });
    expect(it?.sentence).toMatch(sentence);
    const mendable =
      /^(band\.(gap|overlap|order)|type\.text|document\.option-name.*)$/.test(code) ||
      (code === 'document.name-twice' && path === '/name') ||
      /did you mean/i.test(it?.sentence ?? '');
    expect(it?.repair !== undefined).toBe(mendable === true);
    if (!it?.repair) return;
    const parts = toParts(book).map((part) => {
      const edits = it.repair!.edits.filter((e) => partId(e.part) === partId(part));
      return { ...part, body: edits.reduce((body, e) => applyPatch(body, e.operations).value, part.body) };
    });
    expect(mistakes(fromParts(parts)).filter((f) => f.key === it.key)).toEqual([]);
  });

  it('that can be told is tried here, each', () => {
    expect(Object.keys(catalog).filter((code) => !every.some(([tried]) => tried === code))).toEqual([]);
  });
});
