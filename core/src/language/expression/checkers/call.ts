/** Calls of functions: which one is meant, and whether what it is given fits. */
import { nearestName } from '../../../diagnostics/nearest.ts';
import { signatureFor, signaturesOf } from '../../functions/function.ts';
import { findFunction, functionNames } from '../../functions/index.ts';
import { type Type, anyType, fits, functionType, typeName } from '../../types/types.ts';
import type { Call } from '../ast.ts';
import type { Checker, Checking } from './checking.ts';
import { lookUp } from './names.ts';

export const call: Checker<Call> = (e, checking) => {
  const args = e.arguments.map((a) => checking.infer(a));
  if (e.callee) {
    const callee = checking.infer(e.callee);
    return fits(callee, functionType)
      ? anyType
      : checking.report('type.call', e.nameRange, { found: typeName(callee) });
  }
  const known = lookUp(checking, e.name);
  if (!known) {
    checking.meanings.set(e, { kind: 'unknown' });
    const nearest = nearestName(e.name, functionNames);
    return checking.report(
      'name.unknown-function',
      e.nameRange,
      nearest ? { name: e.name, nearest } : { name: e.name },
    );
  }
  if (known.meaning.kind !== 'function') {
    checking.meanings.set(e, known.meaning);
    if (known.binding) checking.reads.push({ field: known.binding, previous: false, range: e.nameRange });
    return fits(known.type, functionType)
      ? anyType
      : checking.report('type.call', e.nameRange, { found: typeName(known.type) });
  }
  return builtIn(checking, e, args);
};

function builtIn(checking: Checking, e: Call, args: readonly Type[]): Type {
  const found = findFunction(e.name)!;
  if (found.clock) checking.clock = true;
  if (found.onField) {
    checking.change = true;
    const meaning = e.arguments.length === 1 ? checking.meanings.get(e.arguments[0]!) : undefined;
    if (meaning?.kind !== 'field' || meaning.previous)
      return checking.report('call.field', e.range, { function: e.name });
    const read = checking.reads.findLast((r) => r.field.slot === meaning.slot)!;
    checking.reads.push({ ...read, previous: true });
    if (found.ordered && args[0]?.kind === 'option' && !args[0].options.order)
      return checking.report('option.unordered', e.range, { field: args[0].options.field });
  }
  const signature = signatureFor(found, args.length, e.names);
  if (!signature) {
    const all = signaturesOf(found);
    const stranger = e.names?.find((n) => !all.some((s) => s.some((p) => p.name === n)));
    if (stranger !== undefined) return checking.report('call.name', e.range, { function: e.name, name: stranger });
    const expected = all
      .map((s) => s.map((p) => (p.optional ? `${p.name} (optional)` : p.name)).join(', '))
      .join('; or ');
    return checking.report('call.count', e.range, { function: e.name, expected: expected || 'nothing' });
  }
  args.forEach((type, i) => {
    const name = e.names?.[i];
    const parameter =
      name === undefined ? signature[Math.min(i, signature.length - 1)]! : signature.find((p) => p.name === name)!;
    // A single value stands for the list of it (DMN's coercion to a singleton list).
    if (fits(type, parameter.type) || (parameter.type.kind === 'list' && fits(type, parameter.type.item))) return;
    const data = { function: e.name, expected: typeName(parameter.type), found: typeName(type) };
    checking.report('type.argument', e.arguments[i]!.range, data);
  });
  return typeof found.result === 'function' ? found.result(args) : found.result;
}
