/**
 * The rigid-rule command: the core with files, streams and exit codes around it, apart from the process that it runs in.
 */
import { createReadStream, createWriteStream, readFileSync, writeFileSync } from 'node:fs';
import { once } from 'node:events';
import { parseArgs } from 'node:util';
import Papa from 'papaparse';

const help = `rigid-rule: rulebooks in a pipeline, without the application or a database

  rigid-rule eval  < lines.jsonl
      each line {"expression", "context", "unaryTest"?: value} gives {"value"} or {"error"}
  rigid-rule check rulebook.json
      findings, one a line; exit 1 where one is an error
  rigid-rule test  rulebook.json [--junit out.xml] [--strength] [--claims] [--seed N]
      runs its tests; exit 1 where one fails; --strength plants small faults and says which no test catches; --claims
      looks for records that break the claims; exit 1 where one is broken
  rigid-rule suggest rulebook.json [--rule size-class]
      tests worth having, a JSON object a line, the fewest that bring everything first
  rigid-rule generate rulebook.json --type Customer --count 1000 [--seed N] > records.csv
      records made up from fields and rules: boundaries, blanks, each option
  rigid-rule run   rulebook.json --type Customer [--entry "file import"] records.csv > settled.csv [--trace trace.jsonl]
      settles each row as a new record; exit 1 where a row was stopped
  rigid-rule run   rulebook.json --type Customer [--entry "file import"] records.csv --against old.json
      what the two rulebooks make otherwise of each row; exit 1 where they differ
  rigid-rule fmt   rulebook.json [--write]
      the rulebook in its readable form
  rigid-rule diff  before.json after.json
      what changed, in words; exit 1 where something did
  rigid-rule table rulebook.json country-table [--dmn] > table.csv
      a mapping table, or the bands of a categorize rule, as CSV or as a DMN decision table; without a name, all tables
  rigid-rule table rulebook.json country-table --read rows.csv [--write]
      what the rows of a CSV or DMN file would change, row by row; exit 1 where one is refused; --write takes the others
  rigid-rule schema
      the JSON Schema (2020-12) of a rulebook

Exit codes: 0 all well, 1 as above, 2 the call or a file is wrong.`;

class Wrong extends Error {}
const wrong = (sentence) => {
  throw new Wrong(sentence);
};

/** What is not UTF-8 is refused: read as if it were, its accents would be replaced without a word. */
const utf8 = () => new TextDecoder('utf-8', { fatal: true });
const notUtf8 = (path) => wrong(`${path} is not UTF-8. Save it as UTF-8.`);

function readText(path) {
  let bytes;
  try {
    bytes = readFileSync(path);
  } catch (e) {
    return wrong(`${path} cannot be read: ${e.code ?? e.message}`);
  }
  try {
    return utf8().decode(bytes);
  } catch {
    return notUtf8(path);
  }
}

function writeText(path, text) {
  try {
    writeFileSync(path, text);
  } catch (e) {
    wrong(`${path} cannot be written: ${e.code ?? e.message}`);
  }
}

/** A stream to a file that is open. */
async function output(path) {
  const stream = createWriteStream(path);
  const cannot = (e) => `${path} cannot be written: ${e.code ?? e.message}`;
  await once(stream, 'open').catch((e) => wrong(cannot(e)));
  return stream.on('error', (e) => {
    stream.failure = cannot(e);
  });
}

/** Text of a stream of bytes, piece by piece. `name`: what it is called where it is wrong. */
async function* textOf(stream, name) {
  const decoder = utf8();
  try {
    for await (const piece of stream) yield decoder.decode(piece, { stream: true });
    yield decoder.decode();
  } catch (e) {
    if (e.code === 'ERR_ENCODING_INVALID_ENCODED_DATA') notUtf8(name);
    if (e.code === undefined) throw e;
    wrong(`${name} cannot be read: ${e.code}`);
  }
}

/** Lines of a text that comes in pieces. What reads lines in Node passes no error of its stream on. */
async function* linesIn(pieces) {
  let begun = '';
  for await (const piece of pieces) {
    const lines = piece.split('\n');
    lines[0] = begun + lines[0];
    begun = lines.pop();
    yield* lines.map((line) => line.replace(/\r$/, ''));
  }
  yield begun;
}

