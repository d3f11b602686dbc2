#!/usr/bin/env node
/**
 * npm run bench: how fast the engine is, as ratios in one run, against the same rule written by hand and against an
 * interpreter from the registry. Each result is checked before it is timed. Writes bench/results.json.
 */
import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { evaluate } from 'feelin';
import { compileProgram, settle } from '../core/dist/index.js';

const records = 100_000;
const options = (...names) => names.map((name) => ({ key: name.toLowerCase(), name }));
const fields = [
  { key: 'name', name: 'Name', type: 'text' },
  { key: 'count', name: 'Employee count', type: 'number', scale: 0 },
  {
    key: 'class',
    name: 'Size class',
    type: 'picklist',
    ordered: true,
    options: options('Micro', 'Small', 'Medium', 'Large'),
  },
];
const bands = [
  { from: 0, to: 10, result: 'micro' },
  { from: 10, to: 50, result: 'small' },
  { from: 50, to: 250, result: 'medium' },
  { from: 250, result: 'large' },
];
const ruleOn = (key, source, target, results = bands) => ({
  key,
  recordType: 'customer',
  name: key,
  purpose: '',
  kind: 'categorize',
  on: true,
  position: 0,
  moments: ['editing', 'creating', 'updating'],
  entryPoints: ['form:full', 'api'],
  repeat: 'wakes',
  winner: 'rule',
  outcome: { source, target, bands: results, blank: { do: 'clear' }, outside: { do: 'clear' } },
});
const rulebook = (rules, more = []) => ({
  format: 'rigid-rule/1',
  name: 'bench',
  zone: 'UTC',
  currency: 'EUR',
  rules,
  recordTypes: [
    {
      key: 'customer',
      name: 'Customer',
      plural: 'Customers',
      title: ['name'],
      fields: [...fields, ...more],
      forms: [{ key: 'full', name: 'full form' }],
    },
  ],
});
const write = (before, sent) => ({
  recordType: 'customer',
  before,
  sent,
  typed: [],
  moment: before ? 'updating' : 'creating',
  entryPoint: 'api',
  now: '2026-01-01T00:00:00Z',
});

/** Best of several runs, in milliseconds: what the machine can do, not what else it did. */
function time(work, runs = 5) {
  work();
  let best = Infinity;
  for (let i = 0; i < runs; i++) {
    const began = performance.now();
    work();
    best = Math.min(best, performance.now() - began);
  }
  return best;
}

const counts = Array.from({ length: records }, (_, i) => (i * 7919) % 1000);
const byHand = (count) =>
  count === null
    ? null
    : count < 0
      ? null
      : count < 10
        ? 'micro'
        : count < 50
          ? 'small'
          : count < 250
            ? 'medium'
            : 'large';
const program = compileProgram(rulebook([ruleOn('size', 'Employee count', 'class')]));
const feelSource =
  'if Employee count < 10 then "micro" else if Employee count < 50 then "small" else if Employee count < 250 then "medium" else "large"';

for (const count of [0, 9, 10, 49, 50, 249, 250, 999]) {
  const engine = settle(program, write(null, { count })).data.class;
  const feel = evaluate(feelSource, { 'Employee count': count }).value;
  if (engine !== byHand(count) || feel !== byHand(count)) throw new Error(`the three differ at ${count}`);
}

let sink = 0;
const hand = time(() => {
  for (let i = 0; i < records; i++) {
    const before = { name: 'Alder', count: null, class: null };
    const after = { ...before, count: counts[i] };
    after.class = byHand(after.count);
    sink += after.class.length;
  }
}, 9);
const engineRun = (trace) => () => {
  for (let i = 0; i < records; i++)
    sink += settle(program, write(null, { name: 'Alder', count: counts[i] }), undefined, { trace }).data.class.length;
};
const bare = time(engineRun(false));
const traced = time(engineRun(true));
const few = records / 100;
const interpreter =
  time(() => {
    for (let i = 0; i < few; i++) sink += evaluate(feelSource, { 'Employee count': counts[i] }).value.length;
  }, 3) * 100;

/** One edit under n rules over the same 40 fields, of which the same three wake. */
function oneEdit(n) {
  const more = Array.from({ length: 20 }, (_, i) => [
    { key: `in${i}`, name: `In ${i}`, type: 'number' },
    { key: `out${i}`, name: `Out ${i}`, type: 'number' },
  ]).flat();
  const numeric = [
    { to: 10, result: 1 },
    { from: 10, result: 2 },
  ];
  const rules = Array.from({ length: n }, (_, i) =>
    ruleOn(`r${i}`, i < 3 ? 'Employee count' : `In ${i % 20}`, `out${i % 20}`, numeric),
  );
  const book = rulebook(rules, more);
  const began = performance.now();
  const compiled = compileProgram(book);
  const compile = performance.now() - began;
  if (compiled.broken.length > 0) throw new Error('a rule of the bench is broken');
  const edit = write({ data: { name: 'Alder', count: 5 }, held: [] }, { count: 60 });
  if (settle(compiled, edit).trace.filter((t) => t.verdict === 'ran').length !== 3)
    throw new Error('not three rules ran');
  const times = 20_000;
  const each = () => {
    for (let i = 0; i < times; i++) sink += settle(compiled, edit, undefined, { trace: false }).changes.length;
  };
  return { compile, edit: time(each, 9) / times };
}
const edits = Object.fromEntries([10, 100, 1000].map((n) => [n, oneEdit(n)]));

const perSecond = (ms) => Math.round(records / (ms / 1000));
const results = {
  machine: { node: process.version, cpu: cpus()[0]?.model, cores: cpus().length },
  recordsPerSecond: {
    byHand: perSecond(hand),
    engine: perSecond(bare),
    engineWithTrace: perSecond(traced),
    interpreter: perSecond(interpreter),
  },
  ratios: {
    'engine / by hand': hand / bare,
    'engine with trace / by hand': hand / traced,
    'engine / interpreter': interpreter / bare,
    'one edit, 100 rules / 10 rules': edits[100].edit / edits[10].edit,
    'one edit, 1,000 rules / 10 rules': edits[1000].edit / edits[10].edit,
  },
  compileMilliseconds: { '1,000 rules': edits[1000].compile },
};
console.log(
  `One categorize rule over ${records.toLocaleString('en')} new records (${results.machine.node}, ${results.machine.cpu}):`,
);
for (const [name, n] of Object.entries(results.recordsPerSecond))
  console.log(`  ${name.padEnd(36)} ${n.toLocaleString('en').padStart(12)} records/s`);
console.log('Ratios:');
for (const [name, n] of Object.entries(results.ratios))
  console.log(`  ${name.padEnd(36)} ${n.toFixed(3).padStart(12)}`);
console.log(`  ${'compile 1,000 rules'.padEnd(36)} ${edits[1000].compile.toFixed(0).padStart(12)} ms`);
if (sink < 0) console.log(sink);
writeFileSync(new URL('results.json', import.meta.url), `${JSON.stringify(results, null, 2)}\n`);
