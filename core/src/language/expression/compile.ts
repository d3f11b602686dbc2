/** Typed tree to closures over the slots of a record. No code is generated, so no `unsafe-eval` is needed. */
import type { OptionNames } from '../types/types.ts';
import { callMetered, isConstantWork, type LanguageFunction, signatureFor } from '../functions/function.ts';
import { findFunction } from '../functions/index.ts';
import { memberOf } from '../functions/members.ts';
import { FeelDateTime, FeelTime } from '../../values/calendar.ts';
import { Meter } from '../../values/meter.ts';
import { decimalPrice, isNumber } from '../../values/number.ts';
import {
  FeelFunction,
  FeelRange,
  RecordRef,
  type Value,
  equalValues,
  inRange,
  isContext,
  isList,
} from '../../values/value.ts';
import { located } from '../../values/zones.ts';
import {
  type Call,
  type Comparison,
  type Expression,
  type Filter,
  type Iterator,
  type UnaryTest,
  childrenOf,
  walk,
} from './ast.ts';
import type { Checked, Meaning } from './checked.ts';
import { instanceOf } from './instance-of.ts';
import { and, arithmetic, comparison, or } from './operators.ts';
import {
  type Compiled,
  type Environment,
  type Running,
  bounded,
  closure,
  itemsOf,
  matches,
  negated,
  noHost,
  sequence,
  spend,
} from './runtime.ts';
import type { Type } from '../types/types.ts';

/** Expressions that keep variables, or may call a function that is a value: they need a stack and a budget. */
const needing: ReadonlySet<Expression['kind']> = new Set([
  'for',
  'some',
  'every',
  'filter',
  'context',
  'function',
  'instance of',
]);

/**
 * Whether a tree goes without variables and charges: no list that is not written out, no function whose work grows with
 * its arguments. Most formulas are such, and a text of limited length cannot hold enough of these to take long.
 */
function isPlain(expression: Expression, { meanings, types }: Omit<Checked, 'type'>): boolean {
  let plain = true;
  walk(expression, (e) => {
    const meaning = meanings.get(e)?.kind;
    if (needing.has(e.kind) || (meaning !== undefined && !constantMeanings.has(meaning))) plain = false;
    if (e.kind === 'call') {
      const found = e.callee || (meaning !== undefined && meaning !== 'unknown') ? undefined : findFunction(e.name);
      if (!found || !(found.onField || isConstantWork(found))) plain = false;
    }
    if (e.kind === 'path' && !meaning && types.get(e.object)?.kind !== 'record') plain = false;
    if (e.kind === 'arithmetic' && e.operator === '**') plain = false;
  });
  return plain;
}

const constantMeanings: ReadonlySet<Meaning['kind']> = new Set(['field', 'self', 'origin', 'user', 'unknown']);

/** Steps that a node is charged inside a loop or a function: what it does itself, without what stands in it. */
function priceOf(e: Expression): number {
  switch (e.kind) {
    case 'arithmetic':
      return e.operator === '**' ? 20 * decimalPrice : e.operator === '/' ? decimalPrice : 3;
    case 'comparison':
    case 'between':
    case 'in':
    case 'path':
      return 4;
    default:
      return 1;
  }
}

/** Steps of one run of a loop's body; loops and functions in it charge for themselves. */
function bodyPrice(e: Expression): number {
  if (e.kind === 'for' || e.kind === 'some' || e.kind === 'every' || e.kind === 'function') return 2;
  if (e.kind === 'filter') return 2 + bodyPrice(e.object);
  return childrenOf(e).reduce((sum, child) => sum + bodyPrice(child), priceOf(e));
}

/** Compiles a tree that was checked in the same scope. Where types are wrong it gives null, as DMN has it. */
export function compile(expression: Expression, checked: Checked, variables = 0): Compiled {
  const plain = isPlain(expression, checked);
  const run = new Builder(checked, variables, !plain).build(expression);
  return plain ? run : bounded(run);
}

/**
 * Unary tests as one closure; `?`, the value that is tested, is the first variable. They run on the budget of whoever
 * asks (`bounded` gives them one of their own): a table is one question, however many of its cells hold tests.
 */
export function compileTests(tests: readonly UnaryTest[], negated: boolean, checked: Omit<Checked, 'type'>): Compiled {
  const builder = new Builder(checked, 1, true);
  const compiled = tests.map((t) => builder.test(t));
  const run: Compiled = (env) => {
    const v = env.variables![0]!;
    if (tests.length === 0) return true;
    const any = compiled.reduce<boolean | null>((so, test) => (so === true ? true : or(so, test(v, env))), false);
    return negated ? (any === null ? null : !any) : any;
  };
  return run;
}

