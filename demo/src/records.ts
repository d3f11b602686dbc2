/** Records of the demo: deterministic, and untidy on purpose. */
import { demoUsers } from './users.ts';
import type { RecordData, Stored } from '@rigid-rule/core/document';
import { createRandom, type Random } from './random.ts';
import { customerFields, dealKinds, dealStages, kits, leadSources, optionKey } from './fields.ts';
import {
  countries,
  depots,
  firmWords,
  firstNames,
  lastNames,
  placeBeginnings,
  placeEndings,
  serviceAreaNames,
} from './words.ts';

export interface DemoRecord {
  readonly id: number;
  readonly data: RecordData;
}

export interface Population {
  readonly customer: readonly DemoRecord[];
  readonly contact: readonly DemoRecord[];
  readonly lead: readonly DemoRecord[];
  readonly deal: readonly DemoRecord[];
  readonly visit: readonly DemoRecord[];
  readonly service_area: readonly DemoRecord[];
  readonly postcode_row: readonly DemoRecord[];
}

export interface PopulationSize {
  readonly customers: number;
  readonly contacts: number;
  readonly leads: number;
  readonly deals: number;
  readonly visits: number;
}

const drop = (data: Record<string, Stored | undefined>): RecordData =>
  Object.fromEntries(Object.entries(data).filter((e): e is [string, Stored] => e[1] !== undefined && e[1] !== null));

const owners = ['mira@quillhaven.example', 'tomas@quillhaven.example', 'ines@quillhaven.example'] as const;
const hosts = ['orchardpost.example', 'growermail.example', 'vinepost.example'] as const;

export function population(seed: number, size: PopulationSize): Population {
  const random = createRandom(seed);
  const serviceAreas = serviceAreaNames.map((name, i) => ({
    id: i + 1,
    data: drop({ name, keeper: owners[i % owners.length], depot: optionKey(depots[i % depots.length]!) }),
  }));
  const names = new Set<string>();
  const customers = Array.from({ length: size.customers }, (_, i) => ({
    id: i + 1,
    data: customer(random, names, i, size.contacts),
  }));
  const contacts = Array.from({ length: size.contacts }, (_, i) => ({
    id: i + 1,
    data: { ...contact(random, i, customers), ...ownContact(i) },
  }));
  const listed = (count: number, make: (i: number) => RecordData): DemoRecord[] =>
    Array.from({ length: count }, (_, i) => ({ id: i + 1, data: make(i) }));
  const deals = listed(size.deals, () => deal(random, customers, contacts));
  return {
    customer: customers,
    contact: contacts,
    lead: listed(size.leads, (i) => lead(random, i, customers)),
    deal: deals,
    visit: listed(size.visits, () => visit(random, deals)),
    service_area: serviceAreas,
    postcode_row: postcodeRows(),
  };
}

/** Postcodes 1000 to 9899 by their first digits; one row has no area yet, and one is more exact than its neighbour. */
function postcodeRows(): DemoRecord[] {
  const prefixes = Array.from({ length: 89 }, (_, i) => String(10 + i)).filter((p) => p !== '57');
  return [...prefixes, '104'].map((prefix, i) => ({
    id: i + 1,
    data: drop({
      postcode_prefix: prefix,
      service_area: prefix === '66' ? undefined : String(((i * 5) % serviceAreaNames.length) + 1),
    }),
  }));
}

const spellings = ['Espana', 'Deutschland', 'Eire', 'Aotearoa', 'Holland', 'Great Britain', 'Cile', 'Brasil'];

function lead(random: Random, index: number, customers: readonly DemoRecord[]): RecordData {
  const first = random.pick(firstNames);
  const last = random.pick(lastNames);
  const country = random.pick(weighted);
  const stage = random.pick(['new', 'new', 'called', 'called', 'visited', 'converted', 'dropped']);
  const source = random.pick(leadSources);
  return drop({
    full_name: random.chance(0.03) ? `${first}  ${last} ` : `${first} ${last}`,
    first_name: random.chance(0.3) ? undefined : first,
    last_name: random.chance(0.3) ? undefined : last,
    email: random.chance(0.15) ? undefined : `${first}.${last}.${index + 1}@${random.pick(hosts)}`.toLowerCase(),
    phone: random.chance(0.5) ? undefined : `+${country.dial} ${random.whole(200, 999)} 0${random.whole(100, 199)}`,
    firm_as_given: random.chance(0.2) ? undefined : String(random.pick(customers).data['name']).trim(),
    country_as_given: random.chance(0.12) ? random.pick(spellings) : country.name,
    home_country: random.chance(0.4) ? undefined : country.key,
    source: random.chance(0.08) ? undefined : source.key,
    priority: random.chance(0.6) ? undefined : random.pick(['later', 'soon', 'now']),
    kit_interest: random.chance(0.25) ? undefined : random.pick(kits).key,
    stage,
    stage_before_dropped: stage === 'dropped' && random.chance(0.5) ? 'called' : undefined,
    became_customer: stage === 'converted' ? String(random.pick(customers).id) : undefined,
  });
}

