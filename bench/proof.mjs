/**
 * npm run bench -- proof: a dry run of 100,000 records by 24 rules in two workers, the tests of a rulebook run again after
 * an edit, and faults planted in the typical rules. Writes bench/proof-results.json.
 */
import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { compileProgram, recompileProgram } from '../core/dist/compile/index.js';
import { RecordsSource } from '../core/dist/records/index.js';
import { Impact, StrengthMeter, strengthOf, TestRunner } from '../core/dist/rule-tests/index.js';
import { now, recordType, rules, rulebook, sentOf } from './typical.mjs';

const records = 100_000;
const copies = 3;
const workers = 2;

/** The eight typical rules three times over, each on fields of its own. */
function widened(limit) {
  const suffix = (name, i) => (i === 0 ? name : `${name} ${i}`);
  const fields = Array.from({ length: copies }, (_, i) =>
    recordType.fields.map((f) => ({ ...f, key: i === 0 ? f.key : `${f.key}${i}`, name: suffix(f.name, i) })),
  ).flat();
  const names = recordType.fields.map((f) => f.name).sort((a, b) => b.length - a.length);
  const keys = new Set(recordType.fields.map((f) => f.key));
  const renamed = (value, i, key) => {
    if (Array.isArray(value)) return value.map((v) => renamed(v, i, key));
    if (typeof value === 'object' && value !== null)
      return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, renamed(v, i, k)]));
    if (typeof value !== 'string' || i === 0) return value;
    if ((key === 'target' || key === 'field') && keys.has(value)) return `${value}${i}`;
    if (['formula', 'source', 'country', 'template'].includes(key))
      return names.reduce((t, n) => t.replace(new RegExp(`(?<![\\w"])${n}(?![\\w"])`, 'g'), suffix(n, i)), value);
    return value;
  };
  const all = Array.from({ length: copies }, (_, i) =>
    rules.map((r) => ({
      ...r,
      key: i === 0 ? r.key : `${r.key}${i}`,
      name: suffix(r.name, i),
      wakesOn: r.wakesOn?.map((w) => (i === 0 ? w : `${w}${i}`)),
      outcome: renamed(r.outcome, i),
    })),
  )
    .flat()
    .map((r) =>
      r.key === 'bands' ? { ...r, outcome: { ...r.outcome, bands: r.outcome.bands.map((b) => moved(b, limit)) } } : r,
    );
  return { ...rulebook, recordTypes: [{ ...recordType, fields }], rules: all };
}
const moved = (band, limit) =>
  Object.fromEntries(Object.entries(band).map(([k, v]) => [k, v === 250 && typeof v === 'number' ? limit : v]));

const wide = (i) =>
  Object.fromEntries(
    Array.from({ length: copies }, (_, c) =>
      Object.entries(sentOf(i + c)).map(([k, v]) => [c === 0 ? k : `${k}${c}`, v]),
    ).flat(),
  );

if (!isMainThread) {
  const { share } = workerData;
  const [before, after] = [compileProgram(widened(250)), compileProgram(widened(200))];
  const own = [];
  for (let i = share; i < records; i += workers) own.push({ id: String(i), data: wide(i) });
  parentPort.postMessage('ready');
  parentPort.once('message', () => {
    const impact = new Impact(after.types.get('deal').recordType, before, after, 'as new', new RecordsSource([]), now);
    for (const r of own) impact.add(r);
    parentPort.postMessage(impact.figures().changed);
  });
} else await main();

async function main() {
  const rows = [];
  const row = (what, value, unit, wanted) => {
    rows.push({ what, value, unit, ...(wanted ? { wanted } : {}) });
    console.log(`${what}: ${value} ${unit}${wanted ? ` (wanted ${wanted})` : ''}`);
  };
  const hands = Array.from(
    { length: workers },
    (_, share) => new Worker(fileURLToPath(import.meta.url), { workerData: { share } }),
  );
  const answers = (each) =>
    Promise.all(hands.map((h) => new Promise((resolve) => (each?.(h), h.once('message', resolve)))));
  await answers();
  const program = compileProgram(widened(250));
  if (program.broken.length > 0) throw new Error(program.broken[0].diagnostics[0].message);
  let began = performance.now();
  const changed = await answers((h) => h.postMessage('go'));
  row(
    'dry run, 100,000 records by 24 rules, both rulebooks, two workers',
    round((performance.now() - began) / 1000),
    's',
    '< 5',
  );
  row(
    'dry run: records that come out otherwise',
    changed.reduce((a, b) => a + b, 0),
    '',
  );
  await Promise.all(hands.map((h) => h.terminate()));

  const tests = Array.from({ length: 1000 }, (_, i) => ({
    key: `t${i}`,
    name: `T ${i}`,
    recordType: 'deal',
    before: null,
    sent: wide(i * 37),
    moment: 'creating',
    entryPoint: 'api',
    now,
    expect: { verdict: i % 20 === 0 ? 'stopped' : 'saved' },
  }));
  const whole = { ...widened(250), tests };
  const runner = new TestRunner();
  const first = compileProgram(whole);
  began = performance.now();
  runner.run(first, tests);
  row('1,000 tests for the first time', round(performance.now() - began), 'ms');
  for (const [what, at] of [
    ['a rule that acts in all of them', 0],
    ['a rule that acts in all of them, again', 0],
  ]) {
    const edited = whole.rules.with(at, { ...whole.rules[at], purpose: `${what} ${Math.random()}` });
    began = performance.now();
    const next = recompileProgram(first, { ...whole, rules: edited });
    runner.run(next, tests);
    row(`1,000 tests after an edit of ${what}`, round(performance.now() - began), 'ms', '< 200');
    runner.run(first, tests);
  }

  const typical = compileProgram(rulebook);
  began = performance.now();
  const strength = strengthOf(typical, []);
  row('strength of the eight typical rules without a test', round((performance.now() - began) / 1000), 's');
  row(
    'strength: undecided',
    strength.undecided.length,
    `of ${strength.planted + strength.same + strength.undecided.length}`,
  );
  const meter = new StrengthMeter(typical, []);
  let longest = 0;
  for (const part of meter.parts()) {
    began = performance.now();
    meter.strengthOf(part);
    longest = Math.max(longest, performance.now() - began);
  }
  row('strength of one changed rule, the longest', round(longest), 'ms', '< 1,000');
  const file = fileURLToPath(new URL('proof-results.json', import.meta.url));
  writeFileSync(
    file,
    `${JSON.stringify({ node: process.version, cpu: cpus()[0].model, cores: cpus().length, rows }, null, 2)}\n`,
  );
}

function round(n) {
  return Math.round(n * 100) / 100;
}