class Builder {
  private depth: number;
  private readonly checked: Omit<Checked, 'type'>;
  /** The formula runs on a budget: what it does is charged. */
  private readonly metered: boolean;

  constructor(checked: Omit<Checked, 'type'>, variables: number, metered: boolean) {
    this.checked = checked;
    this.depth = variables;
    this.metered = metered;
  }

  private typeOf(e: Expression): Type | undefined {
    return this.checked.types.get(e);
  }

  /** Builds something with more variables on the stack. */
  private with<T>(count: number, work: (stackIndex: number) => T): T {
    const stackIndex = this.depth;
    this.depth += count;
    const result = work(stackIndex);
    this.depth -= count;
    return result;
  }

  build(e: Expression): Compiled {
    switch (e.kind) {
      case 'literal': {
        const { value } = e;
        const zone = value instanceof FeelDateTime ? value.time.zone : value instanceof FeelTime ? value.zone : null;
        return zone === null ? () => value : (env) => located(value, env.host?.zoneOffset);
      }
      case 'name':
        return this.meaning(this.checked.meanings.get(e) ?? { kind: 'unknown' }, e.name);
      case 'path': {
        const meaning = this.checked.meanings.get(e);
        if (meaning) return this.meaning(meaning, e.name);
        const [object, { name }] = [this.build(e.object), e];
        if (!this.metered) return (env) => memberOf(object(env), name, env.related?.read);
        return (env) => memberOf(object(env), name, env.related?.read, env.meter);
      }
      case 'negation': {
        const operand = this.build(e.operand);
        return (env) => negated(operand(env));
      }
      case 'arithmetic': {
        const [left, right, { evaluate }] = [this.build(e.left), this.build(e.right), arithmetic[e.operator]];
        // Where both sides are numbers nothing else is asked for.
        if (!this.metered && this.typeOf(e.left)?.kind === 'number' && this.typeOf(e.right)?.kind === 'number')
          return (env) => evaluate(left(env), right(env));
        if (!this.metered) return (env) => evaluate(left(env), right(env), env.host?.zoneOffset);
        return (env) => {
          const v = evaluate(left(env), right(env), env.host?.zoneOffset);
          // A decimal of many digits, a date or a duration: the slow path.
          if (typeof v === 'object') spend(env, decimalPrice);
          else if (typeof v === 'string') spend(env, v.length >> 3);
          return v;
        };
      }
      case 'comparison':
        return this.comparison(e);
      case 'between': {
        const [operand, low, high] = [this.build(e.operand), this.build(e.low), this.build(e.high)];
        const ranked = this.toCompare(e.operand, e.low, e.high);
        return (env) => {
          const v = ranked(operand(env));
          return and(comparison['>='].evaluate(v, ranked(low(env))), comparison['<='].evaluate(v, ranked(high(env))));
        };
      }
      case 'and': {
        const [left, right] = [this.build(e.left), this.build(e.right)];
        return (env) => {
          const a = left(env);
          return a === false ? false : and(a, right(env));
        };
      }
      case 'or': {
        const [left, right] = [this.build(e.left), this.build(e.right)];
        return (env) => {
          const a = left(env);
          return a === true ? true : or(a, right(env));
        };
      }
      case 'if': {
        const [condition, then, otherwise] = [this.build(e.condition), this.build(e.then), this.build(e.otherwise)];
        return (env) => (condition(env) === true ? then(env) : otherwise(env));
      }
      case 'list': {
        const items = e.items.map((item) => this.build(item));
        return (env) => items.map((item) => item(env));
      }
      case 'in': {
        const operand = this.build(e.operand);
        const tests = e.tests.map((t) => this.test(t, e.operand));
        return (env) => {
          const v = operand(env);
          return tests.reduce<boolean | null>((so, test) => (so === true ? true : or(so, test(v, env))), false);
        };
      }
      case 'call':
        return this.call(e);
      case 'for':
      case 'some':
      case 'every':
        return this.loop(e.kind, e.iterators, e.body);
      case 'filter':
        return this.filter(e);
      case 'context':
        return this.with(e.entries.length, (stackIndex) => {
          const entries = e.entries.map(({ key, value }, i) => {
            // An entry sees the ones before it, not itself nor those behind it.
            const depth = this.depth;
            this.depth = stackIndex + i;
            const compiled = this.build(value);
            this.depth = depth;
            return [key, compiled] as const;
          });
          // Two entries of one name: DMN gives no context.
          if (new Set(e.entries.map((x) => x.key)).size < e.entries.length) return () => null;
          return (env) => {
            const made = new Map<string, Value>();
            spend(env, entries.length);
            entries.forEach(([key, value], i) => {
              const v = value(env);
              env.variables![stackIndex + i] = v;
              made.set(key, v);
            });
            return made;
          };
        });
      case 'function':
        return this.with(e.parameters.length, (stackIndex) => {
          const body = this.build(e.body);
          const { parameters } = e;
          const price = bodyPrice(e.body);
          return (env) => new FeelFunction(parameters, closure(env as Running, stackIndex, body, price));
        });
      case 'instance of': {
        const [operand, { type }] = [this.build(e.operand), e];
        return (env) => instanceOf(operand(env), type, (env as Running).meter);
      }
      case 'range': {
        const [low, high] = [this.build(e.low), this.build(e.high)];
        const { lowIncluded, highIncluded } = e;
        return (env) => new FeelRange(low(env), high(env), lowIncluded, highIncluded);
      }
    }
  }

