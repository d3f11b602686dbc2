/** Syntax tree to typed tree: every name resolved, every type worked out, every mistake reported with its range. */
import { type Diagnostic, type TextRange, diagnostic } from '../../diagnostics/catalog.ts';
import { nearestName } from '../../diagnostics/nearest.ts';
import { signatureFor, signaturesOf } from '../functions/function.ts';
import { findFunction, functionNames } from '../functions/index.ts';
import { memberType } from '../functions/members.ts';
import type {
  Arithmetic,
  Call,
  Comparison,
  Expression,
  Filter,
  Iterator,
  Membership,
  Name,
  Path,
  UnaryTest,
} from './ast.ts';
import type { Checked, Meaning, Named, Read, RelatedRead, Variable } from './checked.ts';
import { literalType } from '../types/literal-type.ts';
import { arithmeticType, comparison } from './operators.ts';
import { type FieldBinding, type Scope, originName, previousName, selfName, userName } from './scope.ts';
import {
  type Hop,
  type RecordShape,
  type Type,
  anyType,
  booleanType,
  fits,
  functionType,
  join,
  listOf,
  nullType,
  numberType,
  rangeType,
  typeName,
} from '../types/types.ts';

export function check(expression: Expression, scope: Scope, variables: readonly Variable[] = []): Checked {
  const checker = new Checker(scope, variables);
  const type = checker.infer(expression);
  return { type, ...checker.found() };
}

/** Unary tests: `?` is the value that they test. */
export function checkTests(tests: readonly UnaryTest[], scope: Scope, tested: Type = anyType): Omit<Checked, 'type'> {
  const checker = new Checker(scope, [{ name: '?', type: tested }]);
  for (const test of tests) checker.unaryTest(tested, test);
  return checker.found();
}

/** `duration("P14D")` for the 14 of `today() + 14`; undefined where no number of days is meant. */
function daysMeant({ operator, right }: Arithmetic, of: Type, by: Type): string | undefined {
  const isDay = of.kind === 'date' || of.kind === 'date time';
  if (!isDay || by.kind !== 'number' || (operator !== '+' && operator !== '-')) return undefined;
  const isWhole = right.kind === 'literal' && typeof right.value === 'number' && Number.isInteger(right.value);
  return isWhole ? `duration("P${String(right.value)}D")` : undefined;
}

/** A variable, or the item of a filter whose members can be named plainly. */
type Frame = Variable | { readonly item: Type };

interface Found {
  readonly meaning: Meaning;
  readonly type: Type;
  readonly binding?: FieldBinding;
  readonly named?: Named;
  /** The name is a field of another record. */
  readonly related?: { readonly of: Type; readonly field: string };
}

class Checker {
  readonly types = new Map<Expression, Type>();
  readonly meanings = new Map<Expression, Meaning>();
  readonly named = new Map<Expression, Named>();
  readonly reads: Read[] = [];
  readonly diagnostics: Diagnostic[] = [];
  private readonly related: RelatedRead[] = [];
  private readonly tables = new Set<string>();
  private clock = false;
  private user = false;
  private change = false;
  private readonly scope: Scope;
  private readonly frames: Frame[];

  constructor(scope: Scope, variables: readonly Variable[]) {
    this.scope = scope;
    this.frames = [...variables];
  }

  found(): Omit<Checked, 'type'> {
    const { types, meanings, named, reads, diagnostics, related, tables, clock, user, change } = this;
    return { types, meanings, named, reads, diagnostics, related, tables, clock, user, change };
  }

  infer(e: Expression): Type {
    const type = this.typeOf(e);
    this.types.set(e, type);
    return type;
  }

  /** Works out something with more variables in sight. */
  private within<T>(frames: readonly Frame[], work: () => T): T {
    this.frames.push(...frames);
    const result = work();
    this.frames.length -= frames.length;
    return result;
  }

  private report(code: Parameters<typeof diagnostic>[0], range: TextRange, data: Diagnostic['data'] = {}): Type {
    this.diagnostics.push(diagnostic(code, range, data));
    return anyType;
  }

