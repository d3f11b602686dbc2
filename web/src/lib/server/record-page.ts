/** What the form of a record needs, whether it exists or not. */
import { entryPointsOf } from '@rigid-rule/core/compile';
import type { RecordData, User } from '@rigid-rule/core/document';
import { fieldsReadElsewhere } from '@rigid-rule/core/related';
import { error } from '@sveltejs/kit';
import { actingUser } from './acting-user.ts';
import { listFieldAuthors, listHistory, type HistoryEntry, type StoredRecord } from './db/records.ts';
import { listUsers } from './db/users.ts';
import { followUpsOf } from './follow-ups.ts';
import { formStart, rulesAddress } from './form-start.ts';
import { liveRelease, releaseProgram, requireType } from './rulebook.ts';
import { titlesFor } from './titles.ts';

export async function recordPage(
  typeKey: string,
  formName: string | null,
  record: StoredRecord | null,
  user: Pick<User, 'name' | 'email' | 'role'>,
) {
  const { release, program } = await liveRelease();
  const recordType = requireType(program.rulebook, typeKey);
  const form = formName ?? recordType.forms[0]!.key;
  if (!recordType.forms.some((f) => f.key === form)) error(404, `${recordType.plural} have no form ${form}.`);
  const actor = await actingUser(user, program.rulebook);
  const identity = { recordType: typeKey, form, user: actor };
  const history = record ? await listHistory(typeKey, record.id) : [];
  const authors = record ? await listFieldAuthors(typeKey, record.id) : [];
  const [start, users, titles, ruleNames, followUps] = await Promise.all([
    formStart(program, identity, record),
    listUsers(),
    titlesFor(program.rulebook, recordType.fields, [record?.data ?? {}, ...valuesIn(history)]),
    ruleNamesIn([...history, ...authors], release),
    record ? followUpsOf(typeKey, record.id) : { waiting: false, failed: [] },
  ]);
  return {
    recordTypes: program.rulebook.recordTypes,
    zone: program.rulebook.zone,
    rulesAddress: rulesAddress(typeKey, release),
    identity,
    start,
    release,
    record,
    history,
    authors,
    followUps,
    readElsewhere: fieldsReadElsewhere(program, typeKey),
    ruleNames,
    entryNames: Object.fromEntries(entryPointsOf(recordType).map((e) => [e.key, e.name])),
    titles,
    users,
  };
}

/** Each change's values as little records, so that the names of what they link to are found too. */
const valuesIn = (history: readonly HistoryEntry[]): RecordData[] =>
  history.flatMap((h) => h.changes.flatMap((c) => [{ [c.field]: c.from }, { [c.field]: c.to }]));

/** Names of the rules that the history speaks of, as the releases named them. */
async function ruleNamesIn(history: readonly Pick<HistoryEntry, 'release'>[], live: number | null) {
  const names: Record<string, { name: string; kind: string }> = {};
  const numbers = new Set([...history.map((h) => h.release), live].filter((n): n is number => n !== null));
  for (const number of [...numbers].sort((a, b) => a - b))
    for (const rule of (await releaseProgram(number))?.rulebook.rules ?? [])
      names[rule.key] = { name: rule.name, kind: rule.kind };
  return names;
}