  private meaning(meaning: Meaning, name: string): Compiled {
    switch (meaning.kind) {
      case 'field': {
        const { slot } = meaning;
        return meaning.previous ? (env) => env.previous[slot] as Value : (env) => env.record[slot] as Value;
      }
      case 'variable': {
        const { stackIndex } = meaning;
        return (env) => env.variables![stackIndex]!;
      }
      case 'member': {
        const { stackIndex } = meaning;
        const otherwise = this.meaning(meaning.otherwise, name);
        return (env) => {
          const item = env.variables![stackIndex]!;
          if (item instanceof RecordRef) return env.related?.read(item, name) ?? null;
          return isContext(item) && item.has(name) ? item.get(name)! : otherwise(env);
        };
      }
      case 'table': {
        const { key } = meaning;
        return (env) => env.related?.table(key)?.rows ?? null;
      }
      case 'children': {
        const { name: list } = meaning;
        return (env) => env.related?.read(env.related.self, list) ?? null;
      }
      case 'self':
        return (env) => env.related?.self ?? null;
      case 'origin':
        return (env) => env.related?.origin ?? null;
      case 'user':
        return (env) => env.related?.user ?? null;
      case 'function': {
        const found = findFunction(name)!;
        const names = found.parameters.map((p) => p.name);
        return (env) =>
          new FeelFunction(names, (args) =>
            signatureFor(found, args.length)
              ? callMetered(found, args, env.host ?? noHost, (env as Running).meter)
              : null,
          );
      }
      case 'unknown':
        return () => null;
    }
  }

  private optionsOf(e: Expression): OptionNames | undefined {
    const type = this.typeOf(e);
    return type?.kind === 'option' && type.options.order ? type.options : undefined;
  }

  /** Ordered options compare by their rank, all else as it is: what to compare instead of the values. */
  private toCompare(...sides: readonly Expression[]): (v: Value) => Value {
    const order = sides.map((s) => this.optionsOf(s)?.order).find((o) => o);
    if (!order) return (v) => v;
    return (v) => (typeof v === 'string' ? (order.get(v) ?? null) : null);
  }

  private comparison(e: Comparison): Compiled {
    const [left, right] = [this.build(e.left), this.build(e.right)];
    const { evaluate, ordering } = comparison[e.operator];
    if (!ordering || !(this.optionsOf(e.left) ?? this.optionsOf(e.right))) {
      if (!this.metered) return (env) => evaluate(left(env), right(env));
      return (env) => evaluate(left(env), right(env), env.meter);
    }
    const ranked = this.toCompare(e.left, e.right);
    return (env) => evaluate(ranked(left(env)), ranked(right(env)));
  }

