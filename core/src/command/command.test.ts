/** The command as its users run it: files, streams, exit codes; as a process of its own where that matters. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Writable } from 'node:stream';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { createPatterns } from '../host/patterns.ts';
import type { Rule, RuleTest } from '../document/document.ts';
import { countryTable, ruleOf, setTo } from '../testing/deals.ts';
import { rulebookOf, sizeClass } from '../testing/customers.ts';
import { csvProblem, csvRows } from './csv-file.ts';
import { evaluateLine } from './evaluate-line.ts';
import { formatRulebook } from './rulebook-file.ts';
import { zoneOffset } from '../host/zones.ts';
import * as core from './index.ts';

const at = (path: string) => new URL(`../../bin/${path}`, import.meta.url);
interface Streams {
  readonly stdin: Readable;
  readonly stdout: Writable;
  readonly stderr: Writable;
}
const { command } = (await import(at('command.mjs').href)) as {
  command(core: object, args: readonly string[], streams: Streams): Promise<number>;
};
const folder = mkdtempSync(join(tmpdir(), 'rigid-rule-'));
const file = (name: string, text: string | Uint8Array): string => {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
};
async function run(
  args: readonly string[],
  input: string | Uint8Array = '',
): Promise<{ readonly status: number; readonly stdout: string; readonly stderr: string }> {
  const said = { stdout: '', stderr: '' };
  const into = (which: keyof typeof said) =>
    new Writable({
      write(part, _, done) {
        said[which] += String(part);
        done();
      },
    });
  const streams = { stdin: Readable.from([Buffer.from(input)]), stdout: into('stdout'), stderr: into('stderr') };
  const status = await command(core, args, streams);
  return { status, ...said };
}
const good = file('good.json', JSON.stringify(rulebookOf(sizeClass)));
const broken = file('broken.json', JSON.stringify(rulebookOf({ ...sizeClass, condition: 'Area > 1 and\n  Aera < 5' })));

// Meaning after OMG DMN 1.3, chapter 10; the values are from memory.
describe('eval', () => {
  const line = (expression: string, more: object = {}): unknown =>
    JSON.parse(
      evaluateLine(JSON.stringify({ expression, ...more }), {
        now: '2026-05-03T09:00:00+01:00',
        pattern: createPatterns(),
        zoneOffset,
      }),
    );
  it.each<[string, object, unknown]>([
    // By Fermat's little theorem 10^6 = 1 modulo 7, so 10^40 = 10^4 = 4.
    ['modulo(10**40, 7)', {}, 4],
    ['modulo(-(10**40), 7)', {}, 3],
    ['modulo(10**32 + 0.5, 3)', {}, 1.5],
    // A day is a day of the calendar where the zone is named, also when the clocks change (ISO 8601-2:2019, 14).
    ['date and time("2026-03-28T12:00:00@Europe/Lisbon") + duration("P1D")', {}, '2026-03-29T12:00:00@Europe/Lisbon'],
    ['date and time("2026-10-24T12:00:00@Europe/Lisbon") + duration("P1D")', {}, '2026-10-25T12:00:00@Europe/Lisbon'],
    ['date and time("2026-03-28T12:00:00@Europe/Lisbon") + duration("PT24H")', {}, '2026-03-29T12:00:00@Europe/Lisbon'],
    ['date and time("2026-10-25T12:00:00@Europe/Lisbon") - duration("P1D")', {}, '2026-10-24T12:00:00@Europe/Lisbon'],
    ['1/3', {}, '0.3333333333333333333333333333333333'],
    ['0.1 + 0.2', {}, 0.3],
    // Beyond a double, at either end: a text, so that nobody reads infinity, nothing, or another number.
    ['1e400', {}, '1e+400'],
    ['-1e400', {}, '-1e+400'],
    ['1e-400', {}, '1e-400'],
    ['1.2345e-320', {}, '1.2345e-320'],
    ['1e300', {}, 1e300],
    ['5e-324', {}, 5e-324],
    ['Home country.Area code', { context: { 'Home country': { 'Area code': 351 } } }, 351],
    ['for i in 1..3, j in [10, 20] return i * j', {}, [10, 20, 20, 40, 30, 60]],
    ['for i in 3..1 return i', {}, [3, 2, 1]],
    ['for d in @"2026-05-03"..@"2026-05-01" return d', {}, ['2026-05-03', '2026-05-02', '2026-05-01']],
    ['for i in [2..4] return i', {}, [2, 3, 4]],
    [
      'for i in 9999999999999998..10000000000000000 return i',
      {},
      ['9999999999999998', '9999999999999999', 10000000000000000],
    ],
    ['some i in [], j in [1] satisfies i = j', {}, false],
    ['every i in 5 satisfies i = 5', {}, true],
    ['-@"P1DT2H" = @"-P1DT2H" and -@"P1Y" = @"-P1Y"', {}, true],
    ['-"a"', {}, null],
    ['[1, 2] in ([[1, 2], [3]])', {}, true],
    ['5 in ([[1..3], [4..6]])', {}, true],
    ['5 in [4..6] and 7 in (< 5, > 6)', {}, true],
    // Code points, not the halves of which UTF-16 makes them: U+FFFD lies before U+1F600.
    ['"\\uFFFD" < "😀" and not("😀" < "\\uFFFD")', {}, true],
    ['string([[1..2), (< 5), (>= @"2026-05-01"), ]1..2[])', {}, '[[1..2), (< 5), (>= @"2026-05-01"), (1..2)]'],
    ['string({a b: 1, "c-d": [null, true]})', {}, '{a b: 1, "c-d": [null, true]}'],
    ['[function(a, b) a, 1][1]', {}, 'function(a, b)'],
    ['if a < 3 then [1, "x"] else [{n: 2}]', { context: { a: 5 } }, [{ n: 2 }]],
    ['(if a then {n: 1} else {n: 2, m: 3}).m', { context: { a: false } }, 3],
    ['for i in 0..4 return if i = 0 then 1 else i * partial[-1]', {}, [1, 1, 2, 6, 24]],
    ['some x in [1, null] satisfies x > 5', {}, null],
    ['every x in [] satisfies false', {}, true],
    ['[{x: 1, y: 2}, {x: 3, y: 4}][x = 3].y', {}, [4]],
    ['[1, 2, 3][-1]', {}, 3],
    ['[1, 2, 3][item > 1]', {}, [2, 3]],
    ['l[a > 1].a', { context: { l: [{ a: 1 }, { a: 2 }], a: 9 } }, [2]],
    ['1 in (for i in 1..3 return i)', {}, true],
    ['1 in ({a: 1})', {}, null],
    ['f(1)', { context: { f: { $feel: 'function(x) x + 1' } } }, 2],
    ['o.f(2)', { context: { o: { f: { $feel: 'function(x) x * 3' } } } }, 6],
    ['{a: 1, b: a + 1}.b', {}, 2],
    ['(function(x, y) x + y)(1, 2)', {}, 3],
    ['{add: function(a, b) a + b, r: add(1, 2)}.r', {}, 3],
    ['substring(string: "foobar", start position: 3)', {}, 'obar'],
    ['d + duration("P1M")', { context: { d: { $feel: 'date("2026-01-31")' } } }, '2026-02-28'],
    ['date and time("2016-12-24T23:59:00") + duration("PT1M")', {}, '2016-12-25T00:00:00'],
    ['@"2020-02-29" - @"2019-02-28"', {}, 'P366D'],
    ['duration("P1D") * 2.5', {}, 'P2DT12H'],
    ['duration("P1D") / duration("PT6H")', {}, 4],
    ['-duration("P1Y2M")', {}, '-P1Y2M'],
    ['today()', {}, '2026-05-03'],
    ['[1..5)', {}, '[1..5)'],
    ['[1, "a"] instance of list<number>', {}, false],
    ['"1" < 2', {}, null],
    ['1 + "a"', {}, null],
    ['if "a" then 1 else 2', {}, 2],
    ['@"2018-12-08T10:30:01@Europe/Paris" = @"2018-12-08T09:30:01Z"', {}, true],
    ['@"2018-07-08T10:30:01@Europe/Paris".time offset', {}, 'PT2H'],
    ['date and time("2018-12-08T10:30:01@Europe/Paris").timezone', {}, 'Europe/Paris'],
    ['date and time("2018-12-08T10:30:01@Moon/Base")', {}, null],
    ['time("10:30:00@Europe/Paris")', {}, '10:30:00@Europe/Paris'],
    ['for i in 1..3 return count(partial)', {}, [0, 1, 2]],
    ['for i in 1..2 return partial', {}, [[], [[]]]],
    ['[1, 2, 3][0]', {}, null],
    ['{a: 1, a: 2}', {}, null],
    ['abs(duration("-P1D"))', {}, 'P1D'],
    ['constructor', {}, null],
    ['{a: 1}.__proto__', {}, null],
    ['for i in 1..1000000000 return i', {}, null],
    ['< 5, [7..9]', { unaryTest: 8 }, true],
    ['not(1, 2)', { unaryTest: 1 }, false],
    ['? > 3 and a', { unaryTest: 5, context: { a: true } }, true],
    ['-', { unaryTest: null }, true],
    ['"a", "b"', { unaryTest: 'b' }, true],
  ])('%s', async (expression, more, value) => {
    expect(line(expression, more)).toEqual({ value });
  });

  const evaluated = (text: string) =>
    JSON.parse(evaluateLine(text, { now: '2026-05-03T09:00:00+01:00' })) as { error?: string };
  it.each([
    ['null', 'null', /has to be an object, such as/],
    ['a list', '[]', /has to be an object/],
    ['a context that is none', '{"expression": "1", "context": 1}', /The context has to be an object/],
    ['a list of contexts', '{"expression": "1", "context": []}', /The context has to be an object/],
    ['a number beyond JSON', '{"expression": "a", "context": {"a": 1e400}}', /larger than JSON can carry/],
    [
      'a context nested too deep',
      `{"expression": "1", "context": {"a": ${'['.repeat(3000)}${']'.repeat(3000)}}}`,
      /nested deeper than 1000/,
    ],
    [
      'a value too large to write',
      '{"expression": "for i in 1..300, j in 1..300 return \\"' + 'x'.repeat(150) + '\\""}',
      /longer than 10000000 characters/,
    ],
  ])('%s is told in plain words', async (_, line_, says) => {
    expect(evaluated(line_).error).toMatch(says);
  });

  it('a line that cannot be read is an error, and the next one still runs', async () => {
    const { stdout, status } = await run(['eval'], '{"expression": "1 +"}\nno json\n\n{"expression": "2"}\n');
    expect(
      stdout
        .trim()
        .split('\n')
        .map((l) => Object.keys(JSON.parse(l) as object)[0]),
    ).toEqual(['error', 'error', 'value']);
    expect(status).toBe(0);
  });
});

describe('files', () => {
  it.each<[string, string[], number, RegExp]>([
    ['check of a good one', ['check', good], 0, /0 findings/],
    [
      'check of a broken one, with line and column',
      ['check', broken],
      1,
      /size-class \/condition 2:3 error: There is no field or value named Aera\. Did you mean Area\?/,
    ],
    ['diff', ['diff', good, broken], 1, /changed rule Size class, set from employee count: only if none →/],
    ['diff of the same', ['diff', good, good], 0, /^$/],
    ['no such file', ['check', 'nowhere.json'], 2, /nowhere\.json cannot be read/],
    [
      'no JSON, with its place',
      ['check', file('bad.json', '{\n  "format": rigid }')],
      2,
      /bad\.json:2:13: the file is not JSON/,
    ],
    [
      'brackets without end',
      ['check', file('deep.json', '['.repeat(100_000))],
      2,
      /deep\.json:1:101: the file is nested deeper/,
    ],
    [
      'a document that is very deep',
      ['fmt', file('nested.json', `${'{"a":'.repeat(5_000)}1${'}'.repeat(5_000)}`)],
      2,
      /nested\.json:1:501: the file is nested deeper than 100 levels/,
    ],
    ['another document', ['check', file('other.json', '{}')], 2, /no rulebook/],
    ['a byte order mark', ['check', file('bom.json', `\ufeff${readFileSync(good, 'utf8')}`)], 0, /0 findings/],
    [
      'a number beyond JSON, with its place',
      ['check', file('huge.json', readFileSync(good, 'utf8').replace('"scale":0', '"scale":1e400'))],
      2,
      /huge\.json:1:\d+: the number is larger than JSON can carry/,
    ],
    [
      'no such time zone, with its place',
      [
        'check',
        file(
          'zone.json',
          '{\n"zone": "Mars/Base",' +
            readFileSync(good, 'utf8')
              .slice(1)
              .replace(/"zone":"[^"]+",/, ''),
        ),
      ],
      2,
      /zone\.json:2:9: there is no time zone Mars\/Base/,
    ],
    [
      'a report that cannot be written',
      ['test', good, '--junit', 'no/where.xml'],
      2,
      /^no\/where\.xml cannot be written: ENOENT$/m,
    ],
    [
      'a trace that cannot be written',
      ['run', good, '--type', 'Customer', file('one.csv', 'Name\nA\n'), '--trace', 'no/where.jsonl'],
      2,
      /^no\/where\.jsonl cannot be written: ENOENT$/m,
    ],
    ['no records', ['run', good, '--type', 'Customer', 'nowhere.csv'], 2, /^nowhere\.csv cannot be read: ENOENT$/m],
    ['a seed that is no number', ['test', good, '--seed', 'x'], 2, /--seed takes a whole number/],
    ['no such command', ['guess'], 2, /There is no command guess/],
    ['an unknown option', ['check', '--fast'], 2, /--fast/],
    ['help', ['--help'], 0, /rigid-rule eval/],
  ])('%s', async (_, args, status, says) => {
    const result = await run(args);
    expect(result.stdout + result.stderr).toMatch(says);
    expect(result.status).toBe(status);
  });

  const book = rulebookOf(sizeClass) as unknown as Record<string, unknown>;
  it.each<[string, object, readonly RegExp[]]>([
    [
      'a member that there is not',
      { ...book, colour: 'red' },
      [/^x\.json:1:1: the document must NOT have .*\(colour\)$/m],
    ],
    [
      'a word that is none of the allowed, at its place in a list',
      { ...book, rules: [{ ...sizeClass, winner: 'nobody' }] },
      [/\/rules\/0\/winner must be equal to one of the allowed values \(.*locked.*\)/],
    ],
    [
      'a member that is missing, and another mistake beside it',
      { ...book, currency: undefined, recordTypes: {} },
      [/the document must have required property 'currency'/, /\/recordTypes must be array/],
    ],
    [
      'what is none of several alternatives: only that it is none of them',
      { ...book, samples: [{ key: 's', recordType: 'customer', data: { 'a/b~c': { deep: 1 } } }] },
      [/^x\.json:1:\d+: \/samples\/0\/data\/a~1b~0c must match a schema in anyOf$/m],
    ],
  ])('check tells the shape of %s', async (_, document, says) => {
    const { status, stderr } = await run(['check', file('x.json', JSON.stringify(document))]);
    const told = stderr.replaceAll(`${folder}/`, '');
    expect(status).toBe(2);
    for (const each of says) expect(told).toMatch(each);
    expect(told.trim().split('\n')).toHaveLength(says.length);
  });

  const tested = (more: Partial<RuleTest>, key = 't'): RuleTest => ({
    key,
    name: `Test ${key}`,
    recordType: 'customer',
    before: null,
    sent: { name: 'Alder', count: 300 },
    moment: 'creating',
    entryPoint: 'import',
    now: '2026-05-03T09:00:00Z',
    expect: { fields: { class: 'large' } },
    ...more,
  });
  const withTests = (name: string, tests: readonly RuleTest[], ...more: readonly Rule[]): string =>
    file(name, JSON.stringify({ ...rulebookOf(sizeClass, ...more), tests }));
  const unread: Rule = { ...sizeClass, key: 'unread', name: 'Unread', condition: 'Aera > 1' };
  const banded = (bands: readonly object[], name: string): Rule => {
    const outcome = { ...(sizeClass.outcome as object), bands };
    return { ...sizeClass, key: name, name, outcome };
  };
  const many = Array.from({ length: 60 }, (_, i) => ({ from: i, to: i + 1, result: i % 2 ? 'micro' : 'small' }));
  // Each band has its test, so that most faults are noticed at once.
  const manyBands = file(
    'many.json',
    JSON.stringify({
      ...rulebookOf(banded(many, 'Many')),
      tests: many.map(({ from, result }) =>
        tested({ sent: { name: 'Alder', count: from }, expect: { fields: { class: result } } }, `t${from}`),
      ),
    }),
  );
  const gap = ['micro', 'small'].map((result, i) => ({ from: i * 7, ...(i ? {} : { to: 5 }), result }));
  const table = { ...countryTable, keys: [{ key: 'country', name: 'Country' }], outputs: [{ key: 'n', name: 'N' }] };
  const mapped = { ...rulebookOf(sizeClass), tables: [{ ...table, rows: [{ country: 'Spain', n: 1 }] }] };
  const one = withTests('one.json', [tested({})]);
  const wrong = withTests('wrong.json', [tested({}), tested({ expect: { fields: { class: 'micro' } } }, 'u')]);
  const none = file('none.json', JSON.stringify(rulebookOf()));
  const rows = ['--type', 'Customer', file('a.csv', 'Name\nA\n')];
  const caught = '[1-9]\\d* of \\d+ planted faults caught \\(\\d+ %\\)';
  it.each<[string, readonly string[], number, RegExp]>([
    ['a test that holds', ['test', one], 0, /^1 of 1 test holds\n.*table rows none/m],
    ['one that fails, with what came', ['test', wrong], 1, /^fails {3}Test u\n {10}\S.*\n1 of 2 tests hold/m],
    ['a rule that is not read', ['test', withTests('u.json', [], unread)], 1, /^broken {2}Unread: There is no field/m],
    [
      'strength',
      ['test', one, '--strength'],
      0,
      new RegExp(`^strength: ${caught}[^]*^survives Size class, .*would`, 'm'),
    ],
    ['strength of nothing', ['test', none, '--strength'], 0, /^strength: 0 of 0 planted faults caught \(0 %\), 0 the/m],
    [
      'strength by a sample, with its seed',
      ['test', manyBands, '--strength', '--seed', '5'],
      0,
      /, a sample of \d+ by seed 5$/m,
    ],
    ['a repair', ['check', withTests('gap.json', [tested({})], banded(gap, 'Gap'))], 0, /warning: .*\(repair: /],
    ['a table row a line', ['fmt', file('m.json', JSON.stringify(mapped))], 0, /^ +\{"country":"Spain","n":1\}$/m],
    ['another rulebook that is not read', ['run', good, ...rows, '--against', broken], 2, /not compile: Size class/],
    ['a type that there is not', ['run', good, '--type', 'Firm', rows[2]!], 2, /There is no record type Firm/],
  ])('%s', async (_, args, status, says) => {
    const result = await run(args);
    expect(result.stdout + result.stderr).toMatch(says);
    expect(result.status).toBe(status);
  });

  it.each<[string, string]>([
    ['is empty', ''],
    ['has other columns', 'Colour\nred\n'],
  ])('a file that %s takes no row out of a table', async (_, text) => {
    const path = file('kept.json', JSON.stringify(mapped));
    const { status, stderr } = await run(['table', path, 'countries', '--read', file('rows.csv', text), '--write']);
    expect([status, stderr]).toEqual([2, expect.stringMatching(/rows\.csv:1: The column Country is missing\.$/m)]);
    expect(readFileSync(path, 'utf8')).toBe(JSON.stringify(mapped));
  });

  it.each<[string, string[], string | Uint8Array]>([
    ['a rulebook', ['fmt', file('latin.json', Buffer.from('{"name": "Ré"}', 'latin1'))], ''],
    ['records', ['run', good, '--type', 'Customer', file('latin.csv', Buffer.from('Name\nRéne\n', 'latin1'))], ''],
    ['records cut in a character', ['run', good, '--type', 'Customer', file('cut.csv', Uint8Array.of(0x4e, 0xc3))], ''],
    ['what is piped in', ['eval'], Buffer.from('{"expression": "\\"é\\""}', 'latin1')],
  ])('%s that is not UTF-8 is refused, since its accents would be lost without a word', async (_, args, input) => {
    const { stdout, stderr, status } = await run(args, input);
    expect([stdout, status]).toEqual(['', 2]);
    expect(stderr).toMatch(/is not UTF-8\. Save it as UTF-8\.$/m);
  });

  it('fmt is stable, and what it writes is the same rulebook', async () => {
    const once = (await run(['fmt', good])).stdout;
    const again = file('again.json', once);
    expect((await run(['fmt', again])).stdout).toBe(once);
    expect((await run(['diff', good, again])).status).toBe(0);
  });

  it.each<[string, string, RegExp]>([
    [
      'a quotation mark that is never closed',
      'Name,Employee count\nA,1\n"B\nC",2\n"D,3\n',
      /:5:1: the quotation mark is never closed/,
    ],
    [
      'something behind a closing one',
      'Name\r\n\r\n"A"b\r\n',
      /:3:4: something stands behind the closing quotation mark/,
    ],
    ['a column that stands twice', '\ufeffName;Employee count; Name \nA;1;2\n', /:1:21: the column Name stands twice/],
    [
      'cells beyond the last column',
      'Name,Employee count\n"A\nB",1\nC,2,3,4\n',
      /:4:5: the header names 2 columns; there is none for this cell/,
    ],
    ['the same at the end of the file', 'Name\nA\nB,', /:3:3: the header names 1 column; there is none/],
  ])('run refuses %s before it settles anything', async (_, text, says) => {
    const { stdout, stderr, status } = await run(['run', good, '--type', 'Customer', file('rows.csv', text)]);
    expect([stdout, status, stderr.trim().split('\n').length]).toEqual(['', 2, 1]);
    expect(stderr).toMatch(says);
  });

  it('a file of any size is read piece by piece as if it were whole', async () => {
    const text = `\ufeffName,Note\r\n${Array.from({ length: 300 }, (_, i) => `N${i},"a, ""b""\r\nc${i}"`).join('\r\n\r\n')}`;
    for (const size of [1, 7, 64, 10_000]) {
      const pieces = async function* () {
        for (let at = 0; at < text.length; at += size) yield await Promise.resolve(text.slice(at, at + size));
      };
      if (size > 1) {
        const rows: (readonly string[])[] = [];
        for await (const batch of csvRows(pieces)) rows.push(...batch.rows);
        expect(rows).toHaveLength(301);
        expect([rows[0], rows[300]]).toEqual([
          ['Name', 'Note'],
          ['N299', 'a, "b"\r\nc299'],
        ]);
      }
      expect(await csvProblem(pieces)).toBeUndefined();
    }
  });

  it('what was edited and undone is written as it was', async () => {
    const book = rulebookOf({ ...sizeClass, condition: 'Area > 1' });
    const shuffled = JSON.parse(JSON.stringify(book), (_, v: unknown) =>
      typeof v === 'object' && v !== null && !Array.isArray(v) ? Object.fromEntries(Object.entries(v).reverse()) : v,
    ) as typeof book;
    expect(formatRulebook(shuffled)).toBe(formatRulebook(book));
  });

  it('run settles each row, keeps stopped ones with their reason, and writes the trace', async () => {
    const rows = file(
      'rows.csv',
      '\ufeffName,Employee count,Shoe size\r\n"Alder, ""Sons""",251,\r\nFen,many,\r\nMoor,,3\r\n',
    );
    const trace = join(folder, 'trace.jsonl');
    const { stdout, stderr, status } = await run([
      'run',
      good,
      '--type',
      'Customer',
      '--entry',
      'file import',
      rows,
      '--trace',
      trace,
    ]);
    expect(stdout.split('\r\n')).toEqual([
      'Name,Employee count,Size class,Verdict,Messages',
      '"Alder, ""Sons""",251,large,saved,',
      'Fen,,,stopped,many is not a number.',
      'Moor,,,saved,',
      '',
    ]);
    expect(stderr).toMatch(/Shoe size is no field of Customer/);
    expect(status).toBe(1);
    const lines = readFileSync(trace, 'utf8')
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l) as { row: number; trace: { verdict: string }[] });
    expect(lines.map((l) => [l.row, l.trace[0]?.verdict])).toEqual([
      [1, 'ran'],
      [2, 'no effect'],
      [3, 'no effect'],
    ]);
  });
});

describe('proof', () => {
  const claim = (condition: string) => ({ key: 'c', name: 'Holds', recordType: 'customer', condition });
  const proofBook = (condition: string): string =>
    file(`claim-${condition.length}.json`, JSON.stringify({ ...rulebookOf(sizeClass), claims: [claim(condition)] }));
  const other = file(
    'other-bands.json',
    JSON.stringify(
      rulebookOf({
        ...sizeClass,
        outcome: { ...(sizeClass.outcome as object), bands: [{ from: 0, result: 'micro' }] },
      }),
    ),
  );

  it.each<[string, readonly string[], number, RegExp]>([
    ['a claim that is broken', ['test', proofBook('Rank > 0'), '--claims'], 1, /^broken {2}Holds: \{"before":null/m],
    ['a claim that cannot be read', ['test', proofBook('Nothing > 0'), '--claims'], 1, /^unread {2}Holds/m],
    [
      'a claim that holds',
      ['test', proofBook('Rank > 0 or Rank <= 0 or Rank = null'), '--claims'],
      0,
      /^sure {4}Holds/m,
    ],
    [
      'a claim that is only tried',
      [
        'test',
        file(
          'tried.json',
          JSON.stringify({
            ...rulebookOf(ruleOf('customer', 'derive', setTo('rank', 'string length(Name)'), { winner: 'rule' })),
            claims: [claim('Rank >= 0 or Rank < 0 or Rank = null')],
          }),
        ),
        '--claims',
      ],
      0,
      /^tried {3}Holds: not broken by \d+ records$/m,
    ],
    [
      'rules that are off, or cannot be read',
      [
        'suggest',
        file(
          'idle.json',
          JSON.stringify(
            rulebookOf({ ...sizeClass, on: false }, { ...sizeClass, key: 'unread', condition: 'Aera > 1' }),
          ),
        ),
      ],
      0,
      /^$/,
    ],
    ['a type that there is not', ['generate', good, '--type', 'Firm', '--count', '3'], 2, /^$/],
    ['a rule by its name', ['suggest', good, '--rule', sizeClass.name], 0, /"rule":"\w/],
    ['a rule without tests', ['suggest', good], 0, /"why":"around each boundary of Employee count","cases":\d+/],
    ['a rule that there is not', ['suggest', good, '--rule', 'nobody'], 2, /^$/],
    ['made-up records', ['generate', good, '--type', 'Customer', '--count', '3'], 0, /^Name,Employee count/],
    ['a count that is none', ['generate', good, '--type', 'Customer', '--count', 'x'], 2, /^$/],
  ])('%s', async (_, args, status, said) => {
    const result = await run(args);
    expect([result.status, result.stderr]).toEqual([status, status === 2 ? expect.stringMatching(/\w/) : '']);
    expect(result.stdout).toMatch(said);
  });

  it('two rulebooks on one file: rows that come out otherwise, and 1', async () => {
    const rows = (await run(['generate', good, '--type', 'Customer', '--count', '60', '--seed', '4'])).stdout;
    expect((await run(['generate', good, '--type', 'Customer', '--count', '60', '--seed', '4'])).stdout).toBe(rows);
    const csv = file('rows.csv', 'Name,Employee count\nAlder,12\nBeck,3\n');
    const result = await run(['run', good, '--type', 'Customer', csv, '--against', other]);
    expect([result.status, result.stdout]).toEqual([1, 'row 1: Size class: small, was micro\n']);
    expect((await run(['run', good, '--type', 'Customer', csv, '--against', good])).status).toBe(0);
    expect((await run(['run', good, '--type', 'Customer', file('made.csv', rows), '--against', good])).stdout).toBe('');
    // Fields are named as this type names them, whatever another calls its own; what is refused is told with why.
    const before = rulebookOf(sizeClass);
    const twin = {
      ...before.recordTypes[0]!,
      key: 'twin',
      name: 'Twin',
      fields: [{ key: 'class', name: 'Wrong', type: 'text' }],
    };
    const refusing = ruleOf('customer', 'validate', {
      checks: [{ hold: 'must', formula: 'Employee count < 10', message: 'Too many.', field: '' }],
    });
    const after = rulebookOf(
      { ...sizeClass, outcome: { ...(sizeClass.outcome as object), bands: [{ from: 100, result: 'micro' }] } },
      refusing,
    );
    const now = file('now.json', JSON.stringify({ ...after, recordTypes: [twin, ...after.recordTypes] }));
    expect((await run(['run', now, '--type', 'Customer', csv, '--against', good])).stdout).toBe(
      'row 1: is stopped, was saved: Too many.\nrow 2: Size class: blank, was micro\n',
    );
  });
});

// The same as a process: what is built, its exit code, and what it does with pipes.
describe('as a process', () => {
  const bin = fileURLToPath(at('rigid-rule.mjs'));
  const spawn = (args: readonly string[], input = '') =>
    spawnSync(process.execPath, [bin, ...args], { input, encoding: 'utf8', cwd: folder });
  it('finds a file from where it is called, and says by its exit code that a finding is an error', () => {
    const { status, stdout } = spawn(['check', 'broken.json']);
    expect([status, stdout]).toEqual([1, expect.stringContaining('There is no field or value named Aera')]);
  });
  it('reads what is piped in', () => {
    expect(spawn(['eval'], '{"expression": "1 + 1"}\n')).toMatchObject({ status: 0, stdout: '{"value":2}\n' });
  });
  it('ends quietly where nobody reads on', () => {
    const lines = '{"expression": "1"}\n'.repeat(20_000);
    const shell = spawnSync('sh', ['-c', `"${process.execPath}" "${bin}" eval | head -n 1`], {
      input: lines,
      encoding: 'utf8',
    });
    expect([shell.stdout, shell.stderr]).toEqual(['{"value":1}\n', '']);
  });
});
