/** What the builders of all kinds of expressions share: what was checked, the stack of variables, and how inner ones are built. */
import type { Value } from '../../../values/value.ts';
import type { OptionNames, Type } from '../../types/types.ts';
import { type Expression, walk } from '../ast.ts';
import type { Checked, Meaning } from '../checked.ts';
import type { Compiled } from '../runtime.ts';

/** Builds the closure of an expression of one kind. */
export type Builder<E extends Expression = Expression> = (e: E, building: Building) => Compiled;

export class Building {
  /** The formula runs on a budget: what it does is charged. */
  readonly metered: boolean;
  private readonly checked: Omit<Checked, 'type'>;
  private readonly builder: Builder;
  /** Variables on the stack where the next expression runs. */
  private depth: number;

  constructor(checked: Omit<Checked, 'type'>, variables: number, metered: boolean, builder: Builder) {
    this.checked = checked;
    this.depth = variables;
    this.metered = metered;
    this.builder = builder;
  }

  build(e: Expression): Compiled {
    return this.builder(e, this);
  }

  typeOf(e: Expression): Type | undefined {
    return this.checked.types.get(e);
  }

  meaningOf(e: Expression): Meaning | undefined {
    return this.checked.meanings.get(e);
  }

  /** Builds something with more variables on the stack; the first of them is at `stackIndex`. */
  with<T>(count: number, work: (stackIndex: number) => T): T {
    const stackIndex = this.depth;
    return this.at(stackIndex + count, () => work(stackIndex));
  }

  /** Builds something that sees so many variables. */
  at<T>(depth: number, work: () => T): T {
    const outer = this.depth;
    this.depth = depth;
    const result = work();
    this.depth = outer;
    return result;
  }

  /** The options of an expression, where they are ordered. */
  optionsOf(e: Expression): OptionNames | undefined {
    const type = this.typeOf(e);
    return type?.kind === 'option' && type.options.order ? type.options : undefined;
  }

  /** Ordered options compare by their rank, all else as it is: what to compare instead of the values. */
  toCompare(...sides: readonly Expression[]): (v: Value) => Value {
    const order = sides.map((s) => this.optionsOf(s)?.order).find((o) => o);
    if (!order) return (v) => v;
    return (v) => (typeof v === 'string' ? (order.get(v) ?? null) : null);
  }

  /** Whether an expression names what fits, anywhere within. */
  names(e: Expression, fits: (meaning: Meaning) => boolean): boolean {
    let found = false;
    walk(e, (x) => {
      const meaning = this.meaningOf(x);
      found ||= meaning !== undefined && fits(meaning);
    });
    return found;
  }
}