  private typeOf(e: Expression): Type {
    switch (e.kind) {
      case 'literal':
        return literalType(e.value);
      case 'name':
        return this.plainName(e);
      case 'path':
        return this.path(e);
      case 'negation': {
        const actual = this.infer(e.operand);
        if (actual.kind === 'days' || actual.kind === 'years' || actual.kind === 'any') return actual;
        if (fits(actual, numberType)) return numberType;
        return this.report('type.operand', e.range, { operator: '-', left: typeName(actual) });
      }
      case 'arithmetic': {
        const [left, right] = [this.infer(e.left), this.infer(e.right)];
        const found = arithmeticType(e.operator, left, right);
        if (found) return found;
        const data = { operator: e.operator, left: typeName(left), right: typeName(right) };
        const days = daysMeant(e, left, right);
        if (days) return this.report('type.operands', e.right.range, { ...data, nearest: days });
        return this.report('type.operands', e.range, data);
      }
      case 'comparison':
        return this.comparison(e);
      case 'between': {
        const operand = this.infer(e.operand);
        for (const bound of [e.low, e.high]) this.comparable(operand, this.infer(bound), '<=', bound.range, bound);
        return booleanType;
      }
      case 'and':
      case 'or':
        this.operand(e.left, booleanType, e.kind);
        this.operand(e.right, booleanType, e.kind);
        return booleanType;
      case 'if':
        this.operand(e.condition, booleanType, 'if');
        return join(this.infer(e.then), this.infer(e.otherwise));
      case 'list':
        return listOf(e.items.map((item) => this.infer(item)).reduce(join, nullType));
      case 'in':
        return this.membership(e);
      case 'call':
        return this.call(e);
      case 'for':
        return this.loop(e.iterators, e.body, (item) => listOf(item));
      case 'some':
      case 'every':
        return this.loop(e.iterators, e.body, () => booleanType);
      case 'filter':
        return this.filter(e);
      case 'context': {
        const members = new Map<string, Type>();
        const frames: Frame[] = [];
        for (const { key, value } of e.entries) {
          const type = this.within(frames, () => this.infer(value));
          members.set(key, type);
          frames.push({ name: key, type });
        }
        return { kind: 'context', members };
      }
      case 'function': {
        const frames = e.parameters.map((name): Frame => ({ name, type: anyType }));
        this.within(frames, () => this.infer(e.body));
        return functionType;
      }
      case 'instance of':
        this.infer(e.operand);
        return booleanType;
      case 'range': {
        const [low, high] = [this.infer(e.low), this.infer(e.high)];
        this.comparable(low, high, '<=', e.range, e.high);
        return rangeType;
      }
    }
  }

  private operand(e: Expression, wanted: Type, operator: string): Type {
    const actual = this.infer(e);
    if (fits(actual, wanted)) return wanted;
    return this.report('type.operand', e.range, { operator, left: typeName(actual) });
  }

  private loop(iterators: readonly Iterator[], body: Expression, result: (item: Type) => Type): Type {
    const frames: Frame[] = [];
    for (const { name, domain, end } of iterators) {
      const actual = this.within(frames, () => this.infer(domain));
      if (end) this.within(frames, () => this.infer(end));
      frames.push({ name, type: actual.kind === 'list' ? actual.item : end ? actual : anyType });
    }
    // `partial` is the list of results so far.
    return result(this.within([...frames, { name: 'partial', type: listOf(anyType) }], () => this.infer(body)));
  }

  private filter(e: Filter): Type {
    const actual = this.infer(e.object);
    const item = actual.kind === 'list' ? actual.item : actual;
    const condition = this.within([{ name: 'item', type: item }, { item }], () => this.infer(e.condition));
    if (condition.kind === 'number') return item;
    return condition.kind === 'any' ? anyType : listOf(item);
  }

  private name(name: string, range: TextRange, binding: FieldBinding | undefined, previous: boolean): Type {
    if (!binding) {
      const known = [...this.scope.fields.keys(), ...this.scope.tables.keys()];
      const nearest = this.scope.former?.get(name) ?? nearestName(name, known);
      return this.report('name.unknown', range, nearest ? { name, nearest } : { name });
    }
    this.reads.push({ field: binding, previous, range });
    return binding.type;
  }

  /** A name that stands alone: the nearest variable or member, then a field, then a function. */
  private plainName(e: Name): Type {
    const found = this.lookUp(e.name);
    this.meanings.set(e, found?.meaning ?? { kind: 'unknown' });
    if (!found) return this.name(e.name, e.range, undefined, false);
    if (found.named) this.named.set(e, found.named);
    if (found.binding) this.reads.push({ field: found.binding, previous: false, range: e.range });
    this.uses(found, e.range);
    return found.type;
  }

  private note(e: Expression, { named }: { readonly named?: Named }): void {
    if (named) this.named.set(e, named);
  }

  private fieldNamed(binding: FieldBinding | undefined): { readonly named?: Named } {
    const { self } = this.scope;
    const key = binding?.field.key;
    return self && key !== undefined ? { named: { kind: 'field', recordType: self.key, key } } : {};
  }

