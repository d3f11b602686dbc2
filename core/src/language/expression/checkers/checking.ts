/** What the checkers of all kinds of expressions share: what was found out so far, and what names stand for here. */
import { type Diagnostic, type TextRange, diagnostic } from '../../../diagnostics/catalog.ts';
import { type Type, anyType } from '../../types/types.ts';
import type { Expression } from '../ast.ts';
import type { Checked, Meaning, Named, Read, RelatedRead, Variable } from '../checked.ts';
import type { FieldBinding, Scope } from '../scope.ts';

/** Works out the type of an expression of one kind, and reports what is wrong with it. */
export type Checker<E extends Expression = Expression> = (e: E, checking: Checking) => Type;

/** A variable, or the item of a filter whose members can be named plainly. */
export type Frame = Variable | { readonly item: Type };

/** What a name was found to stand for. */
export interface Found {
  readonly meaning: Meaning;
  readonly type: Type;
  readonly binding?: FieldBinding;
  readonly named?: Named;
  /** The name is a field of another record. */
  readonly related?: { readonly of: Type; readonly field: string };
}

export class Checking {
  readonly scope: Scope;
  readonly frames: Frame[];
  readonly types = new Map<Expression, Type>();
  readonly meanings = new Map<Expression, Meaning>();
  readonly named = new Map<Expression, Named>();
  readonly reads: Read[] = [];
  clock = false;
  change = false;
  private user = false;
  private readonly diagnostics: Diagnostic[] = [];
  private readonly related: RelatedRead[] = [];
  private readonly tables = new Set<string>();
  private readonly checker: Checker;

  constructor(scope: Scope, variables: readonly Variable[], checker: Checker) {
    this.scope = scope;
    this.frames = [...variables];
    this.checker = checker;
  }

  found(): Omit<Checked, 'type'> {
    const { types, meanings, named, reads, diagnostics, related, tables, clock, user, change } = this;
    return { types, meanings, named, reads, diagnostics, related, tables, clock, user, change };
  }

  infer(e: Expression): Type {
    const type = this.checker(e, this);
    this.types.set(e, type);
    return type;
  }

  /** Works out something with more variables in sight. */
  within<T>(frames: readonly Frame[], work: () => T): T {
    this.frames.push(...frames);
    const result = work();
    this.frames.length -= frames.length;
    return result;
  }

  report(code: Parameters<typeof diagnostic>[0], range: TextRange, data: Diagnostic['data'] = {}): Type {
    this.diagnostics.push(diagnostic(code, range, data));
    return anyType;
  }

  note(e: Expression, { named }: { readonly named?: Named }): void {
    if (named) this.named.set(e, named);
  }

  /** Notes what a formula depends on by a name. */
  uses({ meaning, type, related }: Found, range: TextRange): void {
    if (related) this.readRelated(related.of, related.field, '', range);
    if (meaning.kind === 'table') this.tables.add(meaning.key);
    if (meaning.kind === 'user') this.user = true;
    if (meaning.kind === 'children') this.readRelated(type, '', meaning.name, range);
  }

  /** Notes a read on another record; one whose route is not known cannot be foreseen. */
  readRelated(of: Type, field: string, text: string, range: TextRange): void {
    const record = of.kind === 'list' ? of.item : of;
    if (record.kind === 'record' && record.route)
      this.related.push({ route: record.route, recordType: record.of.key, field, text, range });
  }
}
