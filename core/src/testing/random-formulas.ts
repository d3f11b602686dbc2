/** Random formulas by seed, in the types of the language and with all its functions: mostly right ones, some that are not. */
import type { Type } from '../language/types/types.ts';
import { functions } from '../language/functions/index.ts';
import { signaturesOf, type LanguageFunction } from '../language/functions/function.ts';

/** A stream of numbers in [0, 1) by seed (mulberry32): the same on every machine. */
export function randomBy(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

type Kind = Type['kind'];

const resultOf = (f: LanguageFunction): Kind => (typeof f.result === 'function' ? 'any' : f.result.kind);
const giving = (kind: Kind): readonly LanguageFunction[] =>
  functions.filter((f) => !f.onField && [kind, 'any'].includes(resultOf(f)));

export interface Names {
  /** Names by the kind of their type. */
  readonly [kind: string]: readonly string[];
}

const literals: Readonly<Record<string, readonly string[]>> = {
  number: ['0', '1', '-3', '0.5', '1/3', '1E30', '12345678901234567890.5', '7'],
  text: ['""', '"a"', '"Fen & Sons"', '"1,250"', '"\\u00e9"', '"a b  c"', '"2026-05-03"', '"P1D"', '"["'],
  boolean: ['true', 'false', 'null'],
  date: ['@"2026-05-03"', '@"2024-02-29"', 'today()'],
  time: ['@"10:30:00"', '@"23:59:59Z"'],
  'date time': ['@"2026-03-29T00:30:00+00:00"', 'now()', '@"2026-05-03T10:00:00@Europe/Lisbon"'],
  days: ['@"P1D"', '@"-PT36H"'],
  years: ['@"P1Y2M"', '@"-P3M"'],
  range: ['[1..5]', '(1..3)', '[@"2026-01-01"..@"2026-02-01"]'],
  null: ['null'],
};

const kinds: readonly Kind[] = [
  'number',
  'text',
  'boolean',
  'date',
  'time',
  'date time',
  'days',
  'years',
  'list',
  'context',
  'range',
];

export class FormulaMaker {
  private readonly random: () => number;
  private readonly names: Names;
  private variables: string[] = [];

  constructor(random: () => number, names: Names = {}) {
    this.random = random;
    this.names = names;
  }

  private pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]!;
  }

  /** A formula that gives a value of the kind, most of the time. */
  make(kind: Kind = this.pick(kinds), depth = 4): string {
    if (this.random() < 0.04) return this.make(this.pick(kinds), depth - 1);
    if (kind === 'any' || kind === 'record' || kind === 'option') return this.make(this.pick(kinds), depth);
    if (depth <= 0) return this.leaf(kind);
    const roll = this.random();
    if (roll < 0.2) return this.leaf(kind);
    if (roll < 0.28)
      return `(if ${this.make('boolean', depth - 1)} then ${this.make(kind, depth - 1)} else ${this.make(kind, depth - 1)})`;
    if (roll < 0.34) return `${this.list(kind, depth - 1)}[${this.pick(['1', '-1', '2', '9'])}]`;
    if (roll < 0.4) return `{a: ${this.make(kind, depth - 1)}, b: a}.${this.pick(['a', 'b'])}`;
    if (roll < 0.44)
      return `(function(p) ${this.within('p', () => this.make(kind, depth - 1))})(${this.make(this.pick(kinds), depth - 1)})`;
    if (roll < 0.6) return this.call(kind, depth);
    return this.own(kind, depth);
  }

  private within(name: string, work: () => string): string {
    this.variables.push(name);
    const made = work();
    this.variables.pop();
    return made;
  }

  private leaf(kind: Kind): string {
    const named = [...(this.names[kind] ?? []), ...(this.random() < 0.2 ? this.variables : [])];
    if (named.length > 0 && this.random() < 0.5) return this.pick(named);
    if (kind === 'list')
      return this.pick([
        '[]',
        '[1, 2, 3]',
        '["a", "b", "a"]',
        '[1, "a", null]',
        '[[1], [2, [3]]]',
        '(for i in 1..9 return i)',
      ]);
    if (kind === 'context') return this.pick(['{}', '{a: 1}', '{key: "a", value: 2}']);
    if (kind === 'function') return this.pick(['function(x, y) x < y', 'function(x) x', 'count']);
    return this.pick(literals[kind] ?? ['null']);
  }

  private list(kind: Kind, depth: number): string {
    return `[${[0, 1, 2].map(() => this.make(kind, depth - 1)).join(', ')}]`;
  }

  private call(kind: Kind, depth: number): string {
    const f = this.pick(giving(kind));
    const parameters = this.pick(signaturesOf(f)).filter((p) => !p.optional || this.random() < 0.5);
    const more = f.variadic && this.random() < 0.5 ? [parameters.at(-1)!, parameters.at(-1)!] : [];
    const given = [...parameters, ...more].map((p) => this.make(p.type.kind, depth - 1));
    return `${f.name}(${given.join(', ')})`;
  }

  private own(kind: Kind, depth: number): string {
    const part = (k: Kind): string => this.make(k, depth - 1);
    switch (kind) {
      case 'number':
        return this.pick([
          () => `(${part('number')} ${this.pick(['+', '-', '*', '/', '**'])} ${part('number')})`,
          () => `(${part('days')} / ${part('days')})`,
          () => `${part('date')}.${this.pick(['year', 'month', 'day', 'weekday'])}`,
          () => `-(${part('number')})`,
        ])();
      case 'text':
        return `(${part('text')} + ${part('text')})`;
      case 'boolean':
        return this.pick([
          () => `(${part('boolean')} ${this.pick(['and', 'or'])} ${part('boolean')})`,
          () => {
            const k = this.pick<Kind>(['number', 'text', 'date', 'date time', 'days']);
            return `(${part(k)} ${this.pick(['<', '<=', '>', '>=', '=', '!='])} ${part(k)})`;
          },
          () => `(${part('number')} between ${part('number')} and ${part('number')})`,
          () =>
            `(${part('number')} in (${part('number')}, < ${part('number')}, [${part('number')}..${part('number')}]))`,
          () =>
            `(${this.pick(['some', 'every'])} v in ${part('list')} satisfies ${this.within('v', () => part('boolean'))})`,
          () => `(${part('text')} instance of ${this.pick(['string', 'number', 'list<number>'])})`,
        ])();
      case 'date':
      case 'date time':
        return `(${part(kind)} ${this.pick(['+', '-'])} ${part(this.pick(['days', 'years']))})`;
      case 'time':
        return `(${part('time')} + ${part('days')})`;
      case 'days':
        return this.pick([
          () => `(${part('date')} - ${part('date')})`,
          () => `(${part('days')} * ${part('number')})`,
        ])();
      case 'years':
        return `(${part('years')} ${this.pick(['+', '-'])} ${part('years')})`;
      case 'list':
        return this.pick([
          () => `(for v in ${part('list')} return ${this.within('v', () => part(this.pick(kinds)))})`,
          () => `${part('list')}[${this.within('item', () => part('boolean'))}]`,
          () => this.list(this.pick(kinds), depth),
        ])();
      case 'range':
        return `[${part('number')}..${part('number')}]`;
      default:
        return this.leaf(kind);
    }
  }
}

/** Pieces of formulas in any order: what is typed half. */
export const pieces: readonly string[] = (
  'Employee| count|Stage|"|"Won"|(|)|[|]|..|+|-|*|**|/|^|<|=|==|!=|<>|and| or |not|if | then | else |1|.|,|/*|*/|//|\n|previous|{|}|' +
  'for i in | return |some v in | satisfies |function(x) |{a: | in (|item|sort(|?|\u{1f347}|between| and |@"2026"|\\|external|instance of|' +
  ' \u0000|\ud800|null|date(|:|;|~|#|%|&|1e400|0x10|"\\u{}"|'
)
  .split('|')
  .filter(Boolean)
  .concat('|');