const stamp = (random: Random): string =>
  `2026-0${random.whole(1, 9)}-${String(random.whole(1, 28)).padStart(2, '0')}T${String(random.whole(8, 17)).padStart(2, '0')}:15:00Z`;

function deal(random: Random, customers: readonly DemoRecord[], contacts: readonly DemoRecord[]): RecordData {
  const firm = random.pick(customers);
  const kind = random.pick(dealKinds);
  const at = random.whole(0, dealStages.length - 1);
  const stage = dealStages[at]!.key;
  const amount = random.chance(0.08) ? undefined : random.whole(4, 240) * 250;
  const cost =
    amount === undefined || random.chance(0.2) ? undefined : Math.round(amount * (0.4 + random.next() * 0.4));
  const sensors = random.chance(0.6) ? undefined : random.whole(1, 140);
  return drop({
    title: random.chance(0.15) ? undefined : `${String(firm.data['name']).trim()}, ${kind.name}`,
    owner: random.pick(owners),
    customer: String(firm.id),
    contact: random.chance(0.3) || contacts.length === 0 ? undefined : String(random.pick(contacts).id),
    deal_kind: kind.key,
    stage,
    previous_stage: at > 0 && at < 5 && random.chance(0.7) ? dealStages[at - 1]!.key : undefined,
    stage_changed_at: random.chance(0.5) ? undefined : stamp(random),
    signing_date: at >= 3 && at < 5 ? stamp(random).slice(0, 10) : undefined,
    amount,
    cost,
    margin: amount === undefined || cost === undefined || random.chance(0.3) ? undefined : amount - cost,
    discount: random.chance(0.5) ? undefined : random.pick([0.02, 0.03, 0.05, 0.08, 0.1, 0.125]),
    delivery_method: random.chance(0.2) ? undefined : random.pick(['own-van', 'carrier', 'collected-at-depot']),
    carriage_terms: random.chance(0.4) ? undefined : random.pick(['nothing-due', 'paid-by-us', 'paid-by-customer']),
    frost_sensors: sensors,
    gateways: sensors === undefined || random.chance(0.3) ? undefined : Math.ceil(sensors / 24),
    watch_flag: random.chance(0.1),
    cover: random.chance(0.5) ? undefined : random.pick(['basic', 'extended']),
  });
}

function visit(random: Random, deals: readonly DemoRecord[]): RecordData {
  const kind = random.pick(['survey', 'soil-probe', 'fitting', 'service']);
  return drop({
    deal: deals.length === 0 ? undefined : String(random.pick(deals).id),
    visit_kind: kind,
    visit_date: stamp(random).slice(0, 10),
    visit_amount: random.chance(0.4) ? undefined : random.whole(4, 40) * 10,
    visit_state: random.pick(['planned', 'done', 'done', 'missed']),
  });
}

const weighted = countries.flatMap((c) => Array.from({ length: c.weight }, () => c));

function customer(random: Random, names: Set<string>, index: number, contacts: number): RecordData {
  const kind = random.pick(Object.keys(firmWords));
  const country = random.pick(weighted);
  const heads = employeeCount(random);
  const hectares = Math.max(0.5, Math.round((heads ?? 12) * (0.4 + random.next() * 2.2) * 10) / 10);
  const depot = optionKey(random.pick(depots));
  return drop({
    name: untidy(random, firmName(random, kind, names)),
    owner: random.pick(owners),
    holding_kind: kind,
    employee_count: heads,
    size_class: storedClass(random, heads),
    home_country: random.chance(0.03) ? undefined : country.key,
    region: random.chance(0.35) ? undefined : country.region,
    currency: country.currency,
    postcode: random.chance(0.06) ? undefined : String(random.whole(1000, 9899)),
    service_area: random.chance(0.4) ? undefined : String(random.whole(1, serviceAreaNames.length)),
    depot: random.chance(0.2) ? undefined : depot,
    credit_terms: random.chance(0.3) ? undefined : random.pick(['prepaid', '14-days', '30-days', '30-days', '60-days']),
    credit_limit: random.chance(0.55) ? undefined : random.whole(2, 160) * 500,
    credit_stop: random.chance(0.04),
    ledger_code: `${country.key.toUpperCase()}-${String(10_000 + index * 7).slice(1)}`,
    open_deal_value: random.chance(0.5) ? undefined : random.whole(1, 180) * 500,
    planted_hectares: random.chance(0.05) ? undefined : hectares,
    crops: cropsOf(random, kind),
    frost_zone: random.chance(0.25) ? undefined : random.pick(['frost-free', 'valley-floor', 'slope', 'upland']),
    main_contact: random.chance(0.45) || contacts === 0 ? undefined : String(random.whole(1, contacts)),
    phone: random.chance(0.1)
      ? undefined
      : `+${country.dial} ${random.whole(2, 9)} ${random.whole(100, 999)} 0${random.whole(100, 199)}`,
    email: random.chance(0.2) ? undefined : `office${index + 1}@${random.pick(hosts)}`,
    reviewed_on: random.chance(0.6)
      ? undefined
      : `2026-0${random.whole(1, 9)}-${String(random.whole(1, 28)).padStart(2, '0')}`,
  });
}

