/** Mapping tables of the demo. */
import type { MappingTable } from '@rigid-rule/core/document';
import { countries } from './words.ts';

const regionNames: Readonly<Record<string, string>> = {
  africa: 'Africa',
  'east-asia': 'East Asia',
  'north-america': 'North America',
  'north-europe': 'North Europe',
  oceania: 'Oceania',
  'south-america': 'South America',
  'south-europe': 'South Europe',
  'west-asia': 'West Asia',
};
const usual: Readonly<Record<string, readonly [crops: readonly string[], terms: string]>> = {
  es: [['Olives', 'Citrus', 'Grapes'], '30 days'],
  it: [['Grapes', 'Olives'], '30 days'],
  fr: [['Grapes', 'Apples'], '30 days'],
  nz: [['Grapes', 'Apples'], '30 days'],
  de: [['Apples', 'Hops'], '30 days'],
  pt: [['Olives', 'Grapes'], '30 days'],
  gb: [['Apples', 'Berries'], '30 days'],
  ie: [['Apples'], '14 days'],
  za: [['Citrus', 'Grapes'], '14 days'],
  cl: [['Grapes', 'Cherries'], '30 days'],
  us: [['Almonds', 'Apples', 'Berries'], '30 days'],
  nl: [['Apples', 'Pears'], '30 days'],
  at: [['Apples', 'Grapes'], '30 days'],
  gr: [['Olives'], '14 days'],
  jp: [['Apples', 'Pears'], '14 days'],
  mx: [['Citrus', 'Avocados'], '30 days'],
  ge: [['Grapes'], '14 days'],
};

/** Not all countries of the field have a row: the coverage picture shows which ones are seen and lacking. */
const countryTable: MappingTable = {
  key: 'country-table',
  name: 'Country table',
  purpose: 'What follows from the country of a holding; sales keeps it.',
  keepers: ['sunniva@quillhaven.example'],
  hitPolicy: 'unique',
  keys: [{ key: 'country', name: 'Country', field: 'customer.home_country' }],
  outputs: [
    { key: 'region', name: 'Its region', field: 'customer.region' },
    { key: 'currency', name: 'Its currency', type: 'text' },
    { key: 'crops', name: 'Usual crops', field: 'customer.crops' },
    { key: 'terms', name: 'Usual terms', field: 'customer.credit_terms' },
  ],
  rows: countries.flatMap((c) => {
    const known = usual[c.key];
    return known
      ? [{ country: c.name, region: regionNames[c.region]!, currency: c.currency, crops: known[0], terms: known[1] }]
      : [];
  }),
};

/** A fault on purpose: Georgia stands in it twice, and the rows differ. */
const countryTableWithFault: MappingTable = {
  ...countryTable,
  rows: [
    ...countryTable.rows,
    { country: 'Georgia', region: 'West Asia', currency: 'GEL', crops: ['Grapes', 'Peaches'], terms: '30 days' },
  ],
};

const sourceTable: MappingTable = {
  key: 'source-table',
  name: 'Source table',
  purpose: 'How soon a lead is called, by where it came from.',
  hitPolicy: 'unique',
  keys: [{ key: 'source', name: 'Lead source', field: 'lead.source' }],
  outputs: [{ key: 'priority', name: 'Its priority', field: 'lead.priority' }],
  rows: (
    [
      ['Web form', 'Soon'],
      ['Phone call', 'Now'],
      ['Trade fair', 'Soon'],
      ['Referral', 'Now'],
      ['Installer', 'Now'],
      ['Newsletter', 'Later'],
      ['Growers circle', 'Soon'],
      ['Open day', 'Soon'],
      ['Magazine', 'Later'],
      ['Search', 'Soon'],
      ['Old list', 'Later'],
      ['Walk in', 'Now'],
    ] as const
  ).map(([source, priority]) => ({ source, priority })),
};

const stageOdds: MappingTable = {
  key: 'stage-odds',
  name: 'Stage odds',
  purpose: 'The share of deals at a stage that are won in the end.',
  hitPolicy: 'unique',
  keys: [{ key: 'stage', name: 'Deal stage', field: 'deal.stage' }],
  outputs: [{ key: 'odds', name: 'Odds', type: 'number' }],
  rows: (
    [
      ['Enquiry', 0.1],
      ['Surveyed', 0.3],
      ['Proposal', 0.55],
      ['Won', 0.95],
      ['Commissioned', 1],
      ['Withdrawn', 0],
    ] as const
  ).map(([stage, odds]) => ({ stage, odds })),
};

/** 15 % is 0.15. */
const discountLimits: MappingTable = {
  key: 'discount-limits',
  name: 'Discount limits',
  purpose: 'How much may be taken off without the releaser of prices.',
  hitPolicy: 'unique',
  keys: [{ key: 'size', name: 'Size', field: 'customer.size_class' }],
  outputs: [{ key: 'most', name: 'Most', type: 'number' }],
  rows: (
    [
      ['Micro', 0.05],
      ['Small', 0.08],
      ['Medium', 0.12],
      ['Large', 0.15],
    ] as const
  ).map(([size, most]) => ({ size, most })),
};

const countrySpellings: MappingTable = {
  key: 'country-spellings',
  name: 'Country spellings',
  purpose: 'Other ways in which people write a country.',
  hitPolicy: 'first',
  keys: [{ key: 'written', name: 'Written as', type: 'text', match: 'folded' }],
  outputs: [{ key: 'country', name: 'Meant country', field: 'lead.home_country' }],
  rows: [
    { written: ['Espana', 'España', 'Reino de España'], country: 'Spain' },
    { written: ['Deutschland', 'BRD'], country: 'Germany' },
    { written: ['Eire', 'Éire'], country: 'Ireland' },
    { written: ['Aotearoa', 'NZ'], country: 'New Zealand' },
    { written: ['Holland', 'The Netherlands'], country: 'Netherlands' },
    { written: ['Great Britain', 'Britain', 'UK'], country: 'United Kingdom' },
    { written: ['Cile'], country: 'Chile' },
    ...countries.map((c) => ({ written: c.name, country: c.name })),
  ],
};

const common = [sourceTable, stageOdds, discountLimits, countrySpellings];
export const releasedTables: readonly MappingTable[] = [countryTable, ...common];
export const draftTables: readonly MappingTable[] = [countryTableWithFault, ...common];
