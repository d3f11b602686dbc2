/** What one rulebook changes against another, in the product's words: whole, so that who reads it has read what changes. */
import type {
  Claim,
  Field,
  MappingTable,
  RecordType,
  Rule,
  Rulebook,
  RuleTest,
  SampleRecord,
} from '../document/document.ts';
import { nameIn } from '../document/names.ts';
import { partId, toParts, type Part, type PartKind, type PartRef } from '../document/parts.ts';
import { rulebookWords, type SentenceWords } from '../language/wording/words.ts';
import { plainWriting, type Writing } from '../language/types/writing.ts';
import { ruleSentence } from '../compile/rule-kinds/sentence.ts';
import { inOneGo } from '../values/steps.ts';
import { partOfFinding } from '../analysis/accepted.ts';
import { partsById, samePart } from './change-count.ts';
import { fieldLines, fieldPhrases } from './changes/fields.ts';
import { memberLines, memberPhrases } from './changes/members.ts';
import { placePhrase, ruleLines, rulePhrases, typePhrase } from './changes/rules.ts';
import { tableLines, tablePhrases } from './changes/tables.ts';
import { testLines, testPhrases } from './changes/tests.ts';

export interface PartChange {
  readonly part: PartRef;
  readonly what: 'added' | 'removed' | 'changed';
  /** Name of the part for people. */
  readonly name: string;
  /** Key of the rule kind, for a rule. */
  readonly ruleKind?: string;
  /** Each change in one phrase, none left out; of a part that comes or goes what it says. A table may have very many. */
  readonly phrases: readonly string[];
  readonly before?: unknown;
  readonly after?: unknown;
}

/** What one rulebook adds, changes and removes against another, in words. */
export const diffRulebooks = (before: Rulebook, after: Rulebook, writing?: Writing): PartChange[] =>
  inOneGo(diffInSteps(before, after, writing));

/** The same in short steps, for whoever has others waiting. */
export function* diffInSteps(
  before: Rulebook,
  after: Rulebook,
  writing: Writing = plainWriting,
): Generator<void, PartChange[]> {
  const old = new Map(yield* partsById(toParts(before)));
  const found: PartChange[] = [];
  yield;
  const [formerly, now] = [describer(before, writing), describer(after, writing)];
  yield;
  for (const part of toParts(after)) {
    yield;
    const was = old.get(partId(part));
    old.delete(partId(part));
    if (!was) found.push(yield* now(part, 'added', undefined, part.body));
    else if (!(yield* samePart(was, part))) found.push(yield* now(part, 'changed', was.body, part.body));
  }
  for (const part of old.values()) {
    yield;
    found.push(yield* formerly(part, 'removed', part.body, undefined));
  }
  return found;
}

/** What changes of parts are told with. */
interface Describing {
  readonly rulebook: Rulebook;
  readonly words: (type: RecordType) => SentenceWords;
  readonly writing: Writing;
}

type Describe = (part: Part, what: PartChange['what'], before: unknown, after: unknown) => Generator<void, PartChange>;

/** What its record types are called and how formulas read is looked up once for all changes. */
function describer(rulebook: Rulebook, writing: Writing): Describe {
  const told = { rulebook, words: rulebookWords(rulebook, writing), writing };
  return function* (part, what, before, after) {
    const body = (after ?? before) as { name?: string };
    const faces = phrasesOf[part.kind] as Phrases<object>;
    const [was, is] = [before as object, after as object];
    const said =
      what === 'changed' ? faces.changed(was, is, part, told) : faces.whole(body, part, told, what === 'added');
    const phrases = 'next' in said ? yield* said : said;
    return {
      part: { kind: part.kind, key: part.key },
      what,
      name: body.name ?? part.key,
      ...(part.kind === 'rule' ? { ruleKind: (body as Rule).kind } : {}),
      // What its own words do not tell apart is told by its members: nothing changes in silence.
      phrases: what === 'changed' && phrases.length === 0 ? memberPhrases(part.kind, was, is, writing) : phrases,
      ...(before === undefined ? {} : { before }),
      ...(after === undefined ? {} : { after }),
    };
  };
}

