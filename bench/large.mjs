/**
 * npm run bench -- large: what a rulebook far larger than anybody's costs the server, worked out in steps as the server
 * does: how long in all, how long the longest step holds up everybody else, and the first write after it.
 */
import { compileInSteps } from '../core/dist/compile/index.js';
import { canonicalInSteps } from '../core/dist/document/index.js';
import { emptySource } from '../core/dist/records/index.js';
import { ChangeCounter, diffInSteps } from '../core/dist/refactor/index.js';
import { settle } from '../core/dist/settle/index.js';
import { largeRulebook } from './large-rulebook.mjs';

const print = (what, ms) => console.log(`  ${what.padEnd(44)}${ms.toFixed(0).padStart(7)} ms`);

function timed(what, work) {
  const began = performance.now();
  const result = work();
  print(what, performance.now() - began);
  return result;
}

function inSteps(what, work) {
  const began = performance.now();
  let [last, longest] = [began, 0];
  for (let step = work.next(); ; step = work.next()) {
    const now = performance.now();
    longest = Math.max(longest, now - last);
    last = now;
    if (!step.done) continue;
    print(what, now - began);
    print('  its longest step', longest);
    return step.value;
  }
}

/** Each rule by another name, every other row of a table otherwise. */
const another = ({ rules, tables, ...rest }) => ({
  ...rest,
  rules: rules.map((r) => ({ ...r, name: `${r.name} again` })),
  tables: tables.map((t) => ({
    ...t,
    rows: t.rows.map((row, i) => (i % 2 === 0 ? row : { ...row, [t.outputs[0].key]: `other ${i}` })),
  })),
});

const cases = {
  '5,000 rules over 7,000 fields': {},
  'a mapping table of 200,000 rows': { rules: 100, types: 1, rows: 200_000 },
};
for (const [name, options] of Object.entries(cases)) {
  console.log(name);
  const rulebook = largeRulebook(options);
  const json = JSON.stringify(rulebook);
  const read = timed('read its JSON', () => JSON.parse(json));
  const program = inSteps('compile', compileInSteps(read));
  if (program.broken.length > 0) throw new Error(program.broken[0].diagnostics[0].message);
  inSteps('write its canonical JSON', canonicalInSteps(read));
  const counter = new ChangeCounter(rulebook);
  inSteps('count its changes against another', counter.countInSteps(read));
  timed('and once more', () => counter.count({ ...read, rules: [...read.rules] }));
  const changes = inSteps('tell the changes of one that differs all over', diffInSteps(read, another(read)));
  console.log(`  in ${changes.reduce((n, c) => n + c.phrases.length, 0)} phrases`);
  const sent = { count_1: 4, code_1: 'C5', amount_1: 10 };
  const write = { recordType: 'type_0', before: null, sent, typed: [], moment: 'creating', entryPoint: 'api' };
  timed('first write after it', () => settle(program, { ...write, now: '2026-05-03T09:00:00Z' }, emptySource));
  console.log(`  memory in all ${(process.memoryUsage().rss / 1e6).toFixed(0)} MB`);
}
