/**
 * What was compiled of the parts of a document, handed on from program to program: an edit compiles what it changed, and
 * what hangs on it. Parts are immutable; what is kept of one goes with it.
 */
import type { RecordType, Rule, Rulebook } from '../document/document.ts';
import type { SlotIndex } from '../document/slots.ts';
import { createScope, type Scope } from '../language/expression/scope.ts';
import type { Writing } from '../language/types/writing.ts';
import { compileRule, type UnorderedRule } from './compile-rule.ts';
import { TableMemory } from './mapping/table.ts';

export class CompiledParts {
  constructor(readonly writing: Writing) {}

  readonly tables = new TableMemory();
  /**
   * Field lists change far less often than rules, so a scope is kept with the list while all else that it names stays:
   * the fields of the other record types, and names and columns of tables (not their rows).
   */
  private readonly scopes = new WeakMap<RecordType['fields'], { names: readonly unknown[]; scope: Scope }>();
  private readonly rules = new WeakMap<Rule, { scope: Scope; compiled: UnorderedRule }>();

  scopeOf(recordType: RecordType, rulebook: Rulebook): Scope {
    const names = [
      recordType.key,
      rulebook.userRecordType,
      rulebook.formerNames,
      ...rulebook.recordTypes.flatMap((t) => [t.fields, t.plural]),
      ...(rulebook.tables ?? []).flatMap((t) => [t.key, t.name, t.keys, t.outputs]),
    ];
    const known = this.scopes.get(recordType.fields);
    if (known?.names.length === names.length && known.names.every((n, i) => n === names[i])) return known.scope;
    const scope = createScope(recordType, rulebook);
    this.scopes.set(recordType.fields, { names, scope });
    return scope;
  }

  /** A rule that did not change is not compiled again while its scope stays. */
  ruleOf(rule: Rule, recordType: RecordType, scope: Scope, slotOf: ReadonlyMap<string, SlotIndex>): UnorderedRule {
    const known = this.rules.get(rule);
    if (known?.scope === scope) return known.compiled;
    const compiled = compileRule(rule, recordType, scope, slotOf, this.writing);
    this.rules.set(rule, { scope, compiled });
    return compiled;
  }
}
