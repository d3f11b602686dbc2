#!/usr/bin/env node
/**
 * npm run bench: how fast the engine is, as ratios in one run: eight typical rules over 100,000 records against the
 * same work written by hand and against interpreters from the registry. Each result is checked before it is timed.
 * Writes bench/results.json.
 */
import { deepStrictEqual } from 'node:assert';
import { fileURLToPath } from 'node:url';
import { createServer } from 'vite';
import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { evaluate } from 'feelin';
import { Engine } from 'json-rules-engine';
import { compileProgram } from '../core/dist/compile/index.js';
import { emptySource } from '../core/dist/records/index.js';
import { settle } from '../core/dist/settle/index.js';
import { bands, byHand, centsMargin, now, recordType, rulebook, rules, sentOf, sources, writeOf } from './typical.mjs';
import { asked } from './asked.mjs';

const records = 100_000;
const checked = 2_000;
let sink = 0;

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

const compile = (book) => {
  const program = compileProgram(book);
  if (program.broken.length > 0) throw new Error(program.broken[0].diagnostics[0].message);
  return program;
};
const program = compile(rulebook);
const sents = Array.from({ length: records }, (_, i) => sentOf(i));
const run = (p, sent, trace) => settle(p, writeOf(sent), emptySource, { trace });
const filled = (data) => Object.fromEntries(Object.entries(data).filter(([, v]) => v !== null));

for (const sent of sents.slice(0, checked)) {
  const [engine, hand] = [run(program, sent, true), byHand(sent)];
  deepStrictEqual(engine.data, filled(hand.data));
  deepStrictEqual([engine.verdict, engine.messages.map((m) => m.text)], [hand.verdict, hand.messages]);
}

const hand = time(() => {
  for (const sent of sents) sink += byHand(sent).verdict.length;
}, 9);
const cents = time(() => {
  for (const sent of sents) sink += byHand(sent, centsMargin).verdict.length;
}, 9);
const engineRun =
  (p, trace, list = sents) =>
  () => {
    for (const sent of list) sink += run(p, sent, trace).verdict.length;
  };
const bare = time(engineRun(program, false));
const traced = time(engineRun(program, true));

/** The interpreter offers no compiling: it reads each text again, as it would in use. */
const feelNames = {
  'Employee count': 'count',
  'Full name': 'full',
  Amount: 'amount',
  Cost: 'cost',
  Discount: 'discount',
};
const feelTexts = [
  'if Employee count < 0 then null else if Employee count < 10 then "micro" else if Employee count < 50 then "small" else if Employee count < 250 then "medium" else "large"',
  'substring before(Full name, " ")',
  'substring after(Full name, " ")',
  'Amount - Cost',
  'Discount <= 0.15',
];
const feelRules = compile({
  ...rulebook,
  rules: rules.filter((r) => ['bands', 'names', 'margin', 'check'].includes(r.key)),
});
const feelContext = (sent) => Object.fromEntries(Object.entries(feelNames).map(([name, key]) => [name, sent[key]]));
for (const sent of sents.slice(0, 100)) {
  const context = feelContext(sent);
  const { data } = run(feelRules, sent, false);
  const given = feelTexts.slice(0, 3).map((text) => evaluate(text, context).value);
  deepStrictEqual(given, [data.size ?? null, data.first ?? null, data.last ?? null]);
}
const fewFeel = sents.slice(0, 1_000);
const feel =
  (time(() => {
    for (const sent of fewFeel) {
      const context = feelContext(sent);
      for (const text of feelTexts) sink += evaluate(text, context).value === null ? 0 : 1;
    }
  }, 3) *
    records) /
  fewFeel.length;
const feelPeer = time(engineRun(feelRules, false));

