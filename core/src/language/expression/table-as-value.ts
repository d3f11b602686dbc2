/** A whole mapping table where one value belongs: said with the way to look one up. */
import { type Diagnostic, diagnostic } from '../../diagnostics/catalog.ts';
import type { Scope } from './scope.ts';
import type { Type } from '../types/types.ts';

/** Undefined where the type is not that of a whole table. */
export function tableAsValue(type: Type, text: string, scope: Scope): Diagnostic | undefined {
  const key = type.kind === 'list' && type.item.kind === 'context' ? tableNamed(text, scope) : undefined;
  const [name, table] = [...scope.tables].find(([, t]) => t.key === key) ?? [];
  if (!table) return undefined;
  const by = table.keys.map((c) => `${c.name} = ...`).join(' and ');
  const example = `${name!}[${by}][1].${table.outputs[0]?.name ?? '...'}`;
  return diagnostic('type.table', { from: 0, to: text.length }, { name: name!, example });
}

const tableNamed = (text: string, scope: Scope): string | undefined => scope.tables.get(text.trim())?.key;
