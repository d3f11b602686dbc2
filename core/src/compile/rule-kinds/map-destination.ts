/** Where the values of a map rule go. */
import { fieldTypeOf } from '../../language/field-types/index.ts';
import type { Environment } from '../../language/expression/runtime.ts';
import type { Field } from '../../document/document.ts';
import { RecordRef, isList } from '../../values/value.ts';
import type { OutcomeBuilder } from './outcome-builder.ts';
import type { Effect } from './rule-kind.ts';
import { type SlotIndex, slotAt, noSlot } from '../../document/slots.ts';

export interface Destination {
  target(key: string, path: string): { readonly slot: SlotIndex; readonly field: Field } | undefined;
  /** Puts what comes of an effect behind the others. */
  add(
    effects: Effect[],
    env: Environment,
    target: { readonly slot: SlotIndex; readonly field: Field },
    effect: Effect,
  ): void;
}

/** Where the values go: this record, the one that a lookup names, or each of a child list. */
export function findDestination(onto: string, builder: OutcomeBuilder): Destination | undefined {
  if (onto === '')
    return {
      target: (key, path) => builder.written(key, path),
      add: (effects, _env, _target, effect) => void effects.push(effect),
    };
  const { scope, recordType } = builder;
  const lookup = recordType.fields.find((f) => f.key === onto && fieldTypeOf(f).links);
  const member = scope.self?.member(lookup?.name ?? onto);
  const type = member?.type.kind === 'list' ? member.type.item : member?.type;
  if (!member || type?.kind !== 'record') {
    builder.report('map.onto', '/outcome/onto', { onto });
    return undefined;
  }
  const path = lookup?.name ?? onto;
  const reach = builder.formula(path, '/outcome/onto');
  return {
    target(key, at) {
      const field = scope.book?.recordTypes.find((t) => t.key === type.of.key)?.fields.find((f) => f.key === key);
      if (!field) builder.report('rule.no-target', at, { field: key });
      return field && { slot: noSlot, field };
    },
    add(effects, env, { field }, effect) {
      if (effect.act === 'stop')
        effects.push({ ...effect, target: lookup ? slotAt(recordType.fields.indexOf(lookup)) : noSlot });
      if (effect.act !== 'set') return;
      const reached = reach.evaluate?.(env) ?? null;
      const refs = (isList(reached) ? reached : [reached]).filter((v) => v instanceof RecordRef);
      const { value, way } = effect;
      for (const to of refs) effects.push({ act: 'send', to, field: field.key, value, ...(way ? { way } : {}) });
    },
  };
}
