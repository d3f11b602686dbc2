/** Where a finding stands: what it is called there, and its address. */
import { deskPath, fieldsOf, mappingAddress, ruleAddress } from '$lib/addresses.ts';
import type { Finding } from '@rigid-rule/core/analysis';
import type { Rulebook } from '@rigid-rule/core/document';

export interface Place {
  /** What the part is called. */
  readonly name: string;
  /** What it belongs to. */
  readonly within: string;
  readonly href: string;
}

export function placeOf({ part }: Finding, { recordTypes, rules, tables = [], tests = [] }: Rulebook): Place {
  const typeName = (key: string) => recordTypes.find((t) => t.key === key)?.name ?? key;
  switch (part.kind) {
    case 'rule': {
      const rule = rules.find((r) => r.key === part.key);
      return {
        name: rule?.name ?? part.key,
        within: typeName(rule?.recordType ?? ''),
        href: rule ? ruleAddress(rule.recordType, rule.key) : deskPath,
      };
    }
    case 'field': {
      const [type = '', key = ''] = part.key.split('.');
      const field = recordTypes.find((t) => t.key === type)?.fields.find((f) => f.key === key);
      return { name: field?.name ?? key, within: typeName(type), href: fieldsOf(type, { field: key }) };
    }
    case 'table':
      return {
        name: tables.find((t) => t.key === part.key)?.name ?? part.key,
        within: 'Mappings',
        href: mappingAddress(part.key),
      };
    case 'record type':
      return { name: typeName(part.key), within: 'Fields', href: fieldsOf(part.key) };
    case 'test':
      return { name: tests.find((t) => t.key === part.key)?.name ?? part.key, within: 'Tests', href: deskPath };
    default:
      return { name: 'The rulebook', within: '', href: deskPath };
  }
}