const piecesOf = (path) => textOf(createReadStream(path, { highWaterMark: 1 << 20 }), path);

const numberOf = (option, text) => (/^\d{1,9}$/.test(text) ? Number(text) : wrong(`${option} takes a whole number.`));

function rulebook({ core }, path) {
  if (!path) wrong('Name the rulebook file.');
  const read = core.readRulebook(readText(path));
  return 'problems' in read ? wrong(read.problems.map((p) => `${path}:${p}`).join('\n')) : read.rulebook;
}

/** The moment of this run with the machine's own offset, the same for every line. */
function nowText() {
  const now = new Date();
  const offset = -now.getTimezoneOffset();
  const local = new Date(now.getTime() + offset * 60_000).toISOString().slice(0, -1);
  const two = (n) => String(Math.floor(Math.abs(n))).padStart(2, '0');
  return `${local}${offset < 0 ? '-' : '+'}${two(offset / 60)}:${two(offset % 60)}`;
}

async function write(stream, text) {
  if (stream.failure) wrong(stream.failure);
  if (!stream.write(text)) await once(stream, 'drain');
}

async function evaluate(io) {
  const withClock = { ...io.host, now: nowText() };
  for await (const line of linesIn(textOf(io.stdin, 'The input')))
    if (line.trim() !== '') await write(io.stdout, `${io.core.evaluateLine(line, withClock)}\n`);
  return 0;
}

function check(io, [path]) {
  const book = rulebook(io, path);
  const findings = io.core.findingsOfRulebook(book, { host: io.host });
  for (const finding of findings) io.line(io.core.findingLine(finding, book));
  const errors = findings.filter((f) => f.severity === 'error').length;
  io.note(`${findings.length} findings, ${errors} errors`);
  return errors > 0 ? 1 : 0;
}

function test(io, [path], { junit, strength, claims, seed: seedText = '0' }) {
  const seed = numberOf('--seed', seedText);
  const book = rulebook(io, path);
  const report = io.core.testRulebook(book, { host: io.host });
  for (const line of report.lines) io.line(line);
  if (junit) writeText(junit, report.junit);
  if (strength) for (const line of io.core.strengthLines(book, { host: io.host, seed })) io.line(line);
  const claimed = claims ? io.core.claimLines(book, io.host, seed) : { lines: [], broken: 0 };
  for (const line of claimed.lines) io.line(line);
  return report.failed + claimed.broken > 0 ? 1 : 0;
}

async function suggest(io, [path], { rule }) {
  const book = rulebook(io, path);
  if (rule !== undefined && !book.rules.some((r) => r.key === rule || r.name === rule))
    wrong(`There is no rule ${rule}.`);
  for (const line of io.core.suggestionLines(book, io.host, rule)) await write(io.stdout, `${line}\n`);
  return 0;
}

async function generate(io, [path], { type, count, seed = '0' }) {
  if (!type) wrong('Say which record type: --type Customer.');
  if (!count) wrong('Say how many: --count 1000.');
  const book = rulebook(io, path);
  if (!book.recordTypes.some((t) => t.key === type || t.name === type)) wrong(`There is no record type ${type}.`);
  for (const row of io.core.generatedRows(book, type, numberOf('--count', count), numberOf('--seed', seed)))
    await write(io.stdout, `${Papa.unparse([row])}\r\n`);
  return 0;
}

