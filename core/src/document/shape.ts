/**
 * Whether a value has the shape that a JSON Schema describes: the part of JSON Schema 2020-12 that the rulebook's own
 * schema is written in, read directly. Libraries for this make code at run time, which a browser without `unsafe-eval`
 * refuses; `shape.test.ts` holds the answers against one of them.
 */

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

function hasType(v: unknown, type: string): boolean {
  switch (type) {
    case 'null':
      return v === null;
    case 'array':
      return Array.isArray(v);
    case 'object':
      return typeof v === 'object' && v !== null && !Array.isArray(v);
    case 'number':
      return typeof v === 'number' && Number.isFinite(v);
    case 'integer':
      return Number.isInteger(v);
    default:
      return typeof v === type;
  }
}

/** The first place at which a value has another shape; undefined where it has the shape. */
export function shapeProblem(v: unknown, schema: ShapeSchema): ShapeProblem | undefined {
  const fault = (problem: string): ShapeProblem => ({ path: '', problem });
  const { type, enum: allowed, anyOf, minLength, pattern, minimum, maximum } = schema;
  if (type !== undefined) {
    const types = typeof type === 'string' ? [type] : type;
    if (!types.some((t) => hasType(v, t))) return fault(`must be ${types.map((t) => typeNames[t]).join(' or ')}`);
  }
  if ('const' in schema && v !== schema.const) return fault(`must be ${JSON.stringify(schema.const)}`);
  if (allowed && !allowed.includes(v)) return fault(`must be one of ${allowed.join(', ')}`);
  if (anyOf && !anyOf.some((s) => !shapeProblem(v, s))) return fault('must have one of the forms that may stand here');
  if (minLength !== undefined && typeof v === 'string' && v.length < minLength) return fault('must not be empty');
  if (pattern !== undefined && typeof v === 'string' && !patternOf(pattern).test(v)) return fault(`must not be ${v}`);
  if (minimum !== undefined && typeof v === 'number' && v < minimum) return fault(`must be at least ${minimum}`);
  if (maximum !== undefined && typeof v === 'number' && v > maximum) return fault(`must be at most ${maximum}`);
  if (Array.isArray(v)) return itemsProblem(v, schema);
  return typeof v === 'object' && v !== null ? membersProblem(v, schema) : undefined;
}

/** Patterns of the schema, which are few. */
const patterns = new Map<string, RegExp>();

function patternOf(pattern: string): RegExp {
  const known = patterns.get(pattern) ?? new RegExp(pattern, 'u');
  patterns.set(pattern, known);
  return known;
}

/** A problem of a part as one of the whole: places are put together only where there is something to tell. */
const within = (name: string | number, found: ShapeProblem): ShapeProblem => ({
  path: `/${String(name).replace(/~/g, '~0').replace(/\//g, '~1')}${found.path}`,
  problem: found.problem,
});

function itemsProblem(v: readonly unknown[], { items }: ShapeSchema): ShapeProblem | undefined {
  if (!items) return undefined;
  for (let i = 0; i < v.length; i++) {
    const found = shapeProblem(v[i], items);
    if (found) return within(i, found);
  }
  return undefined;
}

function membersProblem(v: object, schema: ShapeSchema): ShapeProblem | undefined {
  const { required = [], properties = {}, additionalProperties } = schema;
  // A member that is undefined is none: JSON has no such value.
  const missing = required.find(
    (name) => !Object.hasOwn(v, name) || (v as Record<string, unknown>)[name] === undefined,
  );
  if (missing !== undefined) return { path: '', problem: absent(titleOf(properties, missing)) };
  for (const [name, member] of Object.entries(v)) {
    if (member === undefined) continue;
    const own = Object.hasOwn(properties, name) ? properties[name] : additionalProperties;
    if (own === false) return within(name, { path: '', problem: 'must not stand here' });
    const found = own && shapeProblem(member, own);
    if (found) return within(name, found);
  }
  return undefined;
}

/** A title is a noun, or what a part says: `how often it acts`. */
const absent = (title: string): string =>
  /^(who|what|how|whether) /.test(title) ? `must say ${title}` : `must have its ${title}`;

const titleOf = (properties: Readonly<Record<string, ShapeSchema>>, name: string): string =>
  (Object.hasOwn(properties, name) ? properties[name]!.title : undefined) ?? name;

/** A place as people call it, what is within before what it is in: `name of number 3 of options`. Empty: the value itself. */
export function placeInWords(schema: ShapeSchema, path: string): string {
  let at: ShapeSchema | undefined = schema;
  const words = path
    .split('/')
    .slice(1)
    .map((step) => {
      const name = step.replace(/~1/g, '/').replace(/~0/g, '~');
      const { items, properties = {}, additionalProperties }: ShapeSchema = at ?? {};
      const own = Object.hasOwn(properties, name) ? properties[name] : undefined;
      at = items ?? own ?? (additionalProperties || undefined);
      return items ? `number ${Number(name) + 1}` : (own?.title ?? name);
    });
  return words.reverse().join(' of ');
}
