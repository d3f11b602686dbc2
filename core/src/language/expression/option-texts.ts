/**
 * What the texts in a formula stand for: each that meets the options of a field (is compared with them, tested against
 * them, given to the field), found by following values through the tree. A text that meets nothing of which the options
 * are known stands for itself as far as anyone can tell.
 */
import type { TextRange } from '../../diagnostics/catalog.ts';
import { optionsOf, type OptionNames } from '../types/types.ts';
import { findFunction } from '../functions/index.ts';
import { childrenOf, type Expression, type Iterator, type UnaryTest } from './ast.ts';
import type { Checked } from './checked.ts';

export interface OptionText {
  readonly text: string;
  readonly range: TextRange;
  /** The name of a context's entry rather than a literal. */
  readonly isKey: boolean;
  /** The lists of options that it meets. */
  readonly options: ReadonlySet<OptionNames>;
  /** The table columns whose cells it meets: `table.column`. */
  readonly columns: ReadonlySet<string>;
}

export interface OptionFlow {
  readonly texts: readonly OptionText[];
  /** Options that the formula itself may give. */
  readonly gives: ReadonlySet<OptionNames>;
  /** Columns of tables whose cells meet options in it. */
  readonly columns: ReadonlyMap<string, ReadonlySet<OptionNames>>;
  /** Lists of options that are held against each other. */
  readonly held: readonly (readonly OptionNames[])[];
}

/** Where the values of an expression may come from. */
interface Sources {
  readonly texts: readonly Found[];
  readonly options: ReadonlySet<OptionNames>;
  readonly columns: ReadonlySet<string>;
  /** Of contexts: what stands under each name, and the names themselves, which may be asked for by a value. */
  readonly members?: ReadonlyMap<string, Sources>;
  readonly keys?: readonly Found[];
}

interface Found {
  readonly text: string;
  readonly range: TextRange;
  readonly isKey: boolean;
  readonly options: Set<OptionNames>;
  readonly columns: Set<string>;
  /** Equal texts that it is held against. */
  readonly equal: Set<Found>;
}

function link(a: Found, b: Found): void {
  if (a === b) return;
  a.equal.add(b);
  b.equal.add(a);
}

const nothing: Sources = { texts: [], options: new Set(), columns: new Set() };

function merged(all: readonly Sources[]): Sources {
  if (all.length === 1) return all[0]!;
  const members = new Map<string, Sources>();
  for (const s of all)
    for (const [name, own] of s.members ?? []) {
      const before = members.get(name);
      members.set(name, before ? merged([before, own]) : own);
    }
  return {
    texts: all.flatMap((s) => s.texts),
    options: new Set(all.flatMap((s) => [...s.options])),
    columns: new Set(all.flatMap((s) => [...s.columns])),
    members,
    keys: all.flatMap((s) => s.keys ?? []),
  };
}

/** What a formula's texts meet; `given`: the options of what it gives its value to. */
export function optionTexts(expression: Expression, checked: Checked, args: readonly OptionNames[] = []): OptionFlow {
  const flow = new Flow(checked);
  const result = flow.of(expression, new Map());
  flow.meet(result, ofOptions(args));
  return flow.found(result.options);
}

/** The same for unary tests of a value that has these options. */
export function optionTextsOfTests(
  tests: readonly UnaryTest[],
  checked: Omit<Checked, 'type'>,
  args: readonly OptionNames[],
): OptionFlow {
  const flow = new Flow(checked);
  const tested = ofOptions(args);
  flow.tests(tested, tests, new Map([['?', tested]]));
  return flow.found(new Set());
}

const ofOptions = (options: readonly OptionNames[]): Sources => ({ ...nothing, options: new Set(options) });

type Variables = ReadonlyMap<string, Sources>;

class Flow {
  private readonly checked: Omit<Checked, 'type'>;
  private readonly texts = new Map<number, Found>();
  private readonly columns = new Map<string, Set<OptionNames>>();
  private readonly held: (readonly OptionNames[])[] = [];

  constructor(checked: Omit<Checked, 'type'>) {
    this.checked = checked;
  }

  found(gives: ReadonlySet<OptionNames>): OptionFlow {
    // Equal texts that are held against each other stand for the same.
    for (let changed = true; changed;) {
      changed = false;
      for (const text of this.texts.values())
        for (const other of text.equal) {
          const before = other.options.size + other.columns.size;
          for (const o of text.options) other.options.add(o);
          for (const c of text.columns) other.columns.add(c);
          changed ||= other.options.size + other.columns.size > before;
        }
    }
    return { texts: [...this.texts.values()], gives, columns: this.columns, held: this.held };
  }

  /** Two values that are held against each other. */
  private hold(a: Sources, b: Sources): void {
    this.meet(a, b);
    const options = [...new Set([...a.options, ...b.options])];
    if (options.length > 1) this.held.push(options);
  }

