/** The part that is renamed, under its new name, and how formulas name it; the former name is remembered. */
import type { Field, RecordType, Rulebook } from '../document/document.ts';
import { optionOwner } from '../document/shared-options.ts';
import type { Named } from '../language/expression/checked.ts';
import { fieldTypeOf, linkedType } from '../language/field-types/index.ts';
import type { OptionRenaming, Renaming } from './renaming.ts';

export interface RenamedParts {
  /** The rulebook with the new name; the parts that carry the name change, nothing else. */
  readonly rulebook: Rulebook;
  readonly former: string;
  readonly names: (named: Named) => boolean | 'perhaps';
}

export function withName(rulebook: Rulebook, r: Renaming): RenamedParts | { problem: string } {
  switch (r.what) {
    case 'field':
    case 'option':
      return r.what === 'field' ? withField(rulebook, r) : withOption(rulebook, r);
    case 'plural':
    case 'children':
      return withChildren(rulebook, r);
    default:
      return withTable(rulebook, r);
  }
}

/** A member of a value of unknown type that has the former name may be it. */
const perhaps =
  (former: string, isIt: (named: Named) => boolean | 'perhaps') =>
  (named: Named): boolean | 'perhaps' =>
    named.kind === 'member' ? (named.name === former ? 'perhaps' : false) : isIt(named);

function withField(rulebook: Rulebook, r: Extract<Renaming, { what: 'field' }>): RenamedParts | { problem: string } {
  const type = rulebook.recordTypes.find((t) => t.key === r.recordType);
  const field = type?.fields.find((f) => f.key === r.key);
  if (!type || !field) return { problem: 'There is no such field.' };
  if (type.fields.some((f) => f !== field && f.name === r.name)) return { problem: `${r.name} is taken.` };
  const former = field.name;
  // What a conversion starts from may be of any type: where others have a field of that name, it may be theirs.
  const alone = !rulebook.recordTypes.some((t) => t !== type && t.fields.some((f) => f.name === former));
  return {
    former,
    rulebook: remember(
      withFields(rulebook, type, (f) => (f === field ? { ...f, name: r.name } : f)),
      [[`${type.key}.${former}`, r.name]],
    ),
    names: perhaps(former, (named) => {
      if (named.kind === 'origin') return named.name === former && (alone ? true : 'perhaps');
      return named.kind === 'field' && named.recordType === type.key && named.key === field.key;
    }),
  };
}

function withOption(rulebook: Rulebook, r: OptionRenaming): RenamedParts | { problem: string } {
  const type = rulebook.recordTypes.find((t) => t.key === r.recordType);
  const named = type?.fields.find((f) => f.key === r.field);
  if (!type || !named) return { problem: 'There is no such field.' };
  const field = optionOwner(type.fields, named);
  const option = field.options?.find((o) => o.key === r.key);
  if (!option) return { problem: 'There is no such option.' };
  if (field.options!.some((o) => o !== option && o.name === r.name)) return { problem: `${r.name} is taken.` };
  return { former: option.name, rulebook, names: () => false };
}

function withChildren(
  rulebook: Rulebook,
  r: Extract<Renaming, { what: 'plural' | 'children' }>,
): RenamedParts | { problem: string } {
  const type = rulebook.recordTypes.find((t) => t.key === r.recordType);
  const lookup = r.what === 'children' ? type?.fields.find((f) => f.key === r.key) : undefined;
  if (!type) return { problem: 'There is no such record type.' };
  if (r.what === 'children' && !(lookup && fieldTypeOf(lookup).links)) return { problem: 'There is no such lookup.' };
  const former = lookup?.children ?? type.plural;
  const ends = type.fields.filter((f) => fieldTypeOf(f).links && (lookup ? f === lookup : f.children === undefined));
  const owners = new Set(ends.map((f) => f.recordType ?? ''));
  for (const owner of rulebook.recordTypes) {
    if (!owners.has(owner.key)) continue;
    const others = rulebook.recordTypes.flatMap((t) =>
      t.fields
        .filter((f) => linkedType(f) === owner.key && !(t === type && ends.includes(f)))
        .map((f) => f.children ?? t.plural),
    );
    if ([...owner.fields.map((f) => f.name), ...others].includes(r.name)) return { problem: `${r.name} is taken.` };
  }
  const now = lookup
    ? withFields(rulebook, type, (f) => (f === lookup ? { ...f, children: r.name } : f))
    : {
        ...rulebook,
        recordTypes: rulebook.recordTypes.map((t) => (t === type ? { ...t, plural: r.name } : t)),
      };
  const keys = new Set(ends.map((f) => f.key));
  return {
    former,
    rulebook: remember(
      now,
      [...owners].map((owner) => [`${owner}.${former}`, r.name]),
    ),
    names: perhaps(
      former,
      (named) => named.kind === 'children' && named.recordType === type.key && keys.has(named.field),
    ),
  };
}

function withTable(
  rulebook: Rulebook,
  r: Extract<Renaming, { what: 'table' | 'column' }>,
): RenamedParts | { problem: string } {
  const key = r.what === 'table' ? r.key : r.table;
  const table = rulebook.tables?.find((t) => t.key === key);
  if (!table) return { problem: 'There is no such table.' };
  const column = r.what === 'column' ? [...table.keys, ...table.outputs].find((c) => c.key === r.key) : undefined;
  if (r.what === 'column' && !column) return { problem: 'There is no such column.' };
  const renamed = <T extends { key: string; name: string }>(list: readonly T[]): T[] =>
    list.map((c) => (c.key === r.key ? { ...c, name: r.name } : c));
  const now =
    r.what === 'table'
      ? { ...table, name: r.name }
      : { ...table, keys: renamed(table.keys), outputs: renamed(table.outputs) };
  const former = column?.name ?? table.name;
  return {
    former,
    rulebook: { ...rulebook, tables: rulebook.tables!.map((t) => (t === table ? now : t)) },
    names:
      r.what === 'table'
        ? (named) => named.kind === 'table' && named.key === key
        : perhaps(former, (named) => named.kind === 'column' && named.table === key && named.key === r.key),
  };
}

const withFields = (rulebook: Rulebook, type: RecordType, change: (field: Field) => Field): Rulebook => ({
  ...rulebook,
  recordTypes: rulebook.recordTypes.map((t) => (t === type ? { ...t, fields: t.fields.map(change) } : t)),
});

const remember = (rulebook: Rulebook, names: readonly (readonly [string, string])[]): Rulebook => ({
  ...rulebook,
  formerNames: { ...rulebook.formerNames, ...Object.fromEntries(names) },
});
