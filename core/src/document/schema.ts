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
    scale: { type: 'integer', minimum: -1, maximum: 10, title: 'decimals' },
    rounding: { enum: ['half-even', 'half-up'] },
    min: { type: 'number', title: 'at least' },
    max: { type: 'number', title: 'at most' },
    length: { type: 'integer', minimum: 1, title: 'most characters' },
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
    optionsOf: { ...text, title: 'options shared with' },
    ordered: { type: 'boolean', title: 'ordered by its options' },
    recordType: { ...text, title: 'links to' },
    children: { ...text, title: 'other end' },
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
    plural: { ...name, title: 'name of several' },
    title: { ...texts, title: 'title of a record' },
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
    dueInDays: { type: 'integer', title: 'days until it is due' },
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
    recordType: { ...key, title: 'record type' },
    name: text,
    purpose: text,
    kind: key,
    on: { type: 'boolean', title: 'whether it is switched on' },
    position: { type: 'number' },
    wakesOn: { ...texts, title: 'fields that wake it' },
    moments: { type: 'array', items: moment },
    entryPoints: { ...texts, title: 'entry points' },
    condition: text,
    repeat: { enum: ['wakes', 'starts', 'every'], title: 'how often it acts' },
    winner: { enum: ['rule', 'person', 'later', 'locked'], title: 'who wins over a person' },
    outcome: {},
    notify: { type: 'array', items: notice, title: 'notices' },
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
    hitPolicy: {
      enum: ['unique', 'any', 'first', 'priority', 'rule order', 'output order', 'collect'],
      title: 'hit policy',
    },
    aggregation: { enum: ['sum', 'min', 'max', 'count'] },
    keys: { type: 'array', items: column, title: 'columns to look up by' },
    outputs: { type: 'array', items: column, title: 'columns to give' },
    rows: { type: 'array', items: { type: 'object', additionalProperties: cellSchema } },
  },
} as const;

const sample = {
  type: 'object',
  required: ['key', 'recordType', 'data'],
  additionalProperties: false,
  properties: {
    key,
    recordType: { ...key, title: 'record type' },
    data: { ...data, title: 'values' },
    held: { ...texts, title: 'values that are held' },
  },
} as const;

const ruleTest = {
  type: 'object',
  required: ['key', 'name', 'recordType', 'before', 'sent', 'moment', 'entryPoint', 'now', 'expect'],
  additionalProperties: false,
  properties: {
    key,
    name: text,
    recordType: { ...key, title: 'record type' },
    before: {
      title: 'the record before',
      anyOf: [
        { type: 'null' },
        { type: 'object', required: ['data'], additionalProperties: false, properties: { data, held: texts } },
      ],
    },
    related: { type: 'array', items: sample, title: 'the records beside it' },
    origin: {
      title: 'the record that it is made from',
      type: 'object',
      required: ['recordType', 'data'],
      additionalProperties: false,
      properties: { recordType: key, data },
    },
    sent: { type: 'object', additionalProperties: {}, title: 'what is sent' },
    typed: { ...texts, title: 'the order of typing' },
    moment: { ...moment, title: 'the moment' },
    entryPoint: { ...key, title: 'the entry point' },
    now: { ...text, title: 'the clock' },
    user: {
      title: 'who writes',
      type: 'object',
      required: ['name', 'email', 'role'],
      additionalProperties: false,
      properties: { name: text, email: text, role: text, contact: text },
    },
    woken: { ...texts, title: 'the rules asked for' },
    expect: {
      title: 'what must come out',
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
  properties: { key, name: text, recordType: { ...key, title: 'record type' }, condition: text },
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
    zone: { ...text, title: 'time zone' },
    currency: text,
    locale: { ...text, title: 'numbers and dates as in' },
    userRecordType: { ...text, title: 'record type of the people who sign in' },
    recordTypes: { type: 'array', items: recordType, title: 'record types' },
    rules: { type: 'array', items: rule },
    tables: { type: 'array', items: table },
    samples: { type: 'array', items: sample },
    tests: { type: 'array', items: ruleTest },
    claims: { type: 'array', items: claim },
    refused: texts,
    accepted: {
      title: 'accepted findings',
      type: 'array',
      items: {
        type: 'object',
        required: ['finding', 'reason'],
        additionalProperties: false,
        properties: { finding: text, reason: text },
      },
    },
    formerNames: { type: 'object', additionalProperties: text, title: 'former names' },
  },
} as const;
