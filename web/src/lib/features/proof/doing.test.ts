import { expect, it } from 'vitest';
import { doing } from './doing.ts';

it.each([
  ['before anything is weighed', undefined, 'Being weighed …'],
  ['at the beginning', { done: 0, all: 44, spent: 10 }, '0 of 44 rules and tables weighed'],
  ['on the way', { done: 11, all: 44, spent: 2500 }, '11 of 44 rules and tables weighed, about 8 s left'],
  ['at the end: claims come last', { done: 44, all: 44, spent: 9000 }, 'All weighed; claims are being tried …'],
])('what is done is told %s', (_, progress, told) => expect(doing(progress)).toBe(told));