  private columnNamed(row: Type, name: string): { readonly named?: Named } {
    if (row.kind !== 'context' || row.table === undefined) return {};
    const table = [...this.scope.tables.values()].find((t) => t.key === row.table);
    const column = table && [...table.keys, ...table.outputs].find((c) => c.name === name);
    return column ? { named: { kind: 'column', table: row.table, key: column.key } } : {};
  }

  private uses({ meaning, type, related }: Found, range: TextRange): void {
    if (related) this.readRelated(related.of, related.field, '', range);
    if (meaning.kind === 'table') this.tables.add(meaning.key);
    if (meaning.kind === 'user') this.user = true;
    if (meaning.kind === 'children') this.readRelated(type, '', meaning.name, range);
  }

  /** Notes a read on another record; one whose route is not known cannot be foreseen. */
  private readRelated(of: Type, field: string, text: string, range: TextRange): void {
    const record = of.kind === 'list' ? of.item : of;
    if (record.kind === 'record' && record.route)
      this.related.push({ route: record.route, recordType: record.of.key, field, text, range });
  }

  private lookUp(name: string, from = this.frames.length - 1): Found | undefined {
    for (let stackIndex = from; stackIndex >= 0; stackIndex--) {
      const frame = this.frames[stackIndex]!;
      if ('name' in frame) {
        if (frame.name === name) return { meaning: { kind: 'variable', stackIndex }, type: frame.type };
        continue;
      }
      const { item } = frame;
      // The frame before this one holds the item itself.
      const member = item.kind === 'context' ? item.members?.get(name) : undefined;
      if (member)
        return {
          meaning: { kind: 'member', stackIndex: stackIndex - 1, otherwise: { kind: 'unknown' } },
          type: member,
          ...this.columnNamed(item, name),
        };
      const ofRecord = item.kind === 'record' ? item.of.member(name) : undefined;
      if (ofRecord && item.kind === 'record') {
        const type = item.route ? continued(ofRecord.type, item.route) : unrouted(ofRecord.type);
        const meaning = { kind: 'member', stackIndex: stackIndex - 1, otherwise: { kind: 'unknown' } } as const;
        return { meaning, type, related: { of: item, field: ofRecord.field ?? '' }, ...memberNamed(item.of, name) };
      }
      const open = item.kind === 'any' || (item.kind === 'context' && !item.members);
      if (!open) continue;
      const outside = this.lookUp(name, stackIndex - 1);
      const otherwise = outside?.meaning ?? { kind: 'unknown' };
      const named = { kind: 'member', name } as const;
      return { ...outside, meaning: { kind: 'member', stackIndex: stackIndex - 1, otherwise }, type: anyType, named };
    }
    const binding = this.scope.fields.get(name);
    if (binding)
      return {
        meaning: { kind: 'field', slot: binding.slot, previous: false },
        type: binding.type,
        binding,
        ...this.fieldNamed(binding),
      };
    return this.standing(name) ?? this.functionNamed(name);
  }

  /** Names that mean something in every formula of a record type, unless a field has them. */
  private standing(name: string): Found | undefined {
    const { tables, self, origin, user } = this.scope;
    const table = tables.get(name);
    if (table)
      return {
        meaning: { kind: 'table', key: table.key },
        type: table.type,
        named: { kind: 'table', key: table.key },
      };
    const children = self?.member(name);
    if (children?.hop) return { meaning: { kind: 'children', name }, type: children.type, ...memberNamed(self!, name) };
    if (name === selfName && self) return { meaning: { kind: 'self' }, type: { kind: 'record', of: self } };
    if (name === originName && origin) return { meaning: { kind: 'origin' }, type: origin };
    return name === userName && user ? { meaning: { kind: 'user' }, type: user } : undefined;
  }

  private functionNamed(name: string): Found | undefined {
    return findFunction(name) ? { meaning: { kind: 'function', name }, type: functionType } : undefined;
  }

