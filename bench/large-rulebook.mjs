/** A rulebook far larger than anybody's: many rules of all kinds over many fields, and one mapping table of many rows. */

const moments = ['editing', 'creating', 'updating'];
const entryPoints = ['form:full', 'import', 'api'];
const levels = ['Low', 'Middle', 'High'];
const options = levels.map((name) => ({ key: name.toLowerCase(), name }));
const clear = { do: 'clear' };

/** Each group of rules has inputs of its own: a number, an amount and a text. */
const groupSize = 5;

function group(type, n) {
  const f = (name) => `${name} ${n}`;
  const k = (name) => `${name}_${n}`;
  const fields = [
    { key: k('count'), name: f('Count'), type: 'number', scale: 0 },
    { key: k('amount'), name: f('Amount'), type: 'money' },
    { key: k('code'), name: f('Code'), type: 'text' },
    { key: k('level'), name: f('Level'), type: 'picklist', ordered: true, options },
    { key: k('double'), name: f('Double'), type: 'money' },
    { key: k('label'), name: f('Label'), type: 'text' },
    { key: k('area'), name: f('Area'), type: 'text' },
  ];
  const rule = (name, kind, outcome, more = {}) => ({
    key: `${type}_${name}_${n}`,
    recordType: type,
    name: `${name} ${n}`,
    purpose: 'measured',
    kind,
    on: true,
    position: n * groupSize,
    moments,
    entryPoints,
    repeat: 'wakes',
    winner: 'rule',
    outcome,
    ...more,
  });
  const step = (target, formula, more = {}) => ({ target, scratch: '', formula, blank: 'clear', ...more });
  const bands = [
    { from: 0, to: 10 + (n % 5), result: 'low' },
    { from: 10 + (n % 5), to: 100, result: 'middle' },
    { from: 100, result: 'high' },
  ];
  const rules = [
    rule('bands', 'categorize', { source: f('Count'), target: k('level'), bands, blank: clear, outside: clear }),
    rule('double', 'derive', { steps: [step(k('double'), `${f('Amount')} * 2`)] }),
    rule('label', 'derive', { steps: [step(k('label'), '', { template: `{${f('Level')}}, {${f('Code')}}` })] }),
    rule('area', 'map', {
      source: { by: 'table', table: 'areas', keys: { code: f('Code') } },
      onto: '',
      outputs: [{ value: 'area', target: k('area'), way: 'replace' }],
    }),
    rule(
      'check',
      'validate',
      {
        checks: [
          { hold: 'must', formula: `${f('Amount')} <= 1000000`, message: 'At most a million.', field: k('amount') },
        ],
      },
      { condition: `${f('Count')} > 5 and ${f('Level')} != "High"` },
    ),
  ];
  return { fields, rules };
}

/** `rules` is a multiple of `types` times five. */
export function largeRulebook({ rules = 5_000, types = 20, rows = 1_000 } = {}) {
  const keys = Array.from({ length: types }, (_, i) => `type_${i}`);
  const groups = keys.map((type) => Array.from({ length: rules / types / groupSize }, (_, n) => group(type, n)));
  return {
    format: 'rigid-rule/1',
    name: 'large',
    zone: 'UTC',
    currency: 'EUR',
    recordTypes: keys.map((key, i) => ({
      key,
      name: `Type ${i}`,
      plural: `Types ${i}`,
      title: ['name'],
      forms: [{ key: 'full', name: 'full form' }],
      fields: [{ key: 'name', name: 'Name', type: 'text' }, ...groups[i].flatMap((g) => g.fields)],
    })),
    rules: groups.flat().flatMap((g) => g.rules),
    tables: [
      {
        key: 'areas',
        name: 'Area table',
        purpose: '',
        hitPolicy: 'unique',
        keys: [{ key: 'code', name: 'Code' }],
        outputs: [{ key: 'area', name: 'Area' }],
        rows: Array.from({ length: rows }, (_, i) => ({ code: `C${i}`, area: `Area ${i % 997}` })),
      },
    ],
  };
}
