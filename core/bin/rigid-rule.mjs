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
  rigid-rule run   rulebook.json --type Customer [--entry "file import"] records.csv > settled.csv [--trace trace.jsonl]
      settles each row as a new record; exit 1 where a row was stopped
  rigid-rule fmt   rulebook.json [--write]
      the rulebook in its readable form
  rigid-rule diff  before.json after.json
      what changed, in words; exit 1 where something did

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

function rulebook(path) {
  if (!path) wrong('Name the rulebook file.');
  const read = core.readRulebook(readText(path));
  return 'problem' in read ? wrong(`${path}:${read.problem}`) : read.rulebook;
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

async function evaluate() {
  const host = { now: nowText(), pattern: core.re2Pattern, phone: core.phoneNumber };
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity }))
    if (line.trim() !== '') await write(process.stdout, `${core.evaluateLine(line, host)}\n`);
  return 0;
}

function check([path]) {
  const book = rulebook(path);
  const findings = core.findingsOf(book);
  for (const finding of findings) console.log(core.findingLine(finding, book));
  const errors = findings.filter((f) => f.diagnostic.severity === 'error').length;
  console.error(`${findings.length} findings, ${errors} errors`);
  return errors > 0 ? 1 : 0;
}

function format([path], { write: inPlace }) {
  const text = core.formatRulebook(rulebook(path));
  if (inPlace) writeFileSync(path, text);
  else process.stdout.write(text);
  return 0;
}

function diff([before, after]) {
  const lines = core.differenceLines(rulebook(before), rulebook(after));
  for (const line of lines) console.log(line);
  return lines.length > 0 ? 1 : 0;
}

/** Streams: a row is read, settled and written before the next, so memory does not grow with the file. */
async function run([path, records], { type, entry = 'file import', trace: traceFile }) {
  if (!type) wrong('Say which record type the rows are: --type Customer.');
  if (!records) wrong('Name the file with the records.');
  const book = rulebook(path);
  const recordType =
    book.recordTypes.find((t) => t.key === type || t.name === type) ?? wrong(`There is no record type ${type}.`);
  const point =
    core.entryPointsOf(recordType).find((e) => e.name === entry || e.key === entry) ??
    wrong(`There is no entry point ${entry}.`);
  const trace = traceFile ? createWriteStream(traceFile) : undefined;
  const rows = createReadStream(records, 'utf8')
    .on('error', (e) => {
      console.error(`${records} cannot be read: ${e.code ?? e.message}`);
      process.exit(2);
    })
    .pipe(Papa.parse(Papa.NODE_STREAM_INPUT, { skipEmptyLines: true }));
  const csv = (cells) => `${Papa.unparse([cells], { newline: '\r\n' })}\r\n`;
  let settler;
  let stopped = 0;
  let number = 0;
  for await (const row of rows) {
    number++;
    if (!settler) {
      const header = row.map((h) => h.replace(/^\ufeff/, ''));
      const made = core.createRowSettler(book, recordType.key, point.key, header, nowText(), trace !== undefined);
      if ('problem' in made) wrong(made.problem);
      settler = made.settler;
      for (const name of settler.strangers)
        console.error(`${records}:1: ${name} is no field of ${recordType.name}; the column is left out`);
      await write(process.stdout, csv([...settler.columns, 'Verdict', 'Messages']));
      continue;
    }
    const { cells, settlement } = settler.settle(row);
    const messages = settlement.messages.map((m) => m.text).join(' ');
    if (settlement.verdict !== 'saved') stopped++;
    await write(process.stdout, csv([...cells, settlement.verdict, messages]));
    if (trace)
      await write(
        trace,
        `${JSON.stringify({ row: number - 1, verdict: settlement.verdict, changes: settlement.changes, trace: settlement.trace })}\n`,
      );
  }
  trace?.end();
  console.error(`${Math.max(0, number - 1)} rows, ${stopped} stopped`);
  return stopped > 0 ? 1 : 0;
}

const commands = { eval: evaluate, check, run, fmt: format, diff };

try {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      help: { type: 'boolean', short: 'h' },
      type: { type: 'string' },
      entry: { type: 'string' },
      trace: { type: 'string' },
      write: { type: 'boolean' },
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
