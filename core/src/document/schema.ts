/**
 * The published JSON Schema (2020-12) of a rulebook document. `schema.test.ts` proves that the types of `document.ts`
 * are the ones that it describes.
 */
const text = { type: 'string' } as const;
/** Keys name members of records and rows: what every object has already cannot be one. */
const key = {
  type: 'string',
  minLength: 1,
  pattern:
    '^(?!(?:constructor|hasOwnProperty|isPrototypeOf|propertyIsEnumerable|toLocaleString|toString|valueOf|__.*__)$)',
} as const;
const name = { type: 'string', minLength: 1 } as const;
const texts = { type: 'array', items: text } as const;
const value = { type: ['string', 'number', 'boolean'] } as const;
const stored = {
  anyOf: [
    { type: 'null' },
    { type: 'boolean' },
    { type: 'number' },
    { type: 'string' },
    { type: 'array', items: { type: 'string' } },
  ],
} as const;
const data = { type: 'object', additionalProperties: stored } as const;
const moment = { enum: ['opening', 'editing', 'creating', 'updating', 'on request'] } as const;

const field = {
  type: 'object',
  required: ['key', 'name', 'type'],
  additionalProperties: false,
  properties: {
    key,
    name,
    type: text,
    label: text,
    help: text,
    group: text,
    scale: { type: 'integer', minimum: -1, maximum: 10 },
    rounding: { enum: ['half-even', 'half-up'] },
    min: { type: 'number' },
    max: { type: 'number' },
    length: { type: 'integer', minimum: 1 },
    options: {
      type: 'array',
      items: {
        type: 'object',
        required: ['key', 'name'],
        additionalProperties: false,
        properties: {
          key,
          name,
          outside: { type: 'boolean' },
          meaning: text,
          mark: { enum: ['●', '○', '▲', '▼', '◆', '■', '✚', '▬'] },
        },
      },
    },
    optionsOf: text,
    ordered: { type: 'boolean' },
    recordType: text,
    children: text,
    unique: { type: 'boolean' },
    required: { type: 'boolean' },
  },
} as const;

const recordType = {
  type: 'object',
  required: ['key', 'name', 'plural', 'title', 'fields', 'forms'],
  additionalProperties: false,
  properties: {
    key,
    name,
    plural: name,
    title: texts,
    fields: { type: 'array', items: field },
    forms: {
      type: 'array',
      items: {
        type: 'object',
        required: ['key', 'name'],
        additionalProperties: false,
        properties: { key, name, fields: texts },
      },
    },
  },
} as const;

const notice = {
  type: 'object',
  required: ['channel', 'to', 'subject', 'body'],
  additionalProperties: false,
  properties: {
    channel: { enum: ['email', 'task', 'webhook'] },
    to: text,
    subject: text,
    body: text,
    dueInDays: { type: 'integer' },
  },
} as const;

const rule = {
  type: 'object',
  required: [
    'key',
    'recordType',
    'name',
    'purpose',
    'kind',
    'on',
    'position',
    'moments',
    'entryPoints',
    'repeat',
    'winner',
    'outcome',
  ],
  additionalProperties: false,
  properties: {
    key,
    recordType: key,
    name: text,
    purpose: text,
    kind: key,
    on: { type: 'boolean' },
    position: { type: 'number' },
    wakesOn: texts,
    moments: { type: 'array', items: moment },
    entryPoints: texts,
    condition: text,
    repeat: { enum: ['wakes', 'starts', 'every'] },
    winner: { enum: ['rule', 'person', 'later', 'locked'] },
    outcome: {},
    notify: { type: 'array', items: notice },
  },
} as const;

const column = {
  type: 'object',
  required: ['key', 'name'],
  additionalProperties: false,
  properties: {
    key,
    name,
    field: text,
    type: { enum: ['text', 'number', 'date', 'yes/no'] },
    match: { enum: ['exact', 'folded', 'prefix'] },
    order: { type: 'array', items: value },
  },
} as const;

/** One cell of a mapping table. */
export const cellSchema = {
  anyOf: [
    { type: 'null' },
    value,
    { type: 'array', items: value },
    {
      type: 'object',
      additionalProperties: false,
      properties: { from: value, fromOpen: { type: 'boolean' }, to: value, toClosed: { type: 'boolean' } },
    },
    { type: 'object', required: ['blank'], additionalProperties: false, properties: { blank: { const: true } } },
    { type: 'object', required: ['tests'], additionalProperties: false, properties: { tests: text } },
  ],
} as const;

