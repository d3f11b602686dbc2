/** What became of a field. */
import { sameJson } from '../../document/canonical.ts';
import type { Field, Option, Rulebook } from '../../document/document.ts';
import { nameIn } from '../../document/names.ts';
import { memberTitle } from '../../document/well-formed.ts';
import { fieldTypeOf, isFieldType } from '../../language/field-types/index.ts';
import { becomes } from '../../language/wording/isolated.ts';
import { writtenLoose } from '../../language/wording/written.ts';
import type { Writing } from '../../language/types/writing.ts';
import { memberLines, memberPhrases, memberText } from './members.ts';

/** `Picklist of Customers: Low, High`: what a field that comes or goes holds, and of which records. */
function fieldSummary(field: Field, key: string, { recordTypes }: Rulebook): string {
  const type = recordTypes.find((t) => key.startsWith(`${t.key}.`));
  const linked = recordTypes.find((t) => t.key === field.recordType)?.name;
  const options = field.options?.map((o) => o.name) ?? [];
  return [
    `${isFieldType(field.type) ? fieldTypeOf(field).name : field.type}${type ? ` of ${type.plural}` : ''}`,
    ...(linked === undefined ? [] : [`a ${linked.toLowerCase()}`]),
    ...(options.length > 0 ? [options.join(', ')] : []),
  ].join(': ');
}

export function fieldPhrases(
  before: Field,
  after: Field,
  key: string,
  { recordTypes }: Rulebook,
  writing: Writing,
): string[] {
  const { options: old = [], ...a } = before;
  const { options: now = [], ...b } = after;
  const names = (list: readonly { readonly name: string }[]): string => list.map((o) => o.name).join(', ');
  const added = now.filter((o) => !old.some((x) => x.key === o.key));
  const removed = old.filter((o) => !now.some((x) => x.key === o.key));
  const renamed = now.flatMap((o) => {
    const was = old.find((x) => x.key === o.key);
    return was && was.name !== o.name ? [`option ${becomes(was.name, o.name)}`] : [];
  });
  const kept = (list: typeof old, other: typeof old): string =>
    list.flatMap((o) => (other.some((x) => x.key === o.key) ? [o.key] : [])).join();
  const siblings = recordTypes.find((t) => key.startsWith(`${t.key}.`))?.fields ?? [];
  const called: Readonly<Record<string, (value: string) => string>> = {
    recordType: (v) => nameIn(recordTypes, v),
    optionsOf: (v) => nameIn(siblings, v),
    type: (v) => (isFieldType(v) ? fieldTypeOf({ type: v }).name : v),
  };
  const read = (member: string, v: unknown): string => {
    if (v === undefined) return 'none';
    if (typeof v === 'number') return writtenLoose(v, writing);
    return typeof v === 'boolean' ? (v ? 'yes' : 'no') : (called[member]?.(String(v)) ?? String(v));
  };
  const members = [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((k) => {
    const [from, to] = [(a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]];
    return sameJson(from, to)
      ? []
      : [
          `${memberTitle('field', k)} ${becomes(
            from === undefined && to === true ? 'no' : read(k, from),
            to === undefined && from === true ? 'no' : read(k, to),
          )}`,
        ];
  });
  return [
    ...members,
    ...(added.length > 0 ? [`options added: ${names(added)}`] : []),
    ...(removed.length > 0 ? [`options removed: ${names(removed)}`] : []),
    ...renamed,
    ...(kept(old, now) === kept(now, old) ? [] : ['order of the options']),
    ...now.flatMap((o) =>
      optionPhrases(
        old.find((x) => x.key === o.key),
        o,
        writing,
      ),
    ),
  ];
}

/** What an option means, its mark and its place outside the order; its name is told as a renaming. */
function optionPhrases(before: Option | undefined, after: Option, writing: Writing): string[] {
  return before
    ? memberPhrases('field', { options: [{ ...before, name: after.name }] }, { options: [after] }, writing)
    : [];
}

/** What a field that comes or goes is: what it holds, its limits and demands, and what options say beside their names. */
export const fieldLines = (field: Field, key: string, rulebook: Rulebook, writing: Writing): string[] => [
  fieldSummary(field, key, rulebook),
  ...memberLines('field', field, ['key', 'name', 'type', 'options', 'recordType'], writing),
  ...(field.options ?? []).filter((o) => Object.keys(o).length > 2).map((o) => `option ${memberText(o, writing)}`),
];