  test(t: UnaryTest, operand?: Expression): (v: Value, env: Environment) => boolean | null {
    const sides = operand ? [operand] : [];
    if (t.kind === 'compare') {
      const value = this.build(t.value);
      const { evaluate, ordering } = comparison[t.operator];
      const ranked = ordering ? this.toCompare(...sides, t.value) : (v: Value): Value => v;
      const { metered } = this;
      return (v, env) => evaluate(ranked(v), ranked(value(env)), metered ? env.meter : undefined);
    }
    if (t.kind === 'interval') {
      const [low, high] = [this.build(t.low), this.build(t.high)];
      const ranked = this.toCompare(...sides, t.low, t.high);
      const { lowIncluded, highIncluded } = t;
      return (v, env) => {
        const [from, to] = [ranked(low(env)), ranked(high(env))];
        return from === null || to === null
          ? null
          : inRange(ranked(v), new FeelRange(from, to, lowIncluded, highIncluded));
      };
    }
    const value = this.build(t.value);
    // A test that names `?` is a condition of its own.
    const isCondition = !operand && this.typeOf(t.value)?.kind === 'boolean' && t.value.kind !== 'literal';
    const { metered } = this;
    return (v, env) => {
      const result = value(env);
      if (isCondition) return typeof result === 'boolean' ? result : null;
      return matches(v, result, metered ? env.meter : undefined);
    };
  }

  private call(e: Call): Compiled {
    const args = e.arguments.map((a) => this.build(a));
    const meaning = this.checked.meanings.get(e);
    if (e.callee || (meaning && meaning.kind !== 'unknown')) {
      const callee = e.callee ? this.build(e.callee) : this.meaning(meaning!, e.name);
      const { names } = e;
      return (env) => {
        const f = callee(env);
        if (!(f instanceof FeelFunction)) return null;
        spend(env, 1 + args.length);
        const values = args.map((g) => g(env));
        return f.invoke(names ? f.parameters.map((p) => values[names.indexOf(p)] ?? null) : values);
      };
    }
    const found = findFunction(e.name);
    const signature = found && signatureFor(found, args.length, e.names);
    if (!found || !signature) return () => null;
    if (found.onField) return this.onField(e.arguments[0]!, found.onField);
    const order = found.ordered ? e.arguments.map((a) => this.optionsOf(a)?.order).find(Boolean) : undefined;
    if (order) {
      const { evaluateOrdered } = found;
      return (env) =>
        evaluateOrdered!(
          args.map((g) => g(env)),
          order,
        );
    }
    const evaluate: Evaluate =
      isConstantWork(found) && !this.metered
        ? (values, env) => found.evaluate(values, env.host ?? noHost, unused)
        : (values, env) => callMetered(found, values, env.host ?? noHost, (env as Running).meter);
    if (found.total && args.length === 1 && this.isOverRecords(e.arguments[0]!)) {
      const [list] = args as [Compiled];
      const { ofNone } = found.total;
      return (env) => {
        const v = list(env);
        const filled = isList(v) ? v.filter((item) => item !== null && item !== '') : v;
        return isList(filled) && filled.length === 0 ? ofNone : evaluate([filled], env);
      };
    }
    if (e.names) {
      const places = signature.map((p) => e.names!.indexOf(p.name));
      while (places.at(-1) === -1) places.pop();
      return (env) =>
        evaluate(
          places.map((i) => (i < 0 ? null : args[i]!(env))),
          env,
        );
    }
    if (args.length === 1) {
      const [only] = args as [Compiled];
      return (env) => evaluate([only(env)], env);
    }
    return (env) =>
      evaluate(
        args.map((g) => g(env)),
        env,
      );
  }

  /** Whether a list holds a field of records: totals over those are kinder than over other lists. */
  private isOverRecords(e: Expression): boolean {
    if (e.kind !== 'path') return false;
    const type = this.typeOf(e.object);
    return type?.kind === 'list' && type.item.kind === 'record';
  }

  /** A function of one field of the record: of its value, the one before the write, and the order of its options. */
  private onField(argument: Expression, run: NonNullable<LanguageFunction['onField']>): Compiled {
    const meaning = this.checked.meanings.get(argument);
    if (meaning?.kind !== 'field') return () => null;
    const { slot } = meaning;
    const order = this.optionsOf(argument)?.order ?? null;
    return (env) => {
      const [now, before] = [env.record[slot] ?? null, env.previous[slot] ?? null];
      return run(now, before, env.related?.changed(slot) ?? equalValues(now, before) !== true, order);
    };
  }