/** Mostly small firms with a long tail; some blanks, and zeros entered to get past a required field. */
function employeeCount(random: Random): number | undefined {
  if (random.chance(0.015)) return undefined;
  if (random.chance(0.035)) return 0;
  const z = random.normal();
  let heads = 26;
  // e^(1.25 z) by halves and fifths of z, without Math.exp, which may differ between machines.
  const steps = Math.round(Math.abs(z) * 20);
  for (let i = 0; i < steps; i++) heads = z > 0 ? heads * 1.0645 : heads / 1.0645;
  return Math.max(1, Math.min(1900, Math.round(heads)));
}

/** What the class was set to by hand or by release 1, which took 200 for the lower limit of Large; a few are stale. */
function storedClass(random: Random, heads: number | undefined): string | undefined {
  if (heads === undefined || random.chance(0.03)) return undefined;
  if (random.chance(0.02)) return random.pick(['micro', 'small', 'medium', 'large']);
  return heads < 10 ? 'micro' : heads < 50 ? 'small' : heads < 200 ? 'medium' : 'large';
}

function firmName(random: Random, kind: string, names: Set<string>): string {
  for (;;) {
    const base = `${random.pick(placeBeginnings)}${random.pick(placeEndings)}`;
    const joined = random.chance(0.4)
      ? base.replace(
          /([a-z])(bank|down|field|fold|gate|marsh|mere|moor|ridge)$/,
          (_, a: string, b: string) => `${a} ${b[0]!.toUpperCase()}${b.slice(1)}`,
        )
      : base;
    const name = `${joined} ${random.pick(firmWords[kind]!)}`;
    if (names.has(name) && !random.chance(0.02)) continue; // a few growers share a name
    names.add(name);
    return name;
  }
}

/** Double, leading and trailing spaces, and shouting: what imports bring. */
function untidy(random: Random, text: string): string {
  if (random.chance(0.02)) return text.replace(' ', '  ');
  if (random.chance(0.01)) return `${text} `;
  return random.chance(0.01) ? text.toUpperCase() : text;
}

const allCrops = customerFields.find((f) => f.key === 'crops')!.options!.map((o) => o.key);
const usualCrops: Readonly<Record<string, readonly string[]>> = {
  orchard: ['apples', 'pears', 'cherries', 'plums'],
  vineyard: ['grapes', 'olives'],
  nursery: ['berries', 'apples', 'citrus'],
  packhouse: ['apples', 'citrus', 'avocados', 'peaches'],
};

function cropsOf(random: Random, kind: string): readonly string[] | undefined {
  if (random.chance(0.12)) return undefined;
  const from = random.chance(0.85) ? usualCrops[kind]! : allCrops;
  const chosen = new Set(Array.from({ length: random.whole(1, 3) }, () => random.pick(from)));
  return allCrops.filter((c) => chosen.has(c));
}

/** The first contacts are the people of the organisation themselves: what `user.contact` names. */
function ownContact(index: number): RecordData {
  const user = demoUsers[index];
  if (!user) return {};
  const [first, last] = user.name.split(' ') as [string, string];
  return { first_name: first, last_name: last, email: user.email };
}

function contact(random: Random, index: number, customers: readonly DemoRecord[]): RecordData {
  const first = random.pick(firstNames);
  const last = random.pick(lastNames);
  const firm = random.pick(customers);
  const firmGiven = String(firm.data['name']);
  const whole = random.chance(0.05); // the full name came in the last-name field
  return drop({
    first_name: whole ? undefined : first,
    last_name: whole ? `${first} ${last}` : last,
    role: random.chance(0.15) ? undefined : random.pick(['owner', 'grower', 'buyer', 'office', 'packing']),
    firm_as_given: random.chance(0.3) ? undefined : random.chance(0.2) ? firmGiven.toLowerCase() : firmGiven,
    customer: random.chance(0.25) ? undefined : String(firm.id),
    email: random.chance(0.1) ? undefined : `${first}.${last}${index + 1}@${random.pick(hosts)}`.toLowerCase(),
    phone: random.chance(0.4) ? undefined : `+49 30 555 0${random.whole(100, 199)}`,
    invitation_answer: random.chance(0.6) ? undefined : random.pick(['coming', 'not-coming', 'perhaps']),
  });
}
