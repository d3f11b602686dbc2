/** What became of the members of a part: each difference with the value that was and the one that is. */
import { sameJson } from '../../document/canonical.ts';
import type { PartKind } from '../../document/parts.ts';
import { pointer } from '../../document/patch.ts';
import { memberWords } from '../../document/well-formed.ts';
import { becomes } from '../../language/wording/isolated.ts';
import { writtenLoose } from '../../language/wording/written.ts';
import type { Writing } from '../../language/types/writing.ts';

type Members = Readonly<Record<string, unknown>>;

const isMembers = (v: unknown): v is Members => typeof v === 'object' && v !== null && !Array.isArray(v);

/** What tells one thing of a list from the others. */
const identities = ['key', 'name'] as const;
const identityOf = (v: Members): string | undefined =>
  identities.map((i) => v[i]).find((id): id is string => typeof id === 'string');
const calledOf = (v: Members): string => (typeof v['name'] === 'string' ? v['name'] : identityOf(v)!);

/** The things of a list by what tells them apart; undefined where nothing does. None: the list of a member that is not there. */
function thingsOf(v: unknown): ReadonlyMap<string, Members> | undefined {
  if (v === undefined || v === null) return new Map();
  if (!Array.isArray(v) || !v.every(isMembers)) return undefined;
  const things = new Map(v.flatMap((item) => (identityOf(item) === undefined ? [] : [[identityOf(item)!, item]])));
  return things.size === v.length ? things : undefined;
}

/** A value in words, whatever it holds. */
export function memberText(v: unknown, writing: Writing): string {
  if (v === undefined || v === null || v === '') return 'none';
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (typeof v === 'number') return writtenLoose(v, writing);
  if (Array.isArray(v)) return v.map((item) => memberText(item, writing)).join(', ') || 'none';
  return isMembers(v) ? thingText(v, writing) : String(v);
}

/** `Home country: type text`: what a thing is called and what else it says. */
function thingText(v: Members, writing: Writing): string {
  const called = identityOf(v) === undefined ? undefined : calledOf(v);
  const says = Object.entries(v)
    .filter(([name, value]) => value !== undefined && (called === undefined || !['key', 'name'].includes(name)))
    .map(([name, value]) => `${name} ${memberText(value, writing)}`)
    .join(', ');
  return [called, says].filter(Boolean).join(': ') || 'none';
}

interface At {
  readonly kind: PartKind;
  readonly path: string;
  /** What people call each step to it, from the outermost. */
  readonly words: readonly string[];
  readonly writing: Writing;
}

const into = (at: At, step: string, called?: string): At => {
  const path = at.path + pointer(step);
  return { ...at, path, words: [...at.words, called ?? memberWords(at.kind, path).at(-1)!] };
};

function* differencesAt(at: At, before: unknown, after: unknown): Generator<string> {
  if (sameJson(before ?? null, after ?? null)) return;
  if (isMembers(before) && isMembers(after)) {
    for (const name of new Set([...Object.keys(before), ...Object.keys(after)]))
      yield* differencesAt(into(at, name), before[name], after[name]);
    return;
  }
  const place = at.words.toReversed().join(' of ');
  const [old, now] = [thingsOf(before), thingsOf(after)];
  if (old && now && old.size + now.size > 0) {
    yield* differentThings({ ...at, place }, old, now);
    return;
  }
  const text = (v: unknown, other: unknown): string =>
    v === undefined && other === true ? 'no' : memberText(v, at.writing);
  yield `${place} ${becomes(text(before, after), text(after, before))}`;
}

function* differentThings(
  at: At & { readonly place: string },
  old: ReadonlyMap<string, Members>,
  now: ReadonlyMap<string, Members>,
): Generator<string> {
  for (const [id, thing] of now) if (!old.has(id)) yield `${at.place} with ${thingText(thing, at.writing)}`;
  for (const [id, thing] of old) if (!now.has(id)) yield `${at.place} without ${calledOf(thing)}`;
  const kept = [...now.keys()].filter((id) => old.has(id));
  if ([...old.keys()].filter((id) => now.has(id)).join('\0') !== kept.join('\0')) yield `order of ${at.place}`;
  for (const [i, [id, thing]] of [...now].entries())
    if (old.has(id)) yield* differencesAt(into(at, String(i), calledOf(thing)), old.get(id), thing);
}

/** Each member that differs, however deep, in a phrase of its own: `decimals none → 0`, `match of Country of columns ...`. */
export const memberPhrases = (kind: PartKind, before: object, after: object, writing: Writing): string[] => [
  ...differencesAt({ kind, path: '', words: [], writing }, before, after),
];

/** What a part that comes or goes says, member by member. `but`: members that are told elsewhere. */
export const memberLines = (kind: PartKind, body: object, but: readonly string[], writing: Writing): string[] =>
  Object.entries(body)
    .filter(([name, v]) => !but.includes(name) && memberText(v, writing) !== 'none')
    .map(([name, v]) => `${memberWords(kind, pointer(name))[0]!} ${memberText(v, writing)}`);