const table = {
  type: 'object',
  required: ['key', 'name', 'purpose', 'hitPolicy', 'keys', 'outputs', 'rows'],
  additionalProperties: false,
  properties: {
    key,
    name,
    purpose: text,
    keepers: { type: 'array', items: text },
    hitPolicy: { enum: ['unique', 'any', 'first', 'priority', 'rule order', 'output order', 'collect'] },
    aggregation: { enum: ['sum', 'min', 'max', 'count'] },
    keys: { type: 'array', items: column },
    outputs: { type: 'array', items: column },
    rows: { type: 'array', items: { type: 'object', additionalProperties: cellSchema } },
  },
} as const;

const sample = {
  type: 'object',
  required: ['key', 'recordType', 'data'],
  additionalProperties: false,
  properties: { key, recordType: key, data, held: texts },
} as const;

const ruleTest = {
  type: 'object',
  required: ['key', 'name', 'recordType', 'before', 'sent', 'moment', 'entryPoint', 'now', 'expect'],
  additionalProperties: false,
  properties: {
    key,
    name: text,
    recordType: key,
    before: {
      anyOf: [
        { type: 'null' },
        { type: 'object', required: ['data'], additionalProperties: false, properties: { data, held: texts } },
      ],
    },
    related: { type: 'array', items: sample },
    origin: {
      type: 'object',
      required: ['recordType', 'data'],
      additionalProperties: false,
      properties: { recordType: key, data },
    },
    sent: { type: 'object', additionalProperties: {} },
    typed: texts,
    moment,
    entryPoint: key,
    now: text,
    user: {
      type: 'object',
      required: ['name', 'email', 'role'],
      additionalProperties: false,
      properties: { name: text, email: text, role: text, contact: text },
    },
    woken: texts,
    expect: {
      type: 'object',
      additionalProperties: false,
      properties: {
        fields: data,
        states: { type: 'object', additionalProperties: { type: 'object', additionalProperties: {} } },
        messages: texts,
        notified: texts,
        related: {
          type: 'array',
          items: {
            type: 'object',
            required: ['recordType', 'key', 'field', 'value'],
            additionalProperties: false,
            properties: { recordType: key, key, field: key, value: stored },
          },
        },
        ran: texts,
        didNotRun: texts,
        verdict: text,
      },
    },
    family: {
      type: 'object',
      additionalProperties: false,
      properties: {
        entryPoints: { type: 'array', items: key },
        cases: {
          type: 'object',
          required: ['sent', 'expected', 'rows'],
          additionalProperties: false,
          properties: {
            sent: { type: 'array', items: key },
            expected: { type: 'array', items: key },
            rows: { type: 'array', items: { type: 'array', items: stored } },
          },
        },
      },
    },
    accepted: {
      type: 'array',
      items: {
        type: 'object',
        required: ['rule', 'verdict'],
        additionalProperties: false,
        properties: { rule: key, verdict: text, text },
      },
    },
  },
} as const;

const claim = {
  type: 'object',
  required: ['key', 'name', 'recordType', 'condition'],
  additionalProperties: false,
  properties: { key, name: text, recordType: key, condition: text },
} as const;

export const rulebookSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Rulebook, rigid-rule/1',
  type: 'object',
  required: ['format', 'name', 'zone', 'currency', 'recordTypes', 'rules'],
  additionalProperties: false,
  properties: {
    format: { const: 'rigid-rule/1' },
    name: text,
    zone: text,
    currency: text,
    locale: text,
    userRecordType: text,
    recordTypes: { type: 'array', items: recordType },
    rules: { type: 'array', items: rule },
    tables: { type: 'array', items: table },
    samples: { type: 'array', items: sample },
    tests: { type: 'array', items: ruleTest },
    claims: { type: 'array', items: claim },
    refused: texts,
    accepted: {
      type: 'array',
      items: {
        type: 'object',
        required: ['finding', 'reason'],
        additionalProperties: false,
        properties: { finding: text, reason: text },
      },
    },
    formerNames: { type: 'object', additionalProperties: text },
  },
} as const;
