import { describe, expect, it } from 'vitest';
import { partKinds } from '@rigid-rule/core/document';
import { pageOf, type Change } from './changes.ts';
import { timelineOf } from './timeline.ts';

const change = (more: Partial<Change>): Change => ({
  part: { kind: 'rule', key: 'size-class' },
  what: 'changed',
  name: 'Size class',
  phrases: [],
  phraseCount: 0,
  recordType: 'customer',
  ...more,
});

describe('where a part that changed is seen', () => {
  const at: Readonly<Record<(typeof partKinds)[number], readonly [key: string, page: string | undefined]>> = {
    settings: ['rulebook', '/settings'],
    'record type': ['customer', '/fields/customer'],
    field: ['customer.size', '/fields/customer?field=size'],
    rule: ['size-class', '/desk/customer/size-class'],
    table: ['countries', '/mappings/countries'],
    test: ['around', '/desk/customer?test=around'],
    claim: ['c', '/tests/customer'],
    sample: ['s', undefined],
  };

  it.each(partKinds.map((kind) => [kind, ...at[kind]] as const))('%s', (kind, key, page) => {
    expect(pageOf(change({ part: { kind, key } }))).toBe(page);
    expect(pageOf(change({ part: { kind, key }, what: 'removed' }))).toBeUndefined();
  });
});

it('of releases that went live the newest is live, and one that was live before is put back', () => {
  const went = (id: number, release: number) => ({
    id,
    release,
    note: '',
    activatedBy: null,
    activatedAt: new Date(id),
  });
  expect(timelineOf([went(3, 1), went(2, 2), went(1, 1)]).map((e) => [e.head, e.live])).toEqual([
    ['Release 1, put back', true],
    ['Release 2', false],
    ['Release 1', false],
  ]);
});
