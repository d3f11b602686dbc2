/**
 * A document of unknown origin as a rulebook: what has not the shape of the schema is left out and told, so that
 * whatever a draft, a file or a database holds, the rest still compiles. A document that is well formed comes back as it
 * is, the same object.
 */
import { type Diagnostic, diagnostic, nowhere } from '../diagnostics/catalog.ts';
import type { RecordType, Rulebook } from './document.ts';
import { type PartKind, type PartRef, settingsKey } from './parts.ts';
import { rulebookSchema } from './schema.ts';
import { withSharedOptions } from './shared-options.ts';
import { placeInWords, type ShapeProblem, type ShapeSchema, shapeProblem, wordsOfPath } from './shape.ts';

/** What is wrong with the document itself, and with which part. */
export interface DocumentProblem {
  readonly part: PartRef;
  readonly diagnostic: Diagnostic;
}

export interface WellFormed {
  readonly rulebook: Rulebook;
  readonly problems: readonly DocumentProblem[];
}

const { properties } = rulebookSchema;
const { recordTypes, rules, tables, samples, tests, claims, ...settings } = properties;
const { fields, ...typeFrame } = recordTypes.items.properties;
const { rows, ...tableFrame } = tables.items.properties;

/** Schemas of parts; a record type apart from its fields and a table apart from its rows, which are looked at one by one. */
const typeSchema: ShapeSchema = {
  ...recordTypes.items,
  required: without(recordTypes.items.required, 'fields'),
  properties: { ...typeFrame, fields: {} },
};
const tableSchema: ShapeSchema = {
  ...tables.items,
  required: without(tables.items.required, 'rows'),
  properties: { ...tableFrame, rows: {} },
};

/** A rule that does not say who wins over a person is a finding of its own, with a repair. */
const ruleSchema: ShapeSchema = { ...rules.items, required: without(rules.items.required, 'winner') };

const settingsFrame: ShapeSchema = {
  type: 'object',
  additionalProperties: false,
  required: rulebookSchema.required.filter((name) => Object.hasOwn(settings, name)),
  properties: settings,
};
/** One setting at a time. */
const someSettings: ShapeSchema = { ...settingsFrame, required: [] };
const anyList: ShapeSchema = { type: 'array' };
const ofSettings: PartRef = { kind: 'settings', key: settingsKey };

function without(names: readonly string[], name: string): readonly string[] {
  return names.filter((n) => n !== name);
}

type Loose = Readonly<Record<string, unknown>>;
const isObject = (v: unknown): v is Loose => typeof v === 'object' && v !== null && !Array.isArray(v);
/** What a document says may be of any prototype: only its own members count. */
const member = (v: Loose, name: string): unknown => (Object.hasOwn(v, name) ? v[name] : undefined);

/** Parts that were looked at and have their shape: they are immutable, so they are not looked at again. */
const known = new Map<string, WeakSet<object>>();

function knownOf(kind: string, among = known): WeakSet<object> {
  let own = among.get(kind);
  if (!own) among.set(kind, (own = new WeakSet()));
  return own;
}

/** Lists all of whose parts have their shape and a key of their own: immutable as well. */
const knownLists = new Map<string, WeakSet<object>>();

/** Record types of whose fields there is nothing to tell. */
const soundTypes = new WeakSet<object>();

/**
 * Looks at the parts of a document one by one, so that `wellFormed` has little left to do: for who has to do other things
 * in between.
 */
export function* lookThrough(document: Rulebook): Generator<void, void> {
  const look = function* (kind: string, list: unknown, schema: ShapeSchema): Generator<void, void> {
    const looked = knownOf(kind);
    for (const [i, item] of listed(list).entries()) {
      if (i % partsInStep === 0) yield;
      if (isObject(item) && !shapeProblem(item, schema)) looked.add(item);
    }
  };
  const listed = (list: unknown): readonly unknown[] => (Array.isArray(list) ? (list as unknown[]) : []);
  const of = (part: unknown, name: string): unknown => (isObject(part) ? member(part, name) : undefined);
  for (const type of listed(of(document, 'recordTypes'))) {
    yield* look('field', of(type, 'fields'), fields.items);
    yield;
    new DocumentReader().recordTypes([type]);
  }
  yield* look('rule', of(document, 'rules'), ruleSchema);
  for (const table of listed(of(document, 'tables'))) yield* look('row', of(table, 'rows'), rows.items);
}

