/** What stands around a place in a formula that is being written: the value before a dot, the filters that are open there. */
import type { Variable } from '../language/expression/checked.ts';
import { createFormula } from '../language/expression/formula.ts';
import type { Scope } from '../language/expression/scope.ts';
import { anyType, type Type } from '../language/types/types.ts';
import { type Token, tokensOf } from './tokens.ts';

/** FEEL's name for what a filter looks at. */
const itemName = 'item';
/** Filters in filters, the innermost ones, that are looked into. */
const mostFilters = 6;

export class Place {
  readonly text: string;
  readonly tokens: readonly Token[];
  private readonly scope: Scope;
  private readonly variables: readonly Variable[];

  /** @param text The formula, as far as it is looked at. */
  constructor(text: string, scope: Scope, variables: readonly Variable[]) {
    this.text = text;
    this.scope = scope;
    this.variables = variables;
    this.tokens = tokensOf(
      text,
      scope,
      variables.map((v) => v.name),
    );
  }

  said(i: number): string {
    const token = this.tokens[i];
    return token ? this.text.slice(token.from, token.to) : '';
  }

  /** Whether a value ends before token `end`, so that what follows goes on from it. */
  endsValue(end: number): boolean {
    const token = this.tokens[end - 1];
    if (!token || token.kind === 'keyword') return /^(?:true|false|null)$/.test(this.said(end - 1));
    return token.kind !== 'operator' || /^[)\]}]$/.test(this.said(end - 1));
  }

  /** The value that ends before token `end`, as it is written: names joined by dots, with their filters and calls. */
  valueBefore(end: number): string | undefined {
    const begin = this.beginOf(end);
    return begin === end ? undefined : this.text.slice(this.tokens[begin]!.from, this.tokens[end - 1]!.to);
  }

  private beginOf(end: number): number {
    for (let i = end; ; i--) {
      while (/^[)\]}]$/.test(this.said(i - 1))) {
        const opener = this.openerOf(i - 1);
        if (opener < 0) return i;
        i = opener;
      }
      const kind = this.tokens[i - 1]?.kind;
      if (kind !== 'name' && kind !== 'function' && kind !== 'unknown') return i;
      i--;
      if (this.said(i - 1) !== '.') return i;
    }
  }

  /** The bracket that one closes; -1: it is not there. */
  private openerOf(closer: number): number {
    for (let i = closer, depth = 0; i >= 0; i--) {
      if (/^[)\]}]$/.test(this.said(i))) depth++;
      else if (/^[([{]$/.test(this.said(i)) && --depth === 0) return i;
    }
    return -1;
  }

  /** What is filtered by the brackets that are open before token `end`, the innermost last. */
  private filtered(end: number): readonly string[] {
    const open: number[] = [];
    for (let i = 0; i < end; i++)
      if (/^[([{]$/.test(this.said(i))) open.push(i);
      else if (/^[)\]}]$/.test(this.said(i))) open.pop();
    return open.flatMap((i) => (this.said(i) === '[' ? (this.valueBefore(i) ?? []) : []));
  }

  /** The type of a value written at token `end`: inside a filter its items come first. */
  typeOf(value: string, end: number): Type {
    return this.typeAmong(value, this.itemsAt(end));
  }

  /** The type of what the innermost filter that is open before token `end` looks at. */
  itemAt(end: number): Type | undefined {
    return this.itemsAt(end).at(-1);
  }

  private itemsAt(end: number): readonly Type[] {
    const items: Type[] = [];
    for (const list of this.filtered(end).slice(-mostFilters)) {
      const type = this.typeAmong(list, items);
      items.push(type.kind === 'list' ? type.item : type);
    }
    return items;
  }

  /** A name is looked for in the items of the filters, the innermost first, then in the scope. */
  private typeAmong(value: string, items: readonly Type[]): Type {
    const ofItem = value === itemName || value.startsWith(`${itemName}.`) ? value : `${itemName}.${value}`;
    for (const type of items.toReversed()) {
      const found = this.typeIn(ofItem, [...this.variables, { name: itemName, type }]);
      if (found.kind !== 'any') return found;
    }
    return this.typeIn(value, this.variables);
  }

  private typeIn(value: string, variables: readonly Variable[]): Type {
    const { type, diagnostics } = createFormula(value, this.scope, variables);
    return diagnostics.length > 0 ? anyType : type;
  }
}
