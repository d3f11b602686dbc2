#!/usr/bin/env node
/** The rigid-rule command: the core with files, streams and exit codes around it. */
import { createReadStream, createWriteStream, readFileSync, writeFileSync } from 'node:fs';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { parseArgs } from 'node:util';
import Papa from 'papaparse';

const core = await import('../dist/command/index.js').catch((e) => {
  if (e.code !== 'ERR_MODULE_NOT_FOUND') throw e;
  console.error('The command is not built yet: run npm run build:core once.');
  process.exit(2);
});

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

function readText(path) {
  try {
    return readFileSync(path, 'utf8');
  } catch (e) {
    return wrong(`${path} cannot be read: ${e.code ?? e.message}`);
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
    console.error(cannot(e));
    process.exit(2);
  });
}

async function* piecesOf(path) {
  try {
    yield* createReadStream(path, { encoding: 'utf8', highWaterMark: 1 << 20 });
  } catch (e) {
    if (e.code === undefined) throw e;
    wrong(`${path} cannot be read: ${e.code}`);
  }
}

const numberOf = (option, text) => (/^\d{1,9}$/.test(text) ? Number(text) : wrong(`${option} takes a whole number.`));

function rulebook(path) {
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
  if (!stream.write(text)) await once(stream, 'drain');
}

const host = { pattern: core.createPatterns(), phone: core.phoneNumber, zoneOffset: core.zoneOffset };

async function evaluate() {
  const withClock = { ...host, now: nowText() };
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity }))
    if (line.trim() !== '') await write(process.stdout, `${core.evaluateLine(line, withClock)}\n`);
  return 0;
}

function check([path]) {
  const book = rulebook(path);
  const findings = core.findingsOfRulebook(book, { host });
  for (const finding of findings) console.log(core.findingLine(finding, book));
  const errors = findings.filter((f) => f.severity === 'error').length;
  console.error(`${findings.length} findings, ${errors} errors`);
  return errors > 0 ? 1 : 0;
}

function test([path], { junit, strength, claims, seed: seedText = '0' }) {
  const seed = numberOf('--seed', seedText);
  const book = rulebook(path);
  const report = core.testRulebook(book, { host });
  for (const line of report.lines) console.log(line);
  if (junit) writeText(junit, report.junit);
  if (strength) for (const line of core.strengthLines(book, { host, seed })) console.log(line);
  const claimed = claims ? core.claimLines(book, host, seed) : { lines: [], broken: 0 };
  for (const line of claimed.lines) console.log(line);
  return report.failed + claimed.broken > 0 ? 1 : 0;
}

async function suggest([path], { rule }) {
  const book = rulebook(path);
  if (rule !== undefined && !book.rules.some((r) => r.key === rule || r.name === rule))
    wrong(`There is no rule ${rule}.`);
  for (const line of core.suggestionLines(book, host, rule)) await write(process.stdout, `${line}\n`);
  return 0;
}

async function generate([path], { type, count, seed = '0' }) {
  if (!type) wrong('Say which record type: --type Customer.');
  if (!count) wrong('Say how many: --count 1000.');
  const book = rulebook(path);
  if (!book.recordTypes.some((t) => t.key === type || t.name === type)) wrong(`There is no record type ${type}.`);
  for (const row of core.generatedRows(book, type, numberOf('--count', count), numberOf('--seed', seed)))
    await write(process.stdout, `${Papa.unparse([row])}\r\n`);
  return 0;
}

async function table([path, name], { dmn, read, write: inPlace }) {
  const book = rulebook(path);
  const tables = book.tables ?? [];
  const banded = book.rules.find((r) => r.kind === 'categorize' && (r.key === name || r.name === name));
  const type = book.recordTypes.find((t) => t.key === banded?.recordType);
  const found =
    tables.find((t) => t.key === name || t.name === name) ??
    (banded && type ? core.bandsToTable(banded, type) : undefined);
  if (name !== undefined && !found) wrong(`There is no mapping table ${name}.`);
  if (!read) {
    if (!found && !dmn) wrong('Name the mapping table, or say --dmn for all of them.');
    process.stdout.write(
      dmn ? await core.tablesToDmn(book.name, found ? [found] : tables) : core.tableToCsv(found, book),
    );
    return 0;
  }
  if (!found) wrong('Name the mapping table that the rows are for.');
  if (!tables.includes(found)) return readBands(path, book, banded, read, inPlace);
  const { lines, numbers } = await linesOf(read, found, book);
  const plan = core.planImport(found, book, lines, 'drop', numbers);
  for (const stranger of plan.strangers) console.error(`${read}:1: the table has no column ${stranger}`);
  const counts = {};
  for (const { what, line, row, reasons } of plan.plans) {
    counts[what] = (counts[what] ?? 0) + 1;
    if (what !== 'same')
      console.log(
        `${what} ${line === undefined ? '' : `${read}:${line} `}${JSON.stringify(row)} ${reasons.join(' ')}`.trimEnd(),
      );
  }
  console.error(
    Object.entries(counts)
      .map(([what, n]) => `${n} ${what}`)
      .join(', ') || 'no rows',
  );
  if (inPlace)
    writeText(path, core.formatRulebook({ ...book, tables: tables.map((t) => (t === found ? plan.table : t)) }));
  return counts.refused ? 1 : 0;
}