const partsInStep = 100;

export function wellFormed(document: unknown): WellFormed {
  const reader = new DocumentReader();
  const rulebook = reader.read(document);
  return { rulebook, problems: reader.problems };
}

/** The name with the first number behind it that nobody has. */
function freeName(name: string, taken: ReadonlySet<string>): string {
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`;
}

class DocumentReader {
  readonly problems: DocumentProblem[] = [];

  read(document: unknown): Rulebook {
    const input: Loose = isObject(document) ? document : {};
    if (!isObject(document))
      this.report(ofSettings, 'The document', shapeProblem(document, settingsFrame)!, settingsFrame);
    const read = {
      recordTypes: this.recordTypes(member(input, 'recordTypes')),
      rules: this.list('rule', member(input, 'rules'), ruleSchema),
      tables: this.optional('tables', input, () => this.tables(member(input, 'tables'))),
      samples: this.optional('samples', input, () => this.list('sample', member(input, 'samples'), samples.items)),
      tests: this.optional('tests', input, () => this.list('test', member(input, 'tests'), tests.items)),
      claims: this.optional('claims', input, () => this.list('claim', member(input, 'claims'), claims.items)),
    };
    const own = this.settings(input);
    const lists = Object.entries(read).filter(([, list]) => list !== undefined);
    const same = own === undefined && lists.every(([name, list]) => list === input[name]);
    if (same) return document as Rulebook;
    return { ...(own ?? settingsOf(input)), ...Object.fromEntries(lists) } as unknown as Rulebook;
  }

  /** Tells that `what`, which is at a JSON pointer `within` the part, is left out. */
  private report(part: PartRef, what: string, { path, problem }: ShapeProblem, schema: ShapeSchema, within = ''): void {
    const told = { what, place: placeInWords(schema, path) || 'it', problem };
    this.problems.push({ part, diagnostic: diagnostic('document.shape', nowhere, told, within + path) });
  }

  private optional<T>(name: string, input: Loose, read: () => T): T | undefined {
    return member(input, name) === undefined ? undefined : read();
  }

  /** Undefined where they are all as they should be. */
  private settings(input: Loose): Loose | undefined {
    const usual: Readonly<Record<string, string>> = { format: 'rigid-rule/1', name: '', zone: 'UTC', currency: 'EUR' };
    const found: Record<string, unknown> = {};
    let wrong = false;
    for (const [name, v] of Object.entries(input)) {
      if (v === undefined || (Object.hasOwn(properties, name) && !Object.hasOwn(settings, name))) continue;
      const problem = shapeProblem({ [name]: v }, someSettings);
      if (problem) {
        this.report(ofSettings, 'A setting of the rulebook', problem, settingsFrame);
        wrong = true;
      } else found[name] = v;
    }
    for (const name of Object.keys(usual)) {
      if (Object.hasOwn(found, name)) continue;
      if (input[name] === undefined)
        this.problems.push({
          part: ofSettings,
          diagnostic: diagnostic(
            'document.setting-missing',
            nowhere,
            { name: placeInWords(settingsFrame, `/${name}`), usual: usual[name]! },
            `/${name}`,
          ),
        });
      found[name] = usual[name];
      wrong = true;
    }
    return wrong ? found : undefined;
  }

  /** The items that have the shape and a key of their own; the list itself where all have. */
  private list(
    kind: PartKind,
    input: unknown,
    schema: ShapeSchema,
    refine: (item: Loose) => Loose = (item) => item,
    prefix = '',
  ): readonly Loose[] {
    if (!Array.isArray(input)) {
      this.report(ofSettings, `What stands as ${kind}s`, shapeProblem(input, anyList)!, anyList, `/${kind}`);
      return [];
    }
    const whole = knownOf(kind, knownLists);
    if (whole.has(input)) return input as readonly Loose[];
    const told = this.problems.length;
    const [seen, looked] = [new Set<string>(), knownOf(kind)];
    const kept: Loose[] = [];
    for (const [i, item] of (input as unknown[]).entries()) {
      const own = isObject(item) ? member(item, 'key') : undefined;
      const key = typeof own === 'string' && own !== '' ? own : `(number ${i + 1})`;
      const ref = { kind, key: prefix + key };
      const problem = isObject(item) && looked.has(item) ? undefined : shapeProblem(item, schema);
      if (problem) this.report(ref, `The ${kind} ${nameOf(item, key)}`, problem, schema);
      else if (seen.has(key)) this.twice(ref, nameOf(item, key));
      else {
        seen.add(key);
        looked.add(item as object);
        kept.push(refine(item as Loose));
      }
    }
    const same = kept.length === input.length && kept.every((item, i) => item === input[i]);
    if (!same) return kept;
    if (this.problems.length === told) whole.add(input);
    return input as readonly Loose[];
  }

  private twice(part: PartRef, name: string): void {
    this.problems.push({
      part,
      diagnostic: diagnostic('document.key-twice', nowhere, { kind: part.kind, name, key: part.key }, '/key'),
    });
  }

  recordTypes(input: unknown): readonly Loose[] {
    return this.list('record type', input, typeSchema, (type) => {
      if (soundTypes.has(type)) return type;
      const told = this.problems.length;
      const key = String(type['key']);
      const read = this.list('field', member(type, 'fields'), fields.items, (f) => f, `${key}.`);
      this.names('fields', read, () => [{ kind: 'record type', key }, '/fields']);
      for (const field of read) {
        const part: PartRef = { kind: 'field', key: `${key}.${String(field['key'])}` };
        this.options(part, field);
        this.bounds(part, field);
      }
      const shared = this.sharedOptions(key, read as unknown as RecordType['fields']);
      if ((shared as unknown) !== type['fields']) return { ...type, fields: shared };
      if (this.problems.length === told) soundTypes.add(type);
      return type;
    });
  }

  /** Lists that are shared, where they are; one that is not there is told. */
  private sharedOptions(type: string, read: RecordType['fields']): RecordType['fields'] {
    const shared = withSharedOptions(read);
    for (const field of shared)
      if (field.optionsOf !== undefined && !field.options)
        this.problems.push({
          part: { kind: 'field', key: `${type}.${field.key}` },
          diagnostic: diagnostic(
            'document.options-of',
            nowhere,
            { name: field.name, key: field.optionsOf },
            '/optionsOf',
          ),
        });
    return shared;
  }

  /** Two of one name cannot be told apart in a formula. `partOf`: what is told of the second, and where. */
  private names(what: string, list: readonly Loose[], partOf: (item: Loose) => readonly [PartRef, string]): void {
    const seen = new Set<unknown>();
    for (const item of list) {
      const { name } = item;
      if (seen.has(name)) {
        const [part, path] = partOf(item);
        const free =
          path === '/name' ? { nearest: freeName(String(name), new Set(list.map((i) => String(i['name'])))) } : {};
        const told = { what, name: String(name), ...free };
        this.problems.push({ part, diagnostic: diagnostic('document.name-twice', nowhere, told, path) });
      }
      seen.add(name);
    }
  }

  /** Each column of a table has a name, and cells, of its own. */
  private columns(part: PartRef, table: Loose): void {
    const columns = [...(table['keys'] as readonly Loose[]), ...(table['outputs'] as readonly Loose[])];
    const name = nameOf(table, part.key);
    this.names(`columns of ${name}`, columns, () => [part, '/outputs']);
    const seen = new Set<unknown>();
    for (const { key } of columns) {
      const told = { name, key: String(key) };
      if (seen.has(key))
        this.problems.push({ part, diagnostic: diagnostic('document.column-twice', nowhere, told, '/outputs') });
      seen.add(key);
    }
  }

  /** Options are given by their names and stored by their keys: each says one option, whichever of the two it is taken for. */
  private options(part: PartRef, field: Loose): void {
    const list = (field['options'] ?? []) as readonly { readonly key: string; readonly name: string }[];
    const [keys, names] = [new Map<string, number>(), new Map<string, number>()];
    const own = nameOf(field, part.key);
    const tell = (code: Parameters<typeof diagnostic>[0], data: Readonly<Record<string, string>>, path: string): void =>
      void this.problems.push({ part, diagnostic: diagnostic(code, nowhere, data, path) });
    const told = ({ name }: { readonly name: string }) => {
      const taken = new Set(list.flatMap((o) => [o.key, o.name]));
      return { name: own, option: name, nearest: freeName(name, taken) };
    };
    for (const [i, option] of list.entries()) {
      const { key, name } = option;
      if (keys.has(key)) tell('document.option-twice', { name: `${own}, option ${key}` }, '/options');
      if (names.has(name)) tell('document.option-name-twice', told(option), `/options/${i}/name`);
      keys.set(key, i);
      names.set(name, i);
    }
    for (const [i, option] of list.entries()) {
      const other = list[keys.get(option.name) ?? i]!;
      if (other.name !== option.name)
        tell('document.option-names-another', { ...told(option), other: other.name }, `/options/${i}/name`);
    }
  }

  private bounds(part: PartRef, { name, min, max }: Loose): void {
    if (typeof min === 'number' && typeof max === 'number' && min > max)
      this.problems.push({
        part,
        diagnostic: diagnostic('document.bounds-crossed', nowhere, { name: String(name) }, '/min'),
      });
  }

  private tables(input: unknown): readonly Loose[] {
    const read = this.list('table', input, tableSchema, (table) => {
      const list = member(table, 'rows');
      const key = String(table['key']);
      this.columns({ kind: 'table', key }, table);
      if (!Array.isArray(list)) {
        const what = `What stands as rows of the table ${nameOf(table, key)}`;
        this.report({ kind: 'table', key }, what, shapeProblem(list, anyList)!, anyList, '/rows');
        return { ...table, rows: [] };
      }
      const looked = knownOf('row');
      const kept = (list as unknown[]).filter((row, i) => {
        if (isObject(row) && looked.has(row)) return true;
        const problem = shapeProblem(row, rows.items);
        if (problem)
          this.report(
            { kind: 'table', key },
            `Row ${i + 1} of the table ${nameOf(table, key)}`,
            problem,
            rows.items,
            `/rows/${i}`,
          );
        else looked.add(row as object);
        return !problem;
      });
      return kept.length === list.length ? table : { ...table, rows: kept };
    });
    this.names('tables', read, ({ key }) => [{ kind: 'table', key: String(key) }, '/name']);
    return read;
  }
}

const nameOf = (item: unknown, key: string): string => {
  const name = isObject(item) ? member(item, 'name') : undefined;
  return typeof name === 'string' && name.trim() !== '' ? name : key;
};

const settingsOf = (input: Loose): Loose =>
  Object.fromEntries(Object.entries(input).filter(([name]) => Object.hasOwn(settings, name)));

const partSchemas: Readonly<Record<PartKind, ShapeSchema>> = {
  settings: settingsFrame,
  'record type': { ...typeSchema, properties: typeFrame },
  field: fields.items,
  rule: rules.items,
  table: tables.items,
  test: tests.items,
  sample: samples.items,
  claim: claims.items,
};

/** What keeps a body from being a part of its kind, in words; undefined where nothing does. The published schema decides. */
export function partProblem(kind: PartKind, body: unknown): string | undefined {
  const found = shapeProblem(body, partSchemas[kind]);
  // A part is immutable: the rulebook that it becomes part of need not look at it again.
  if (!found) knownOf(kind).add(body as object);
  return found && `${startingLarge(placeInWords(partSchemas[kind], found.path) || `the ${kind}`)} ${found.problem}.`;
}

/** What people call a member of a part, as it stands within a sentence. */
export const memberTitle = (kind: PartKind, name: string): string => placeInWords(partSchemas[kind], `/${name}`);

/** What people call each step of a path into a part, from the outermost. */
export const memberWords = (kind: PartKind, path: string): readonly string[] => wordsOfPath(partSchemas[kind], path);

const startingLarge = (text: string): string => text[0]!.toUpperCase() + text.slice(1);