  private path(e: Path): Type {
    if (e.object.kind === 'name' && e.object.name === previousName && !this.lookUp(previousName)) {
      const binding = this.scope.fields.get(e.name);
      this.meanings.set(e, binding ? { kind: 'field', slot: binding.slot, previous: true } : { kind: 'unknown' });
      this.note(e, this.fieldNamed(binding));
      return this.name(e.name, e.nameRange, binding, true);
    }
    if (e.object.kind === 'path' && startsAtPrevious(e.object) && !this.lookUp(previousName))
      return this.report('name.previous-path', e.nameRange);
    if (e.object.kind === 'name' && e.object.name === selfName && this.lookUp(selfName)?.meaning.kind === 'self') {
      const own = this.standing(e.name);
      const binding = this.scope.fields.get(e.name);
      if (!binding && own?.meaning.kind === 'children') {
        this.meanings.set(e, own.meaning);
        this.note(e, own);
        this.uses(own, e.range);
        return own.type;
      }
      this.meanings.set(e, binding ? { kind: 'field', slot: binding.slot, previous: false } : { kind: 'unknown' });
      this.note(e, this.fieldNamed(binding));
      return this.name(e.name, e.nameRange, binding, false);
    }
    const actual = this.infer(e.object);
    const record = actual.kind === 'list' ? actual.item : actual;
    if (record.kind === 'record') return this.recordMember(e, actual, record);
    if (record.kind === 'any') this.named.set(e, { kind: 'member', name: e.name });
    this.note(e, this.columnNamed(record, e.name));
    if (actual.kind === 'context' && actual.members) {
      const member = actual.members.get(e.name);
      if (member) return member;
      const nearest = nearestName(e.name, actual.members.keys());
      return this.report('name.unknown', e.nameRange, nearest ? { name: e.name, nearest } : { name: e.name });
    }
    const known = memberType(actual, e.name);
    return known ?? this.report('type.member', e.nameRange, { name: e.name, found: typeName(actual) });
  }

  /** A field or child list of a record, or of each record of a list. */
  private recordMember(e: Path, actual: Type, record: Extract<Type, { kind: 'record' }>): Type {
    const member = record.of.member(e.name);
    if (!member) {
      const nearest = nearestName(e.name, record.of.memberNames());
      return this.report('name.unknown', e.nameRange, nearest ? { name: e.name, nearest } : { name: e.name });
    }
    this.note(e, memberNamed(record.of, e.name));
    this.readRelated(actual, member.field ?? '', `${pathText(e.object)}.${e.name}`, e.nameRange);
    const type = record.route ? continued(member.type, record.route) : unrouted(member.type);
    if (member.hop) this.readRelated(type, '', `${pathText(e.object)}.${e.name}`, e.nameRange);
    return actual.kind === 'list' ? listOf(type) : type;
  }

  private comparison(e: Comparison): Type {
    const [left, right] = [this.infer(e.left), this.infer(e.right)];
    if (e.left.kind === 'name' && e.right.kind === 'name' && e.left.name === e.right.name)
      return this.report('compare.itself', e.range, { name: e.left.name });
    this.comparable(left, right, e.operator, e.range, e.right);
    this.optionText(right, e.left);
    return booleanType;
  }

  /** Whether two types compare; `value` is the right operand, whose text is held against the left one's options. */
  private comparable(
    left: Type,
    right: Type,
    operator: Comparison['operator'],
    range: TextRange,
    value: Expression,
  ): void {
    this.optionText(left, value);
    const { ordering } = comparison[operator];
    for (const side of [left, right])
      if (ordering && side.kind === 'option' && !side.options.order)
        return void this.report('option.unordered', range, { field: side.options.field });
    const alike = fits(left, right) || fits(right, left);
    const orderless =
      ordering && [left, right].some((t) => ['boolean', 'list', 'context', 'function', 'range'].includes(t.kind));
    if (!alike || orderless)
      this.report('type.operands', range, { operator, left: typeName(left), right: typeName(right) });
  }

  /** A text literal compared with a picklist must be one of its options. */
  private optionText(type: Type, e: Expression): void {
    if (type.kind !== 'option' || e.kind !== 'literal' || typeof e.value !== 'string') return;
    const { options } = type;
    if (options.names.includes(e.value)) return;
    const nearest = nearestName(e.value, options.names);
    const data = { field: options.field, option: e.value };
    this.report('option.unknown', e.range, nearest ? { ...data, nearest } : data);
  }

  private membership(e: Membership): Type {
    const operand = this.infer(e.operand);
    for (const test of e.tests) this.unaryTest(operand, test);
    return booleanType;
  }

  unaryTest(operand: Type, test: UnaryTest): void {
    if (test.kind === 'interval') {
      for (const bound of [test.low, test.high]) this.comparable(operand, this.infer(bound), '<=', bound.range, bound);
      return;
    }
    const actual = this.infer(test.value);
    if (test.kind === 'compare') return this.comparable(operand, actual, test.operator, test.range, test.value);
    if (actual.kind === 'range' || actual.kind === 'any' || actual.kind === 'boolean') return;
    if (actual.kind !== 'list') return this.comparable(operand, actual, '=', test.range, test.value);
    if (test.value.kind === 'list') for (const item of test.value.items) this.optionText(operand, item);
    const items =
      actual.item.kind === 'range' || fits(actual.item, operand) || fits(operand, actual.item) || fits(actual, operand);
    if (!items)
      this.report('type.operands', test.range, { operator: 'in', left: typeName(operand), right: typeName(actual) });
  }

