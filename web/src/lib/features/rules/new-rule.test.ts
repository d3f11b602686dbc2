/** Rules to begin with, and rules that come as text. */
import { compileProgram, ruleKinds } from '@rigid-rule/core/compile';
import { draft } from '@rigid-rule/demo';
import { describe, expect, it } from 'vitest';
import { beginRule, ruleFromText } from './new-rule.ts';
import { ruleToText } from './rule-text.ts';

it.each(ruleKinds.map((kind) => [kind.key, kind] as const))(
  '%s begins on any field with nothing wrong but what is missing',
  (_, kind) => {
    const said = new Set<string>();
    for (const type of draft.recordTypes)
      for (const field of type.fields) {
        const rule = beginRule(kind, field, type, draft, 'begun');
        const [begun] = compileProgram({ ...draft, rules: [rule] }).types.get(type.key)!.rules;
        for (const d of begun!.diagnostics) said.add(d.message);
      }
    expect([...said].filter((text) => !/is empty|yet/.test(text))).toEqual([]);
  },
);

describe('a rule as text', () => {
  const [rule] = draft.rules;
  const copied = JSON.parse(ruleToText(rule!)) as { rule: Record<string, unknown> };
  const without = (key: string) => ({ ...copied, rule: { ...copied.rule, [key]: undefined } });
  it.each<[string, string, unknown]>([
    ['comes back as it was', ruleToText(rule!), rule],
    ['is nothing of ours', 'hello', undefined],
    ['of another format', JSON.stringify({ format: 'other', about: 'rigid-rule/rule/1' }), undefined],
    ['cut off', ruleToText(rule!).slice(0, -9), { problem: expect.stringContaining('no JSON') }],
    ['without its moments', JSON.stringify(without('moments')), { problem: expect.stringContaining('moments') }],
    ['without itself', JSON.stringify({ ...copied, rule: null }), { problem: expect.any(String) }],
  ])('%s', (_, text, expected) => {
    expect(ruleFromText(text)).toEqual(expected);
  });
});