async function table(io, [path, name], { dmn, read, write: inPlace }) {
  const book = rulebook(io, path);
  const tables = book.tables ?? [];
  const banded = book.rules.find((r) => r.kind === 'categorize' && (r.key === name || r.name === name));
  const type = book.recordTypes.find((t) => t.key === banded?.recordType);
  const found =
    tables.find((t) => t.key === name || t.name === name) ??
    (banded && type ? io.core.bandsToTable(banded, type) : undefined);
  if (name !== undefined && !found) wrong(`There is no mapping table ${name}.`);
  if (!read) {
    if (!found && !dmn) wrong('Name the mapping table, or say --dmn for all of them.');
    await write(
      io.stdout,
      dmn ? await io.core.tablesToDmn(book.name, found ? [found] : tables, book) : io.core.tableToCsv(found, book),
    );
    return 0;
  }
  if (!found) wrong('Name the mapping table that the rows are for.');
  if (!tables.includes(found)) return readBands(io, path, book, banded, read, inPlace);
  const { lines, numbers } = await linesOf(io, read, found, book);
  const plan = io.core.planImport(found, book, lines, 'drop', numbers);
  for (const stranger of plan.strangers) io.note(`${read}:1: the table has no column ${stranger}`);
  if (plan.heading.length > 0) wrong(plan.heading.map((p) => `${read}:1: ${p}`).join('\n'));
  const counts = {};
  for (const { what, line, row, reasons } of plan.plans) {
    counts[what] = (counts[what] ?? 0) + 1;
    if (what !== 'same')
      io.line(
        `${what} ${line === undefined ? '' : `${read}:${line} `}${JSON.stringify(row)} ${reasons.join(' ')}`.trimEnd(),
      );
  }
  io.note(
    Object.entries(counts)
      .map(([what, n]) => `${n} ${what}`)
      .join(', ') || 'no rows',
  );
  if (inPlace)
    writeText(path, io.core.formatRulebook({ ...book, tables: tables.map((t) => (t === found ? plan.table : t)) }));
  return counts.refused ? 1 : 0;
}

/** The bands of a rule taken from the decision table of a DMN file. */
async function readBands(io, path, book, rule, file, inPlace) {
  const result = await io.core.tablesFromDmn(readText(file));
  if ('problems' in result) return wrong(result.problems.map((p) => `${file}: ${p}`).join('\n'));
  const decision = result.tables.find((t) => t.name === rule.name) ?? result.tables[0];
  const bands = io.core.bandsFromTable(rule, decision);
  if ('problems' in bands) return wrong(bands.problems.map((p) => `${file}: ${p}`).join('\n'));
  const changed = { ...book, rules: book.rules.map((r) => (r === rule ? bands.rule : r)) };
  for (const line of io.core.differenceLines(book, changed)) io.line(line);
  if (inPlace) writeText(path, io.core.formatRulebook(changed));
  return 0;
}

/** Rows of a CSV file, or of the decision table of a DMN file that has the name of the mapping table (or is the only one). */
async function linesOf({ core }, path, found, book) {
  const text = readText(path);
  if (!path.endsWith('.dmn')) {
    const { problems, ...csv } = core.readCsv(text);
    return problems.length > 0 ? wrong(problems.map((p) => `${path}: ${p}`).join('\n')) : csv;
  }
  const result = await core.tablesFromDmn(text, { table: found, book });
  if ('problems' in result) return wrong(result.problems.map((p) => `${path}: ${p}`).join('\n'));
  const decision = result.tables.find((t) => t.name === found.name) ?? result.tables[0];
  return { lines: core.tableToLines(decision, book) };
}

function schema(io) {
  io.line(JSON.stringify(io.core.rulebookSchema, null, 2));
  return 0;
}

async function format(io, [path], { write: inPlace }) {
  const text = io.core.formatRulebook(rulebook(io, path));
  if (inPlace) writeText(path, text);
  else await write(io.stdout, text);
  return 0;
}

function diff(io, [before, after]) {
  const lines = io.core.differenceLines(rulebook(io, before), rulebook(io, after));
  for (const line of lines) io.line(line);
  return lines.length > 0 ? 1 : 0;
}

/** Row by row what two rulebooks make otherwise of it. */
async function compare(io, book, before, recordType, point, pieces) {
  const now = nowText();
  let comparer;
  let [different, number] = [0, 0];
  for await (const { rows } of io.core.csvRows(pieces))
    for (const row of rows) {
      if (!comparer) {
        const make = (b) =>
          io.core.createRowSettler(b, recordType.key, point.key, row, now, { trace: false, host: io.host });
        const made = io.core.createComparer(before, book, make);
        comparer = 'problem' in made ? wrong(made.problem) : made.comparer;
        continue;
      }
      number++;
      const found = comparer.compare(row);
      if (found.length === 0) continue;
      different++;
      await write(io.stdout, `row ${number}: ${found.join('; ')}\n`);
    }
  io.note(`${number} rows, ${different} come out otherwise`);
  return different > 0 ? 1 : 0;
}