  /** Two values that stand for the same: held against each other, or one becomes the other, or each may be the value. */
  meet(a: Sources, b: Sources): void {
    for (const one of a.texts) for (const other of b.texts) if (one.text === other.text) link(one, other);
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const) {
      for (const text of from.texts) {
        for (const o of to.options) text.options.add(o);
        for (const c of to.columns) text.columns.add(c);
      }
      for (const column of from.columns) for (const o of to.options) this.columnMeets(column, o);
    }
  }

  private columnMeets(column: string, options: OptionNames): void {
    const known = this.columns.get(column);
    if (known) known.add(options);
    else this.columns.set(column, new Set([options]));
  }

  private text(text: string, range: TextRange, isKey: boolean): Sources {
    let found = this.texts.get(range.from);
    if (!found)
      this.texts.set(
        range.from,
        (found = { text, range, isKey, options: new Set(), columns: new Set(), equal: new Set() }),
      );
    return { ...nothing, texts: [found] };
  }

  /** What is known by the type alone. */
  private typed(e: Expression): Sources {
    const options = optionsOf(this.checked.types.get(e));
    const named = this.checked.named.get(e);
    const columns = named?.kind === 'column' ? [`${named.table}.${named.key}`] : [];
    return options || columns.length > 0
      ? { texts: [], options: new Set(options ? [options] : []), columns: new Set(columns) }
      : nothing;
  }

  of(e: Expression, variables: Variables): Sources {
    switch (e.kind) {
      case 'literal':
        return typeof e.value === 'string' ? this.text(e.value, e.range, false) : nothing;
      case 'name':
        return variables.get(e.name) ?? this.typed(e);
      case 'path': {
        const object = this.of(e.object, variables);
        return object.members?.get(e.name) ?? this.typed(e);
      }
      case 'if':
        this.of(e.condition, variables);
        return this.alternatives([this.of(e.then, variables), this.of(e.otherwise, variables)]);
      case 'list':
        return this.alternatives(e.items.map((item) => this.of(item, variables)));
      case 'filter': {
        const object = this.of(e.object, variables);
        this.of(e.condition, new Map([...variables, ['item', object], ...(object.members ?? [])]));
        return object;
      }
      case 'comparison': {
        const sides = [this.of(e.left, variables), this.of(e.right, variables)] as const;
        this.hold(...sides);
        return nothing;
      }
      case 'between': {
        const operand = this.of(e.operand, variables);
        for (const bound of [e.low, e.high]) this.hold(operand, this.of(bound, variables));
        return nothing;
      }
      case 'in':
        this.tests(this.of(e.operand, variables), e.tests, variables);
        return nothing;
      case 'arithmetic': {
        // A text with nothing put to it is the same text.
        const sides = [e.left, e.right];
        const all = sides.map((side) => this.of(side, variables));
        const kept = all.filter((_, i) => !isEmptyText(sides[i]!));
        return e.operator === '+' && kept.length === 1 ? kept[0]! : nothing;
      }
      case 'for':
        return this.of(e.body, this.within(e.iterators, variables));
      case 'some':
      case 'every':
        this.of(e.body, this.within(e.iterators, variables));
        return nothing;
      case 'context': {
        const members = new Map<string, Sources>();
        for (const { key, value } of e.entries) members.set(key, this.of(value, new Map([...variables, ...members])));
        const keys = e.entries.flatMap((entry) => this.text(entry.key, entry.keyRange, true).texts);
        return { ...nothing, members, keys };
      }
      case 'call':
        return this.call(e, variables);
      default:
        for (const child of childrenOf(e)) this.of(child, variables);
        return this.typed(e);
    }
  }

  /** Any of them may be the value, so each stands where the others do. */
  private alternatives(all: readonly Sources[]): Sources {
    all.forEach((a, i) => {
      for (const b of all.slice(i + 1)) this.meet(a, b);
    });
    return merged(all);
  }

  private within(iterators: readonly Iterator[], variables: Variables): Variables {
    const inner = new Map(variables);
    for (const { name, domain, end } of iterators) {
      if (end) this.of(end, inner);
      inner.set(name, this.of(domain, inner));
    }
    return inner;
  }

  tests(operand: Sources, tests: readonly UnaryTest[], variables: Variables): void {
    for (const test of tests)
      for (const e of test.kind === 'interval' ? [test.low, test.high] : [test.value])
        this.hold(operand, this.of(e, variables));
  }

  private call(e: Extract<Expression, { kind: 'call' }>, variables: Variables): Sources {
    const args = e.arguments.map((a) => this.of(a, variables));
    if (e.callee) this.of(e.callee, variables);
    const found = variables.has(e.name) ? undefined : findFunction(e.name);
    if (found?.keyed) {
      // Entries of a context that are asked for by name.
      const [context, key] = found.keyed.map((i) => args[i] ?? nothing) as [Sources, Sources];
      this.meet({ ...nothing, texts: context.keys ?? [] }, key);
    }
    if (found?.compares)
      args.forEach((a, i) => {
        for (const b of args.slice(i + 1)) this.hold(a, b);
      });
    return this.alternatives([this.typed(e), ...(found?.passes ? args : [])]);
  }
}

const isEmptyText = (e: Expression): boolean => e.kind === 'literal' && e.value === '';
