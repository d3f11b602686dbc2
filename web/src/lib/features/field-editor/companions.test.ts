import { findingsOf } from '@rigid-rule/core/analysis';
import { compileProgram, type Program } from '@rigid-rule/core/compile';
import { creating, editPartBody, fromParts, partId, toParts, type Part } from '@rigid-rule/core/document';
import { settle } from '@rigid-rule/core/settle';
import { draft } from '@rigid-rule/demo';
import { describe, expect, it } from 'vitest';
import { companionEdits, companions } from './companions.ts';

const lead = draft.recordTypes.find((t) => t.key === 'lead')!;
const customer = draft.recordTypes.find((t) => t.key === 'customer')!;
const fieldOf = (key: string) => lead.fields.find((f) => f.key === key)!;
const keys = { field: 'kept', rule: 'kept_rule', fieldPosition: 99 };

function withCompanion(companion: string, field: string) {
  const found = companions.find((c) => c.key === companion)!;
  const edits = companionEdits(found, fieldOf(field), lead, draft, keys, customer);
  const made = edits.map(({ ref, operations, position }): Part => ({
    ...ref,
    position: position ?? 0,
    body: editPartBody(undefined, operations).body!,
  }));
  return compileProgram(fromParts([...toParts(draft), ...made]));
}

const errorsOf = (program: Program) => findingsOf(program).flatMap((f) => (f.severity === 'error' ? f.sentence : []));

const write = (before: Record<string, string>, sent: Record<string, string>) => ({
  recordType: 'lead',
  id: '1',
  before: { data: { full_name: 'Ada Morrow', ...before }, held: [] },
  sent,
  typed: Object.keys(sent),
  moment: 'updating' as const,
  entryPoint: 'form:full',
  now: '2026-05-03T09:00:00+01:00',
});

describe('companion fields', () => {
  it.each(companions.flatMap((c) => lead.fields.filter((f) => c.suits(f)).map((f) => [c.key, f.key] as const)))(
    '%s of %s compiles',
    (companion, field) => {
      const program = withCompanion(companion, field);
      expect(program.broken.filter((b) => b.rule.key === keys.rule).flatMap((b) => b.diagnostics)).toEqual([]);
    },
  );

  it.each([
    ['previous', { stage: 'new' }, { stage: 'called' }, 'new'],
    ['furthest', { stage: 'called', kept: 'called' }, { stage: 'new' }, 'called'],
    ['changed at', { stage: 'new' }, { stage: 'called' }, '2026-05-03T08:00:00Z'],
  ] as const)('%s keeps what it says', (companion, before, sent, kept) => {
    const stages = fieldOf('stage').options!.map((o) => o.key);
    const named = (v: Record<string, string>) =>
      Object.fromEntries(
        Object.entries(v).map(([k, s]) => [k, s === 'new' ? stages[0]! : s === 'called' ? stages[1]! : s]),
      );
    const { data } = settle(withCompanion(companion, 'stage'), write(named(before), named(sent)));
    const wanted = kept === 'new' ? stages[0] : kept === 'called' ? stages[1] : kept;
    expect(data['kept']).toBe(wanted);
  });

  it('a lookup beside another has a list of its own at the other end', () => {
    const linked = lead.fields.filter((f) => f.type === 'lookup');
    expect(linked.length).toBeGreaterThan(0);
    for (const { key } of linked)
      expect(errorsOf(withCompanion('previous', key))).toEqual(errorsOf(compileProgram(draft)));
  });

  it('all parts are new ones', () => {
    const edits = companionEdits(companions[0]!, fieldOf('stage'), lead, draft, keys, customer);
    const there = new Set(toParts(draft).map(partId));
    expect(edits.map((e) => there.has(partId(e.ref)))).toEqual([false, false]);
    expect(edits[0]!.operations).toEqual([creating(expect.objectContaining({ key: 'kept' }) as object)]);
  });
});