/** The three rules that it can express: bands, option to option, a check. */
const threeRules = compile({ ...rulebook, rules: rules.filter((r) => ['bands', 'options', 'check'].includes(r.key)) });
const priorities = ['now', 'soon', 'later'];
const jsonEngine = new Engine([
  ...bands.map(({ from, to, result }) => ({
    conditions: {
      all: [
        { fact: 'count', operator: 'greaterThanInclusive', value: from },
        ...(to === undefined ? [] : [{ fact: 'count', operator: 'lessThan', value: to }]),
      ],
    },
    event: { type: 'size', params: { value: result } },
  })),
  ...sources.map((source, i) => ({
    conditions: { all: [{ fact: 'source', operator: 'equal', value: source.toLowerCase() }] },
    event: { type: 'priority', params: { value: priorities[i % 3] } },
  })),
  {
    conditions: { all: [{ fact: 'discount', operator: 'greaterThan', value: 0.15 }] },
    event: { type: 'stop', params: { value: 'At most 15 %.' } },
  },
]);
const byJson = async (sent) => {
  const { events } = await jsonEngine.run({ count: sent.count, source: sent.source, discount: sent.discount });
  return Object.fromEntries(events.map((e) => [e.type, e.params.value]));
};
for (const sent of sents.slice(0, 100)) {
  const [own, other] = [run(threeRules, sent, false), await byJson(sent)];
  deepStrictEqual([other.size, other.priority, other.stop], [own.data.size, own.data.priority, own.messages[0]?.text]);
}
const fewJson = sents.slice(0, 1_000);
let json = Infinity;
for (let i = 0; i < 3; i++) {
  const began = performance.now();
  for (const sent of fewJson) sink += Object.keys(await byJson(sent)).length;
  json = Math.min(json, ((performance.now() - began) * records) / fewJson.length);
}
const jsonPeer = time(engineRun(threeRules, false));

/** One edit under n rules over the same 40 fields, of which the same three wake. */
function oneEdit(n) {
  const fields = [
    { key: 'count', name: 'Employee count', type: 'number', scale: 0 },
    ...Array.from({ length: 20 }, (_, i) => [
      { key: `in${i}`, name: `In ${i}`, type: 'number' },
      { key: `out${i}`, name: `Out ${i}`, type: 'number' },
    ]).flat(),
  ];
  const outcome = (source, target) => ({
    source,
    target,
    bands: [
      { to: 10, result: 1 },
      { from: 10, result: 2 },
    ],
    blank: { do: 'clear' },
    outside: { do: 'clear' },
  });
  const many = Array.from({ length: n }, (_, i) => ({
    ...rules[0],
    key: `r${i}`,
    position: i,
    outcome: outcome(i < 3 ? 'Employee count' : `In ${i % 20}`, `out${i % 20}`),
  }));
  const book = { ...rulebook, tables: [], rules: many, recordTypes: [{ ...recordType, title: ['count'], fields }] };
  const began = performance.now();
  const compiled = compile(book);
  const compileTime = performance.now() - began;
  const edit = {
    recordType: 'deal',
    before: { data: { count: 5 }, held: [] },
    sent: { count: 60 },
    typed: [],
    moment: 'updating',
    entryPoint: 'api',
    now,
  };
  if (settle(compiled, edit).trace.filter((t) => t.verdict === 'ran').length !== 3)
    throw new Error('not three rules ran');
  const times = 20_000;
  const each = () => {
    for (let i = 0; i < times; i++) sink += settle(compiled, edit, emptySource, { trace: false }).changes.length;
  };
  return { compile: compileTime, edit: time(each, 9) / times };
}
const edits = Object.fromEntries([10, 100, 1000].map((n) => [n, oneEdit(n)]));

/** What settling leaves behind, in bytes a record, after a collection: a constant amount would be 0. */
function memoryPerRecord() {
  const used = () => {
    globalThis.gc?.();
    return process.memoryUsage().heapUsed;
  };
  const before = used();
  engineRun(program, false)();
  return Math.max(0, used() - before) / records;
}