  private loop(kind: 'for' | 'some' | 'every', iterators: readonly Iterator[], body: Expression): Compiled {
    return this.with(iterators.length + 1, (stackIndex) => {
      const inner = this.depth;
      const domains = iterators.map(({ domain, end }, i) => {
        this.depth = stackIndex + i;
        const [from, to] = [this.build(domain), end && this.build(end)];
        this.depth = inner;
        return to
          ? (env: Environment) => sequence(from(env), to(env), (env as Running).meter)
          : (env: Environment) => itemsOf(from(env), (env as Running).meter);
      });
      const price = 1 + bodyPrice(body);
      const domainPrices = iterators.map(({ domain, end }) => bodyPrice(domain) + (end ? bodyPrice(end) : 0));
      const partial = stackIndex + iterators.length;
      const run = this.build(body);
      const looksBack = this.names(body, partial);
      return (env) => {
        const results: Value[] = [];
        let verdict: boolean | null = kind === 'every';
        let runsOver = true;
        const visit = (i: number): void => {
          if (i === domains.length) {
            spend(env, price);
            if (looksBack) {
              spend(env, results.length);
              env.variables![partial] = results.slice();
            }
            const v = run(env);
            if (kind === 'for') results.push(v);
            else verdict = kind === 'some' ? or(verdict, v) : and(verdict, v);
            return;
          }
          // A loop inside that has nothing to run over is work as well.
          spend(env, domainPrices[i]!);
          const items = domains[i]!(env);
          if (items === null) {
            runsOver = false;
            return;
          }
          for (const item of items) {
            env.variables![stackIndex + i] = item;
            visit(i + 1);
            if (!runsOver) return;
          }
        };
        visit(0);
        // What is no list, nor two ends of a range, is nothing to run over (DMN 1.3, 10.3.2.14).
        if (!runsOver) return null;
        return kind === 'for' ? results : verdict;
      };
    });
  }

  /** Whether an expression names a variable. */
  private names(e: Expression, stackIndex: number): boolean {
    let found = false;
    walk(e, (x) => {
      const meaning = this.checked.meanings.get(x);
      found ||= meaning?.kind === 'variable' && meaning.stackIndex === stackIndex;
    });
    return found;
  }

  /**
   * `Table[Column = value and …]`: the rows of one column's value by a hash look-up; the condition then runs on these
   * few only. Undefined where the filter is none such.
   */
  private narrowing(e: Filter): ((env: Environment) => readonly Value[] | undefined) | undefined {
    const meaning = this.checked.meanings.get(e.object);
    if (meaning?.kind !== 'table') return undefined;
    const found = conjuncts(e.condition)
      .filter((c): c is Comparison => c.kind === 'comparison' && c.operator === '=')
      .map((c) => this.columnAndValue(c))
      .find((c) => c !== undefined);
    if (!found) return undefined;
    const { column, value } = found;
    const { key } = meaning;
    return (env) => {
      const v = value(env);
      return v === null ? undefined : env.related?.table(key)?.equal(column, v);
    };
  }

  /** A comparison of a column with something that does not look at the row. */
  private columnAndValue({ left, right }: Comparison): { column: string; value: Compiled } | undefined {
    for (const [column, other] of [
      [left, right],
      [right, left],
    ] as const) {
      if (column.kind !== 'name' || this.checked.meanings.get(column)?.kind !== 'member') continue;
      let rowwise = false;
      walk(other, (x) => {
        const kind = this.checked.meanings.get(x)?.kind;
        rowwise ||= kind === 'member' || kind === 'variable';
      });
      if (!rowwise) return { column: column.name, value: this.build(other) };
    }
    return undefined;
  }

  /** By a number: that item, counted from 1, or from the end where it is negative. By a condition: those that hold. */
  private filter(e: Filter): Compiled {
    const object = this.build(e.object);
    const narrow = this.narrowing(e);
    return this.with(2, (stackIndex) => {
      const condition = this.build(e.condition);
      const price = 1 + bodyPrice(e.condition);
      // A position that is blank is no position: there is no such item.
      const byPosition = this.typeOf(e.condition)?.kind === 'number';
      return (env) => {
        const v = narrow?.(env) ?? object(env);
        const items = v === null ? [] : isList(v) ? v : [v];
        if (items.length === 0 && narrow) return [];
        const variables = env.variables!;
        const at = (item: Value): Value => {
          spend(env, price);
          variables[stackIndex] = item;
          variables[stackIndex + 1] = item;
          return condition(env);
        };
        const first = at(items[0] ?? null);
        if (isNumber(first) || byPosition)
          return typeof first === 'number' && Number.isInteger(first) && first !== 0
            ? (items.at(first > 0 ? first - 1 : first) ?? null)
            : null;
        return items.filter((item, i) => (i === 0 ? first : at(item)) === true);
      };
    });
  }
}

type Evaluate = (args: readonly Value[], env: Environment) => Value;
/** For functions of constant work, which charge nothing. */
const unused = new Meter();

const conjuncts = (e: Expression): readonly Expression[] =>
  e.kind === 'and' ? [...conjuncts(e.left), ...conjuncts(e.right)] : [e];
