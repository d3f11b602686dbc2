/**
 * Whether a value has the shape that a JSON Schema describes: the part of JSON Schema 2020-12 that the rulebook's own
 * schema is written in, read directly. Libraries for this make code at run time, which a browser without `unsafe-eval`
 * refuses; `shape.test.ts` holds the answers against one of them.
 */

import { onceEach } from '../values/once-each.ts';

export interface ShapeSchema {
  readonly $schema?: string;
  /** What people call it, as it stands within a sentence; absent: its name in the document is the word for it. */
  readonly title?: string;
  readonly type?: string | readonly string[];
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly anyOf?: readonly ShapeSchema[];
  readonly minLength?: number;
  readonly pattern?: string;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly items?: ShapeSchema;
  readonly required?: readonly string[];
  readonly properties?: Readonly<Record<string, ShapeSchema>>;
  readonly additionalProperties?: false | ShapeSchema;
}

export interface ShapeProblem {
  /** JSON pointer within the value. */
  readonly path: string;
  /** The end of a sentence that begins with the place, be it one or several: `must be a text`. */
  readonly problem: string;
}

const typeNames: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  integer: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object',
  null: 'null',
};

const typeTests: Readonly<Record<string, (v: unknown) => boolean>> = {
  string: (v) => typeof v === 'string',
  number: (v) => typeof v === 'number' && Number.isFinite(v),
  integer: Number.isInteger,
  boolean: (v) => typeof v === 'boolean',
  array: Array.isArray,
  object: (v) => typeof v === 'object' && v !== null && !Array.isArray(v),
  null: (v) => v === null,
};

/** The first place at which a value has another shape; undefined where it has the shape. */
export function shapeProblem(v: unknown, schema: ShapeSchema): ShapeProblem | undefined {
  const found = checkOf(schema)(v);
  return found && { path: found.steps.map(pointerStep).reverse().join(''), problem: found.problem };
}

/** A step of a JSON pointer (RFC 6901). */
const pointerStep = (step: string | number): string => `/${String(step).replace(/~/g, '~0').replace(/\//g, '~1')}`;

/** What a check found: a pointer is put together only of what is told, since of alternatives all but one fail. */
interface Found {
  readonly problem: string;
  /** Where, the innermost first. */
  readonly steps: (string | number)[];
}

type Check = (v: unknown) => Found | undefined;

/** Documents have thousands of parts, and schemas are few. */
const checkOf: (schema: ShapeSchema) => Check = onceEach(readSchema);

function readSchema(schema: ShapeSchema): Check {
  const own = [...ownChecks(schema)];
  const { items, required, properties, additionalProperties } = schema;
  const ofItems = items && itemsCheck(items);
  const ofMembers = (required ?? properties ?? additionalProperties) === undefined ? undefined : membersCheck(schema);
  return (v) => {
    for (const check of own) {
      const found = check(v);
      if (found) return found;
    }
    if (typeof v !== 'object' || v === null) return undefined;
    return Array.isArray(v) ? ofItems?.(v) : ofMembers?.(v);
  };
}

/** What a schema asks of a value itself, in the order in which it is told. */
function* ownChecks(schema: ShapeSchema): Generator<Check> {
  const { type, enum: allowed, anyOf, minLength, pattern, minimum, maximum } = schema;
  const unless = (holds: (v: unknown) => boolean, problem: string | ((v: unknown) => string)): Check => {
    return (v) => (holds(v) ? undefined : { steps: [], problem: typeof problem === 'string' ? problem : problem(v) });
  };
  if (type !== undefined) {
    const types = typeof type === 'string' ? [type] : type;
    const tests = types.map((t) => typeTests[t]!);
    const holds = tests.length === 1 ? tests[0]! : (v: unknown) => tests.some((test) => test(v));
    yield unless(holds, `must be ${types.map((t) => typeNames[t]).join(' or ')}`);
  }
  if ('const' in schema) yield unless((v) => v === schema.const, `must be ${JSON.stringify(schema.const)}`);
  if (allowed) yield unless((v) => allowed.includes(v), `must be one of ${allowed.join(', ')}`);
  if (anyOf) yield unless((v) => anyOf.some((s) => !checkOf(s)(v)), 'must have one of the forms that may stand here');
  if (minLength !== undefined) yield unless((v) => typeof v !== 'string' || v.length >= minLength, 'must not be empty');
  if (pattern !== undefined) {
    const form = new RegExp(pattern, 'u');
    yield unless(
      (v) => typeof v !== 'string' || form.test(v),
      (v) => `must not be ${String(v)}`,
    );
  }
  if (minimum !== undefined) yield unless((v) => typeof v !== 'number' || v >= minimum, `must be at least ${minimum}`);
  if (maximum !== undefined) yield unless((v) => typeof v !== 'number' || v <= maximum, `must be at most ${maximum}`);
}

/** A problem of a part as one of the whole. */
function within(step: string | number, found: Found): Found {
  found.steps.push(step);
  return found;
}

const itemsCheck = (items: ShapeSchema) => {
  const check = checkOf(items);
  return (v: readonly unknown[]): Found | undefined => {
    for (let i = 0; i < v.length; i++) {
      const found = check(v[i]);
      if (found) return within(i, found);
    }
    return undefined;
  };
};

function membersCheck({ required = [], properties = {}, additionalProperties }: ShapeSchema) {
  const known = new Map(Object.entries(properties).map(([name, schema]) => [name, checkOf(schema)]));
  const others = additionalProperties && checkOf(additionalProperties);
  return (v: object): Found | undefined => {
    // A member that is undefined is none: JSON has no such value.
    for (const name of required)
      if (!Object.hasOwn(v, name) || (v as Record<string, unknown>)[name] === undefined)
        return { steps: [], problem: absent(titleOf(properties, name)) };
    for (const name of Object.keys(v)) {
      const member = (v as Record<string, unknown>)[name];
      if (member === undefined) continue;
      const check = known.get(name) ?? others;
      if (check === false) return within(name, { steps: [], problem: 'must not stand here' });
      const found = check?.(member);
      if (found) return within(name, found);
    }
    return undefined;
  };
}

/** A title is a noun, or what a part says: `how often it acts`. */
const absent = (title: string): string =>
  /^(who|what|how|whether) /.test(title) ? `must say ${title}` : `must have its ${title}`;

const titleOf = (properties: Readonly<Record<string, ShapeSchema>>, name: string): string =>
  (Object.hasOwn(properties, name) ? properties[name]!.title : undefined) ?? name;

/** What people call each step of a path, from the outermost: `options`, `number 3`, `name`. */
export function wordsOfPath(schema: ShapeSchema, path: string): readonly string[] {
  let at: ShapeSchema | undefined = schema;
  return path
    .split('/')
    .slice(1)
    .map((step) => {
      const name = step.replace(/~1/g, '/').replace(/~0/g, '~');
      const { items, properties = {}, additionalProperties }: ShapeSchema = at ?? {};
      const own = Object.hasOwn(properties, name) ? properties[name] : undefined;
      at = items ?? own ?? (additionalProperties || undefined);
      return items ? `number ${Number(name) + 1}` : (own?.title ?? name);
    });
}

/** A place as people call it, what is within before what it is in: `name of number 3 of options`. Empty: the value itself. */
export const placeInWords = (schema: ShapeSchema, path: string): string =>
  wordsOfPath(schema, path).toReversed().join(' of ');