/**
 * Streams: rows are read, settled and written piece by piece, so memory does not grow with the file. The file is looked
 * through first: one with a mistake gives no rows at all.
 */
async function run(io, [path, records], { type, entry = 'file import', trace: traceFile, against }) {
  if (!type) wrong('Say which record type the rows are: --type Customer.');
  if (!records) wrong('Name the file with the records.');
  const book = rulebook(io, path);
  const recordType =
    book.recordTypes.find((t) => t.key === type || t.name === type) ?? wrong(`There is no record type ${type}.`);
  const point =
    io.core.entryPointsOf(recordType).find((e) => e.name === entry || e.key === entry) ??
    wrong(`There is no entry point ${entry}.`);
  const pieces = () => piecesOf(records);
  const problem = await io.core.csvProblem(pieces);
  if (problem) wrong(`${records}:${problem.line}:${problem.column}: ${problem.problem}`);
  if (against) return compare(io, book, rulebook(io, against), recordType, point, pieces);
  const trace = traceFile ? await output(traceFile) : undefined;
  const csv = (rows) => `${Papa.unparse(rows, { newline: '\r\n' })}\r\n`;
  let settler;
  let [stopped, number] = [0, 0];
  for await (const { rows } of io.core.csvRows(pieces)) {
    const lines = [];
    const traces = [];
    for (const row of rows) {
      if (!settler) {
        const made = io.core.createRowSettler(book, recordType.key, point.key, row, nowText(), {
          trace: trace !== undefined,
          host: io.host,
        });
        if ('problem' in made) wrong(made.problem);
        settler = made.settler;
        for (const name of settler.strangers)
          io.note(`${records}:1: ${name} is no field of ${recordType.name}; the column is left out`);
        lines.push([...settler.columns, 'Verdict', 'Messages']);
        continue;
      }
      number++;
      const { cells, settlement } = settler.settle(row);
      const { verdict, changes, messages } = settlement;
      if (verdict !== 'saved') stopped++;
      lines.push([...cells, verdict, messages.map((m) => m.text).join(' ')]);
      if (trace) traces.push(`${JSON.stringify({ row: number, verdict, changes, trace: settlement.trace })}\n`);
    }
    if (lines.length > 0) await write(io.stdout, csv(lines));
    if (trace) await write(trace, traces.join(''));
  }
  if (trace) {
    trace.end();
    await once(trace, 'close');
    if (trace.failure) wrong(trace.failure);
  }
  io.note(`${number} rows, ${stopped} stopped`);
  return stopped > 0 ? 1 : 0;
}

const commands = { eval: evaluate, check, test, suggest, generate, run, fmt: format, diff, table, schema };

const options = {
  help: { type: 'boolean', short: 'h' },
  type: { type: 'string' },
  entry: { type: 'string' },
  trace: { type: 'string' },
  write: { type: 'boolean' },
  junit: { type: 'string' },
  strength: { type: 'boolean' },
  claims: { type: 'boolean' },
  rule: { type: 'string' },
  count: { type: 'string' },
  against: { type: 'string' },
  seed: { type: 'string' },
  dmn: { type: 'boolean' },
  read: { type: 'string' },
};

/** Runs one call of the command on three streams; gives its exit code. `core`: the face of core's `command`. */
export async function command(core, args, { stdin, stdout, stderr }) {
  const io = {
    core,
    host: { pattern: core.createPatterns(), phone: core.phoneNumber, zoneOffset: core.zoneOffset },
    stdin,
    stdout,
    line: (text) => void stdout.write(`${text}\n`),
    note: (text) => void stderr.write(`${text}\n`),
  };
  try {
    const { values, positionals } = parseArgs({ args, allowPositionals: true, options });
    const [name, ...rest] = positionals;
    if (values.help || name === undefined) {
      io.line(help);
      return values.help ? 0 : 2;
    }
    const found = Object.hasOwn(commands, name)
      ? commands[name]
      : wrong(`There is no command ${name}. rigid-rule --help lists them.`);
    return await found(io, rest, values);
  } catch (e) {
    if (!(e instanceof Wrong) && !e.code?.startsWith('ERR_PARSE_ARGS')) throw e;
    io.note(e.message);
    return 2;
  }
}
