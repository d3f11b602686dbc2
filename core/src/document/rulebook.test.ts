import { describe, expect, it } from 'vitest';
import { rulebookOf, sizeClass } from '../testing/customers.ts';
import { dealBook, dealTypes, ruleOf, setTo } from '../testing/deals.ts';
import { canonicalJson } from './canonical.ts';
import { diffRulebooks } from '../refactor/diff.ts';
import type { Field, Rule, Rulebook } from './document.ts';
import { applyPatch, type Operation } from './patch.ts';
import { fromParts, toParts } from './parts.ts';

const edited = (...operations: readonly Operation[]): Rule => applyPatch(sizeClass, operations).value;

describe('parts', () => {
  it('a rulebook taken apart and put together is the same, and keeps its objects', () => {
    const rulebook = rulebookOf(sizeClass);
    const again = fromParts(toParts(rulebook), rulebook);
    expect(canonicalJson(again)).toBe(canonicalJson(rulebook));
    expect(again.recordTypes[0]!.fields).toBe(rulebook.recordTypes[0]!.fields);
    expect(again.rules[0]).toBe(sizeClass);
  });
});

describe('what a draft changes, in words', () => {
  it.each<[string, Operation[], string[]]>([
    [
      'a boundary',
      [
        { op: 'add', path: '/outcome/bands/2/to', value: 200 },
        { op: 'add', path: '/outcome/bands/3/from', value: 200 },
      ],
      ['boundary 250 → 200, where Large begins'],
    ],
    [
      'whose a boundary is',
      [
        { op: 'add', path: '/outcome/bands/2/toClosed', value: true },
        { op: 'add', path: '/outcome/bands/3/fromOpen', value: true },
      ],
      ['boundary 250 now belongs to the band below it'],
    ],
    [
      'the purpose',
      [{ op: 'replace', path: '/purpose', value: 'Other' }],
      ['purpose reworded, no record changes: Other'],
    ],
    ['the switch', [{ op: 'replace', path: '/on', value: false }], ['switched off']],
    ['a condition', [{ op: 'add', path: '/condition', value: 'Area > 1' }], ['only if none → Area is above 1']],
    [
      'the winner',
      [{ op: 'replace', path: '/winner', value: 'person' }],
      ['if someone entered a value: locked → it stays'],
    ],
    [
      'an entry point',
      [{ op: 'remove', path: '/entryPoints/2' }],
      ['acts everywhere but conversion, another rule or backfill → full form, short form, API and bulk change'],
    ],
    [
      'what blank does',
      [{ op: 'replace', path: '/outcome/blank', value: { do: 'set', value: 'micro' } }],
      ['blank cleared → set to Micro'],
    ],
  ])('%s', (_, operations, phrases) => {
    const [change, ...more] = diffRulebooks(rulebookOf(sizeClass), rulebookOf(edited(...operations)));
    expect(more).toEqual([]);
    expect(change).toMatchObject({ what: 'changed', name: sizeClass.name, ruleKind: 'categorize', phrases });
  });

  it('tells added from removed, and nothing from nothing', () => {
    expect(diffRulebooks(rulebookOf(), rulebookOf(sizeClass))).toMatchObject([
      { what: 'added', part: { key: 'size-class' } },
    ]);
    expect(diffRulebooks(rulebookOf(sizeClass), rulebookOf())).toMatchObject([{ what: 'removed' }]);
    expect(diffRulebooks(rulebookOf(sizeClass), rulebookOf({ ...sizeClass }))).toEqual([]);
  });
});

describe('a change is told whole, in names', () => {
  const rule = ruleOf('deal', 'derive', setTo('cost', '750'), { condition: 'Stage = "Won"', winner: 'locked' });
  const phrases = (before: Rulebook, after: Rulebook) => diffRulebooks(before, after).flatMap((c) => c.phrases);

  it('a new rule: what it does, when, who wins, where it does not act', () => {
    expect(phrases(dealBook([]), dealBook([{ ...rule, entryPoints: ['form:full', 'api'] }]))).toEqual([
      'When Stage is Won, Cost becomes 750. Locked. Only through full form and API.',
      'purpose: tried here',
    ]);
  });

  it.each<[string, Partial<Rule>, string]>([
    ['its condition', { condition: 'Stage = "Proposal"' }, 'only if Stage is Won → Stage is Proposal'],
    ['what wakes it', { wakesOn: ['amount', 'stage'] }, 'wakes on what it reads → Amount, Stage'],
    ['its repeat', { repeat: 'starts' }, 'repeat whenever it wakes → only when the condition starts to hold'],
    [
      'whom it tells',
      { notify: [{ channel: 'email', to: '"a@b.example"', subject: 'Won', body: '' }] },
      'now an email goes to "a@b.example": “Won”',
    ],
  ])('%s', (_, more, phrase) => {
    expect(phrases(dealBook([rule]), dealBook([{ ...rule, ...more }]))).toEqual([phrase]);
  });

  it.each<[string, (f: Field) => Field, string[]]>([
    ['decimals', (f) => ({ ...f, scale: 0 }), ['decimals none → 0']],
    ['required', (f) => ({ ...f, required: true }), ['required no → yes']],
    [
      'options',
      (f) => ({
        ...f,
        options: [
          ...f.options!.slice(1).map((o) => (o.key === 'won' ? { ...o, name: 'Signed' } : o)),
          { key: 'lost', name: 'Lost' },
        ],
      }),
      ['options added: Lost', 'options removed: Enquiry', 'option Won → Signed'],
    ],
  ])('%s of a field', (what, change, expected) => {
    const key = what === 'options' ? 'stage' : 'amount';
    const recordTypes = dealTypes.map((t) =>
      t.key === 'deal' ? { ...t, fields: t.fields.map((f) => (f.key === key ? change(f) : f)) } : t,
    );
    expect(phrases(dealBook([]), dealBook([], { recordTypes }))).toEqual(expected);
  });
});