/** Phrases: at once, or in short steps where there may be very many. */
type Said = readonly string[] | Generator<void, readonly string[]>;

/** How parts of a kind are told: one that is otherwise, and one that comes or goes. */
interface Phrases<Body> {
  changed(before: Body, after: Body, part: PartRef, told: Describing): Said;
  whole(body: Body, part: PartRef, told: Describing, comes: boolean): Said;
}

/** Told by their members. */
const byMembers = <Body extends object>(
  kind: PartKind,
  spoken: (body: Body, told: Describing, key: string) => object,
): Phrases<Body> => ({
  changed: (before, after, { key }, told) =>
    memberPhrases(kind, spoken(before, told, key), spoken(after, told, key), told.writing),
  whole: (body, { key }, told) => memberLines(kind, spoken(body, told, key), ['key', 'name'], told.writing),
});

const typeIn = ({ rulebook }: Describing, key: string): RecordType | undefined =>
  rulebook.recordTypes.find((t) => t.key === key);

const phrasesOf = {
  settings: byMembers<Partial<Rulebook>>('settings', (body, { rulebook }) => {
    const { userRecordType: type, accepted } = body;
    return {
      ...body,
      ...(type === undefined ? {} : { userRecordType: nameIn(rulebook.recordTypes, type) }),
      ...(accepted && {
        accepted: accepted.map((a) => ({ key: a.finding, name: partOfFinding(a.finding, rulebook), reason: a.reason })),
      }),
    };
  }),
  'record type': byMembers<RecordType>('record type', (body, told, key) => {
    const fields = typeIn(told, key)?.fields ?? [];
    const names = (keys: readonly string[]): string[] => keys.map((k) => nameIn(fields, k));
    return {
      ...body,
      title: names(body.title),
      forms: body.forms.map((f) => (f.fields ? { ...f, fields: names(f.fields) } : f)),
    };
  }),
  sample: byMembers<SampleRecord>('sample', (body, told) => {
    const fields = typeIn(told, body.recordType)?.fields ?? [];
    const data = Object.entries(body.data).map(([key, v]) => [nameIn(fields, key), v] as const);
    return { ...body, recordType: nameIn(told.rulebook.recordTypes, body.recordType), data: Object.fromEntries(data) };
  }),
  claim: byMembers<Claim>('claim', (body, told) => {
    const type = typeIn(told, body.recordType);
    return {
      ...body,
      recordType: type?.name ?? body.recordType,
      condition: type ? told.words(type).condition(body.condition) : body.condition,
    };
  }),
  field: {
    changed: (before, after, { key }, { rulebook, writing }) => fieldPhrases(before, after, key, rulebook, writing),
    whole: (field, { key }, { rulebook, writing }) => fieldLines(field, key, rulebook, writing),
  } satisfies Phrases<Field>,
  rule: {
    changed(before, after, _, told) {
      const type = typeIn(told, after.recordType);
      return [
        ...typePhrase(before, after, told.rulebook),
        ...(type ? rulePhrases(before, after, type, told.words(type), told.writing) : []),
        ...placePhrase(before, after, told.rulebook),
      ];
    },
    whole(rule, _, told) {
      const type = typeIn(told, rule.recordType);
      return type ? [ruleSentence(rule, type, told.words(type)), ...ruleLines(rule)] : ruleLines(rule);
    },
  } satisfies Phrases<Rule>,
  table: {
    changed: (before, after, _, { writing }) => tablePhrases(before, after, writing),
    whole: (table, _, { writing }, comes) => tableLines(table, comes, writing),
  } satisfies Phrases<MappingTable>,
  test: {
    changed: (before, after, _, { rulebook, writing }) => testPhrases(before, after, rulebook, writing),
    whole: (test, _, { rulebook, writing }) => testLines(test, rulebook, writing),
  } satisfies Phrases<RuleTest>,
} satisfies { readonly [Kind in PartKind]: unknown };