/** The bands of a rule taken from the decision table of a DMN file. */
async function readBands(path, book, rule, file, inPlace) {
  const result = await core.tablesFromDmn(readText(file));
  if ('problems' in result) return wrong(result.problems.map((p) => `${file}: ${p}`).join('\n'));
  const decision = result.tables.find((t) => t.name === rule.name) ?? result.tables[0];
  const bands = core.bandsFromTable(rule, decision);
  if ('problems' in bands) return wrong(bands.problems.map((p) => `${file}: ${p}`).join('\n'));
  const changed = { ...book, rules: book.rules.map((r) => (r === rule ? bands.rule : r)) };
  for (const line of core.differenceLines(book, changed)) console.log(line);
  if (inPlace) writeText(path, core.formatRulebook(changed));
  return 0;
}

/** Rows of a CSV file, or of the decision table of a DMN file that has the name of the mapping table (or is the only one). */
async function linesOf(path, found, book) {
  const text = readText(path);
  if (!path.endsWith('.dmn')) {
    const { problems, ...csv } = core.readCsv(text);
    return problems.length > 0 ? wrong(problems.map((p) => `${path}: ${p}`).join('\n')) : csv;
  }
  const result = await core.tablesFromDmn(text);
  if ('problems' in result) return wrong(result.problems.map((p) => `${path}: ${p}`).join('\n'));
  const decision = result.tables.find((t) => t.name === found.name) ?? result.tables[0];
  return { lines: core.tableToLines(decision, book) };
}

function schema() {
  console.log(JSON.stringify(core.rulebookSchema, null, 2));
  return 0;
}

function format([path], { write: inPlace }) {
  const text = core.formatRulebook(rulebook(path));
  if (inPlace) writeText(path, text);
  else process.stdout.write(text);
  return 0;
}

function diff([before, after]) {
  const lines = core.differenceLines(rulebook(before), rulebook(after));
  for (const line of lines) console.log(line);
  return lines.length > 0 ? 1 : 0;
}

/** Row by row what two rulebooks make otherwise of it. */
async function compare(book, before, recordType, point, pieces) {
  const now = nowText();
  let comparer;
  let [different, number] = [0, 0];
  for await (const { rows } of core.csvRows(pieces))
    for (const row of rows) {
      if (!comparer) {
        const make = (b) => core.createRowSettler(b, recordType.key, point.key, row, now, { trace: false, host });
        const made = core.createComparer(before, book, make);
        comparer = 'problem' in made ? wrong(made.problem) : made.comparer;
        continue;
      }
      number++;
      const found = comparer.compare(row);
      if (found.length === 0) continue;
      different++;
      await write(process.stdout, `row ${number}: ${found.join('; ')}\n`);
    }
  console.error(`${number} rows, ${different} come out otherwise`);
  return different > 0 ? 1 : 0;
}

/**
 * Streams: rows are read, settled and written piece by piece, so memory does not grow with the file. The file is looked
 * through first: one with a mistake gives no rows at all.
 */
async function run([path, records], { type, entry = 'file import', trace: traceFile, against }) {
  if (!type) wrong('Say which record type the rows are: --type Customer.');
  if (!records) wrong('Name the file with the records.');
  const book = rulebook(path);
  const recordType =
    book.recordTypes.find((t) => t.key === type || t.name === type) ?? wrong(`There is no record type ${type}.`);
  const point =
    core.entryPointsOf(recordType).find((e) => e.name === entry || e.key === entry) ??
    wrong(`There is no entry point ${entry}.`);
  const pieces = () => piecesOf(records);
  const problem = await core.csvProblem(pieces);
  if (problem) wrong(`${records}:${problem.line}:${problem.column}: ${problem.problem}`);
  if (against) return compare(book, rulebook(against), recordType, point, pieces);
  const trace = traceFile ? await output(traceFile) : undefined;
  const csv = (rows) => `${Papa.unparse(rows, { newline: '\r\n' })}\r\n`;
  let settler;
  let [stopped, number] = [0, 0];
  for await (const { rows } of core.csvRows(pieces)) {
    const lines = [];
    const traces = [];
    for (const row of rows) {
      if (!settler) {
        const made = core.createRowSettler(book, recordType.key, point.key, row, nowText(), {
          trace: trace !== undefined,
          host,
        });
        if ('problem' in made) wrong(made.problem);
        settler = made.settler;
        for (const name of settler.strangers)
          console.error(`${records}:1: ${name} is no field of ${recordType.name}; the column is left out`);
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
    if (lines.length > 0) await write(process.stdout, csv(lines));
    if (trace) await write(trace, traces.join(''));
  }
  trace?.end();
  console.error(`${number} rows, ${stopped} stopped`);
  return stopped > 0 ? 1 : 0;
}

const commands = { eval: evaluate, check, test, suggest, generate, run, fmt: format, diff, table, schema };

try {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
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
    },
  });
  const [name, ...rest] = positionals;
  if (values.help || name === undefined) {
    console.log(help);
    process.exitCode = values.help ? 0 : 2;
  } else {
    const command = Object.hasOwn(commands, name)
      ? commands[name]
      : wrong(`There is no command ${name}. rigid-rule --help lists them.`);
    process.exitCode = await command(rest, values);
  }
} catch (e) {
  if (e.code === 'EPIPE') process.exit(0);
  if (!(e instanceof Wrong) && !e.code?.startsWith('ERR_PARSE_ARGS')) throw e;
  console.error(e.message);
  process.exitCode = 2;
}