/** The longest of many random formulas and of the nasty ones, compiled and run once: the guard's promise, in time. */
async function longestFormulas(count) {
  // One server, so that all modules are the same ones.
  const server = await createServer({
    configFile: false,
    logLevel: 'error',
    server: { middlewareMode: true },
    appType: 'custom',
  });
  const load = (name) => server.ssrLoadModule(fileURLToPath(new URL(`../core/src/${name}.ts`, import.meta.url)));
  const [
    { FormulaMaker, randomBy },
    { fullHost, sampleEnvironments, sampleNames, sampleScope },
    nasty,
    { createFormula },
  ] = await Promise.all(
    ['testing/random-formulas', 'testing/formula-scope', 'testing/nasty-formulas', 'language/expression/formula'].map(
      load,
    ),
  );
  const timed = (text, scope, environments) => {
    const began = performance.now();
    const { evaluate } = createFormula(text, scope);
    for (const env of environments) evaluate?.(env);
    return performance.now() - began;
  };
  const random = randomBy(20_261_125);
  const maker = new FormulaMaker(random, sampleNames);
  let longest = 0;
  for (let i = 0; i < count; i++)
    longest = Math.max(
      longest,
      timed(maker.make(undefined, 1 + Math.floor(random() * 5)), sampleScope, sampleEnvironments.slice(0, 1)),
    );
  const env = { record: nasty.nastyRecord, previous: [], host: fullHost, variables: [] };
  // The same work in other places as well: a condition, a context.
  const costly = nasty.costly.map(([text]) => text);
  const texts = [
    ...nasty.beyondGrammar.map(([, text]) => text),
    ...costly,
    ...costly.map((text) => `if is blank(${text}) then 1 else 2`),
    ...costly.map((text) => `{a: ${text}, b: a}.b`),
  ];
  const worst = texts.map((text) => timed(text, nasty.nastyScope, [env]));
  await server.close();
  return { longest, worst: Math.max(...worst), nasty: worst.length };
}
const { formulas } = asked;
const longest = await longestFormulas(formulas);

const perSecond = (ms) => Math.round(records / (ms / 1000));
const results = {
  machine: { node: process.version, cpu: cpus()[0]?.model, cores: cpus().length },
  recordsPerSecond: {
    'by hand, exact decimals': perSecond(hand),
    'by hand, whole cents': perSecond(cents),
    engine: perSecond(bare),
    'engine with full traces': perSecond(traced),
    'feelin, four of the rules': perSecond(feel),
    'json-rules-engine, three of the rules': perSecond(json),
  },
  ratios: {
    'engine / by hand on whole cents': { value: cents / bare, wanted: 'at least 0.1' },
    'engine / by hand, exact decimals': { value: hand / bare, wanted: 'at least 0.3' },
    'cost with full traces / without': { value: traced / bare, wanted: 'at most 2' },
    'engine / feelin, four rules': { value: feel / feelPeer, wanted: 'at least 255' },
    'engine / json-rules-engine, three rules': { value: json / jsonPeer, wanted: 'at least 100' },
    'one edit, 100 rules / 10 rules': { value: edits[100].edit / edits[10].edit, wanted: 'at most 1.5' },
    'one edit, 1,000 rules / 10 rules': { value: edits[1000].edit / edits[10].edit, wanted: 'at most 1.5' },
  },
  compileMilliseconds: { '1,000 rules': { value: edits[1000].compile, wanted: 'below 500' } },
  formulaMilliseconds: {
    [`longest of ${formulas.toLocaleString('en')} random`]: { value: longest.longest, wanted: 'below 250' },
    [`longest of ${longest.nasty} nasty`]: { value: longest.worst, wanted: 'below 250' },
  },
  bytesKeptPerRecord: { value: memoryPerRecord(), wanted: 'about 0' },
};
console.log(
  `Eight typical rules over ${records.toLocaleString('en')} new records (${results.machine.node}, ${results.machine.cpu})`,
);
for (const [name, n] of Object.entries(results.recordsPerSecond))
  console.log(`  ${name.padEnd(42)} ${n.toLocaleString('en').padStart(12)} records/s`);
const line = (name, { value, wanted }, unit = '') =>
  console.log(`  ${name.padEnd(42)} ${value.toFixed(value < 10 ? 3 : 0).padStart(12)}${unit}   ${wanted}`);
console.log('Ratios and measures, with what is wanted');
for (const [name, r] of Object.entries(results.ratios)) line(name, r);
line('compile 1,000 rules', results.compileMilliseconds['1,000 rules'], ' ms');
for (const [name, r] of Object.entries(results.formulaMilliseconds)) line(name, r, ' ms');
line('memory kept', results.bytesKeptPerRecord, ' bytes a record');
if (sink < 0) console.log(sink);
writeFileSync(new URL('results.json', import.meta.url), `${JSON.stringify(results, null, 2)}\n`);