  private call(e: Call): Type {
    const args = e.arguments.map((a) => this.infer(a));
    if (e.callee) {
      const callee = this.infer(e.callee);
      return fits(callee, functionType) ? anyType : this.report('type.call', e.nameRange, { found: typeName(callee) });
    }
    const known = this.lookUp(e.name);
    if (!known) {
      this.meanings.set(e, { kind: 'unknown' });
      const nearest = nearestName(e.name, functionNames);
      return this.report('name.unknown-function', e.nameRange, nearest ? { name: e.name, nearest } : { name: e.name });
    }
    if (known.meaning.kind !== 'function') {
      this.meanings.set(e, known.meaning);
      if (known.binding) this.reads.push({ field: known.binding, previous: false, range: e.nameRange });
      return fits(known.type, functionType)
        ? anyType
        : this.report('type.call', e.nameRange, { found: typeName(known.type) });
    }
    return this.builtIn(e, args);
  }

  private builtIn(e: Call, args: readonly Type[]): Type {
    const found = findFunction(e.name)!;
    if (found.clock) this.clock = true;
    if (found.onField) {
      this.change = true;
      const meaning = e.arguments.length === 1 ? this.meanings.get(e.arguments[0]!) : undefined;
      if (meaning?.kind !== 'field' || meaning.previous)
        return this.report('call.field', e.range, { function: e.name });
      const read = this.reads.findLast((r) => r.field.slot === meaning.slot)!;
      this.reads.push({ ...read, previous: true });
      if (found.ordered && args[0]?.kind === 'option' && !args[0].options.order)
        return this.report('option.unordered', e.range, { field: args[0].options.field });
    }
    const signature = signatureFor(found, args.length, e.names);
    if (!signature) {
      const all = signaturesOf(found);
      const stranger = e.names?.find((n) => !all.some((s) => s.some((p) => p.name === n)));
      if (stranger !== undefined) return this.report('call.name', e.range, { function: e.name, name: stranger });
      const expected = all
        .map((s) => s.map((p) => (p.optional ? `${p.name} (optional)` : p.name)).join(', '))
        .join('; or ');
      return this.report('call.count', e.range, { function: e.name, expected: expected || 'nothing' });
    }
    args.forEach((type, i) => {
      const name = e.names?.[i];
      const parameter =
        name === undefined ? signature[Math.min(i, signature.length - 1)]! : signature.find((p) => p.name === name)!;
      // A single value stands for the list of it (DMN's coercion to a singleton list).
      if (fits(type, parameter.type) || (parameter.type.kind === 'list' && fits(type, parameter.type.item))) return;
      const data = { function: e.name, expected: typeName(parameter.type), found: typeName(type) };
      this.report('type.argument', e.arguments[i]!.range, data);
    });
    return typeof found.result === 'function' ? found.result(args) : found.result;
  }
}

function memberNamed(of: RecordShape, name: string): { readonly named?: Named } {
  const member = of.member(name);
  if (!member) return {};
  if (of.key === '') return { named: { kind: 'origin', name } };
  const { hop, field } = member;
  if (hop) return { named: { kind: 'children', recordType: hop.to, field: hop.field } };
  return field === undefined ? {} : { named: { kind: 'field', recordType: of.key, key: field } };
}

/** A path as it is written, where it is one. */
function pathText(e: Expression): string {
  if (e.kind === 'name') return e.name;
  if (e.kind === 'path') return `${pathText(e.object)}.${e.name}`;
  return e.kind === 'filter' ? pathText(e.object) : '…';
}

/** The type of a member with the route that leads to it. */
function continued(type: Type, before: readonly Hop[]): Type {
  if (type.kind === 'list') return listOf(continued(type.item, before));
  return type.kind === 'record' && type.route ? { ...type, route: [...before, ...type.route] } : type;
}

function unrouted(type: Type): Type {
  if (type.kind === 'list') return listOf(unrouted(type.item));
  if (type.kind !== 'record') return type;
  const { route: _, ...rest } = type;
  return rest;
}

function startsAtPrevious(e: Expression): boolean {
  if (e.kind === 'path') return startsAtPrevious(e.object);
  return e.kind === 'name' && e.name === previousName;
}
