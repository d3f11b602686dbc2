/** What the palette finds of a draft: rules, fields, tables, and the areas that look at all of it. */
import { deskOf, documentPath, fieldsOf, mapOf, mappingAddress, ruleAddress } from '$lib/addresses.ts';
import { findRuleKind } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import type { PaletteEntry } from '../shell/acts.svelte.ts';

export const draftEntries = (
  { rules, recordTypes, tables = [], tests = [] }: Rulebook,
  editable: boolean,
): PaletteEntry[] => [
  ...rules.map((r) => ({
    group: 'Rules',
    name: r.name,
    hint: findRuleKind(r.kind)?.name ?? r.kind,
    href: ruleAddress(r.recordType, r.key),
  })),
  ...recordTypes.flatMap((t) =>
    t.fields.map((f) => ({ group: 'Fields', name: f.name, hint: t.name, href: deskOf(t.key, { field: f.key }) })),
  ),
  ...recordTypes.flatMap((t) =>
    t.fields.flatMap((f) =>
      (f.options ?? []).map((o) => ({
        group: 'Options',
        name: o.name,
        hint: `${t.name}, ${f.name}`,
        href: fieldsOf(t.key, { field: f.key }),
      })),
    ),
  ),
  ...tests.map((t) => ({
    group: 'Tests',
    name: t.name,
    hint: recordTypes.find((r) => r.key === t.recordType)?.name ?? t.recordType,
    href: deskOf(t.recordType, { test: t.key }),
  })),
  ...(editable ? recordTypes : []).map((t) => ({
    group: 'Acts',
    name: `New field of ${t.plural}`,
    href: fieldsOf(t.key, { new: '1' }),
  })),
  ...tables.map((t) => ({ group: 'Mappings', name: t.name, href: mappingAddress(t.key) })),
  ...recordTypes.map((t) => ({ group: 'Map', name: `What writes what, on ${t.name}`, href: mapOf(t.key) })),
  { group: 'Areas', name: 'The rulebook as a document', href: documentPath },
];
