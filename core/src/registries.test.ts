/** One contract for every registry: what an entry must have, whoever adds it. */
import { sentenceWords } from './language/wording/words.ts';
import { describe, expect, it } from 'vitest';
import { catalog } from './diagnostics/catalog.ts';
import { entryPoints } from './compile/entry-points.ts';
import { fieldTypes } from './language/field-types/index.ts';
import { functions } from './language/functions/index.ts';
import { ruleKinds } from './compile/rule-kinds/index.ts';
import type { Field } from './document/document.ts';
import { customerType } from './testing/customers.ts';

const unique = (list: readonly string[]): void => expect(new Set(list).size).toBe(list.length);

describe('field types', () => {
  unique(fieldTypes.map((t) => t.key));
  const options = [
    { key: 'a', name: 'A b' },
    { key: 'c', name: 'C' },
  ];
  it.each(fieldTypes.map((t) => [t.key, t] as const))(
    '%s: blank stays blank; what is stored is coerced to itself, shown and typed again',
    (key, type) => {
      const field: Field = { key: 'f', name: 'F', type: key, options };
      expect([null, '', undefined].map((v) => type.coerce(v, field))).toEqual([
        { value: null },
        { value: null },
        { value: null },
      ]);
      expect(type.format(null, field)).toBe('');
      for (const edge of type.boundaryValues({ ...field, min: -2, max: 9, length: 5 }))
        expect(type.coerce(edge, { ...field, min: -2, max: 9, length: 5 })).toEqual({ value: edge });
      const first = type.coerce(type.example, field);
      if (!('value' in first)) throw new Error(first.problem);
      expect(type.coerce(first.value, field)).toEqual(first);
      expect(type.coerce(type.read(first.value, field), field)).toEqual(first);
      const shown = type.format(first.value, field);
      expect(shown).not.toBe('');
      expect(type.coerce(type.parse(shown, field), field)).toEqual(first);
    },
  );

  it.each<[string, unknown]>([
    ['number', 'x'],
    ['number', '1234567890123456.7'],
    ['number', Infinity],
    ['date', '2023-02-29'],
    ['date', '2024-13-01'],
    ['yes/no', 'maybe'],
    ['picklist', 'Ab'],
    ['multi-select', ['A b', 'Z']],
    ['email', 'a@b'],
    ['phone', 'call me'],
    ['duration', 'P1M'],
    ['duration', '-P1D'],
    ['duration', 'P1000000D'],
    ['text', 'a\u0000b'],
    ['text', '\ud800'],
    ['text', {}],
  ])('%s refuses %o in words', (key, value) => {
    const result = fieldTypes.find((t) => t.key === key)!.coerce(value, { key: 'f', name: 'F', type: key, options });
    expect('problem' in result && result.problem).toMatch(/^(is|has|holds) /);
  });
});

describe('functions', () => {
  it('have a help line, named parameters and an example', () => {
    unique(functions.map((f) => f.name));
    for (const f of functions) {
      expect(f.help).toMatch(/^[A-Z].*\.$/);
      expect(f.examples.length).toBeGreaterThan(0);
    }
  });
});

describe('rule kinds', () => {
  it.each(ruleKinds.map((k) => [k.key, k] as const))(
    '%s begins with an outcome that reads aloud and says what it writes',
    (_, kind) => {
      const target = customerType.fields.find((f) => f.key === 'class')!;
      const words = sentenceWords(customerType);
      const outcome = kind.createOutcome(target, customerType);
      expect(kind.targets(outcome)).toEqual(['class']);
      // A new check asks nothing until something is asked.
      const said = kind.clauses(outcome, customerType, words).join('');
      expect(said).toMatch(kind.replaces === false && said === '' ? /^$/ : /Size class/);
      expect(kind.differences(outcome, outcome, customerType, words)).toEqual([]);
      expect(kind.targets(null)).toBeInstanceOf(Array);
    },
  );
});

it('entry points and diagnostics have unique keys and plain words', () => {
  unique(entryPoints.map((e) => e.key));
  for (const { text } of Object.values(catalog))
    expect(typeof text === 'string' ? text : text({ what: 'This' })).toMatch(/(?:[.?]|\{didYouMean\})$/);
});
