/** The rules of the demo: every kind, repeat and winner. `rule` fills in what most of them say alike. */
import { entryPointsOf } from '@rigid-rule/core/compile';
import type { Moment, Rule } from '@rigid-rule/core/document';
import { recordTypes } from './fields.ts';

type Own = Pick<Rule, 'key' | 'recordType' | 'name' | 'purpose' | 'kind' | 'outcome'> & Partial<Rule>;

let position = 0;
const rule = (own: Own): Rule => ({
  on: true,
  position: position++,
  moments: ['editing', 'creating', 'updating'],
  entryPoints: entryPointsOf(recordTypes.find((t) => t.key === own.recordType)!).map((e) => e.key),
  repeat: 'wakes',
  winner: 'rule',
  notify: [],
  ...own,
});

/** One formula for one field. */
const becomes = (target: string, formula: string, blank: 'clear' | 'leave' = 'clear'): unknown => ({
  steps: [{ target, scratch: '', formula, blank }],
});
const starting: readonly Moment[] = ['opening', 'creating'];
const checks = (more: object): unknown => ({ checks: [], required: [], hidden: [], locked: [], limits: [], ...more });
const clear = { do: 'clear' } as const;
const leave = { do: 'leave' } as const;

/** Headcount limits of Commission Recommendation 2003/361/EC, Annex, Article 2: below 10, below 50, below 250. */
export const sizeClass = (largeFrom: number): Rule => ({
  key: 'size-class-from-employee-count',
  recordType: 'customer',
  name: 'Size class, set from employee count',
  purpose: 'Sales plans visits and credit by the size of the holding, so every customer needs one, however it came in.',
  kind: 'categorize',
  on: true,
  position: 0,
  moments: ['editing', 'creating', 'updating'],
  entryPoints: ['form:full', 'form:short', 'import', 'api', 'bulk'],
  repeat: 'wakes',
  winner: 'locked',
  notify: [],
  outcome: {
    source: 'Employee count',
    target: 'size_class',
    bands: [
      { from: 0, to: 10, result: 'micro' },
      { from: 10, to: 50, result: 'small' },
      { from: 50, to: largeFrom, result: 'medium' },
      { from: largeFrom, result: 'large' },
    ],
    blank: clear,
    outside: clear,
  },
});

position = 1;
const customerRules: readonly Rule[] = [
  rule({
    key: 'main-contact-starts-as-own',
    recordType: 'customer',
    name: 'Main contact, the contact of who fills in the form',
    purpose: 'Customers are mostly entered by those who look after them.',
    kind: 'default',
    moments: ['opening'],
    entryPoints: ['form:full', 'form:short'],
    winner: 'person',
    outcome: { target: 'main_contact', value: 'user.contact' },
  }),
  rule({
    key: 'credit-terms-start',
    recordType: 'customer',
    name: 'Credit terms, start at 30 days',
    purpose: 'Accounts agree other terms one by one.',
    kind: 'default',
    moments: starting,
    winner: 'person',
    outcome: { target: 'credit_terms', value: '"30 days"' },
  }),
  rule({
    key: 'region-from-country',
    recordType: 'customer',
    name: 'Region, mapped from home country',
    purpose: 'Visits are planned by region.',
    kind: 'map',
    winner: 'locked',
    outcome: {
      source: { by: 'table', table: 'country-table', keys: { country: 'Home country' } },
      onto: '',
      outputs: [
        { value: 'region', target: 'region', way: 'replace' },
        { value: 'currency', target: 'currency', way: 'replace' },
      ],
      blank: clear,
      none: clear,
      several: clear,
    },
  }),
  rule({
    key: 'crops-of-chile',
    recordType: 'customer',
    name: 'Crops, those usual in Chile added',
    purpose: 'Growers there mostly have all four; they are a beginning for the first talk.',
    kind: 'map',
    winner: 'later',
    outcome: {
      source: {
        by: 'pairs',
        formula: 'Home country',
        pairs: [{ from: 'Chile', to: ['Grapes', 'Cherries', 'Avocados', 'Plums'] }],
      },
      onto: '',
      outputs: [{ value: '', target: 'crops', way: 'add' }],
      blank: leave,
      none: leave,
      several: leave,
    },
  }),
  rule({
    key: 'service-area-from-postcode',
    recordType: 'customer',
    name: 'Service area, from the postcode rows',
    purpose: 'Each postcode belongs to the area of its longest known beginning.',
    kind: 'map',
    outcome: {
      source: {
        by: 'match',
        recordType: 'postcode_row',
        ways: [{ field: 'postcode_prefix', formula: 'Postcode', mode: 'longest prefix' }],
      },
      onto: '',
      outputs: [{ value: 'match.Service area', target: 'service_area', way: 'replace' }],
      blank: clear,
      none: leave,
      several: leave,
    },
  }),
  rule({
    key: 'name-word-count',
    recordType: 'customer',
    name: 'Name word count, from the name',
    purpose: 'Letters to one-word names are read by hand first.',
    kind: 'derive',
    moments: ['editing', 'creating', 'updating', 'on request'],
    winner: 'locked',
    outcome: becomes('name_word_count', 'count(words(Name))'),
  }),
  rule({
    key: 'reviewed-on-phone-change',
    recordType: 'customer',
    name: 'Reviewed on, the day on which the phone changed',
    purpose: 'A new phone number means that somebody spoke with them.',
    kind: 'derive',
    condition: 'has changed(Phone)',
    winner: 'later',
    outcome: becomes('reviewed_on', 'today()'),
  }),
  rule({
    key: 'open-deal-value',
    recordType: 'customer',
    name: 'Open deal value, total of the open deals',
    purpose: 'Credit is judged by what is still open.',
    kind: 'derive',
    winner: 'locked',
    outcome: becomes('open_deal_value', 'sum(Deals[Stage in ("Enquiry", "Surveyed", "Proposal")].Amount)'),
  }),
  rule({
    key: 'credit-limit-for-large',
    recordType: 'customer',
    name: 'Credit limit, required for large holdings',
    purpose: 'Accounts must have agreed a limit before anything is delivered.',
    kind: 'validate',
    condition: 'Size class = "Large"',
    outcome: checks({ required: ['credit_limit'] }),
  }),
  rule({
    key: 'credit-stop-notice',
    recordType: 'customer',
    name: 'Credit stop, told to the contacts',
    purpose: 'Nobody should stand at the depot in vain.',
    kind: 'validate',
    condition: 'Credit stop = true',
    repeat: 'starts',
    moments: ['creating', 'updating'],
    outcome: checks({}),
    notify: [
      {
        channel: 'email',
        to: 'Contacts.Email',
        subject: 'Deliveries to {Name} are on hold',
        body: 'Please call accounts before the next order.',
      },
    ],
  }),
];

const contactRules: readonly Rule[] = [
  rule({
    key: 'name-split',
    recordType: 'contact',
    name: 'First name, split off a full name',
    purpose: 'Imports put the whole name into Last name.',
    kind: 'derive',
    condition: 'is blank(First name) and is blank(Customer) and contains(squeeze(Last name), " ")',
    moments: ['creating'],
    outcome: {
      steps: [
        { target: '', scratch: 'Whole name', formula: 'squeeze(Last name)', blank: 'leave' },
        { target: 'first_name', scratch: '', formula: 'substring before(Whole name, " ")', blank: 'leave' },
        { target: 'last_name', scratch: '', formula: 'substring after(Whole name, " ")', blank: 'leave' },
      ],
    },
  }),
  rule({
    key: 'customer-by-firm',
    recordType: 'contact',
    name: 'Customer, found by the firm as given',
    purpose: 'What people write as their firm is linked, so that the contact is not lost.',
    kind: 'map',
    condition: 'is blank(Customer)',
    winner: 'person',
    outcome: {
      source: {
        by: 'match',
        recordType: 'customer',
        ways: [
          { field: 'name', formula: 'Firm as given', mode: 'folded' },
          { field: 'email', formula: 'Email', mode: 'email domain' },
        ],
      },
      onto: '',
      outputs: [{ value: '', target: 'customer', way: 'replace' }],
      blank: leave,
      none: leave,
      several: leave,
    },
  }),
  rule({
    key: 'answered-at',
    recordType: 'contact',
    name: 'Answered at, when the invitation answer last changed',
    purpose: 'Seats are given in the order of the answers.',
    kind: 'derive',
    condition: 'has changed(Invitation answer) and not(is blank(Invitation answer))',
    winner: 'locked',
    outcome: becomes('answered_at', 'now()'),
  }),
];

const leadRules: readonly Rule[] = [
  rule({
    key: 'country-as-meant',
    recordType: 'lead',
    name: 'Home country, from the country as given',
    purpose: 'People write countries in many ways; the table of spellings knows them.',
    kind: 'map',
    winner: 'person',
    outcome: {
      source: { by: 'table', table: 'country-spellings', keys: { written: 'Country as given' } },
      onto: '',
      outputs: [{ value: 'country', target: 'home_country', way: 'replace' }],
      blank: leave,
      none: leave,
      several: leave,
    },
  }),
  rule({
    key: 'lead-region',
    recordType: 'lead',
    name: 'Region, mapped from home country',
    purpose: 'Leads are given out by region.',
    kind: 'map',
    winner: 'locked',
    outcome: {
      source: { by: 'table', table: 'country-table', keys: { country: 'Home country' } },
      onto: '',
      outputs: [{ value: 'region', target: 'region', way: 'replace' }],
      blank: clear,
      none: clear,
      several: clear,
    },
  }),
  rule({
    key: 'priority-from-source',
    recordType: 'lead',
    name: 'Priority, mapped from source',
    purpose: 'Who calls first is decided by where the lead came from.',
    kind: 'map',
    winner: 'later',
    outcome: {
      source: { by: 'table', table: 'source-table', keys: { source: 'Source' } },
      onto: '',
      outputs: [{ value: 'priority', target: 'priority', way: 'replace' }],
      blank: clear,
      none: clear,
      several: clear,
    },
  }),
  rule({
    key: 'stage-before-dropped',
    recordType: 'lead',
    name: 'Stage before dropped, kept',
    purpose: 'A dropped lead that comes back starts where it was.',
    kind: 'derive',
    condition: 'Stage = "Dropped"',
    repeat: 'starts',
    winner: 'locked',
    outcome: becomes('stage_before_dropped', 'previous.Stage'),
  }),
  rule({
    key: 'kits-by-country',
    recordType: 'lead',
    name: 'Kit interest, only what is sold there',
    purpose: 'No kit is promised where nobody can fit it.',
    kind: 'validate',
    outcome: checks({
      limits: [
        {
          field: 'kit_interest',
          source: 'Home country',
          grid: [
            { value: 'Norway', allowed: ['Frost watch', 'Harvest count'] },
            { value: 'Morocco', allowed: ['Drip line', 'Sprinkler', 'Soil probe set'] },
            { value: 'Mexico', allowed: ['Drip line'] },
            { value: 'Japan', allowed: ['Harvest count', 'Soil probe set'] },
          ],
          otherwise: 'only',
          message: '',
        },
      ],
    }),
  }),
];

const dealRules: readonly Rule[] = [
  rule({
    key: 'deal-title',
    recordType: 'deal',
    name: 'Title, from customer and kind',
    purpose: 'Lists of deals are read by their titles.',
    kind: 'derive',
    winner: 'locked',
    outcome: {
      steps: [{ target: 'title', scratch: '', formula: '', template: '{Customer.Name}, {Deal kind}', blank: 'leave' }],
    },
  }),
  rule({
    key: 'carriage-when-collected',
    recordType: 'deal',
    name: 'Carriage terms, nothing due when collected',
    purpose: 'Who fetches the kit pays nobody for it; other terms may be agreed afterwards.',
    kind: 'derive',
    condition: 'Delivery method = "Collected at depot"',
    winner: 'later',
    outcome: becomes('carriage_terms', '"Nothing due"'),
  }),
  rule({
    key: 'previous-stage',
    recordType: 'deal',
    name: 'Previous stage, kept when the stage changes',
    purpose: 'Where a deal came from tells how it went.',
    kind: 'derive',
    condition: 'has changed(Stage)',
    winner: 'locked',
    outcome: becomes('previous_stage', 'previous.Stage'),
  }),
  rule({
    key: 'furthest-stage',
    recordType: 'deal',
    name: 'Furthest stage, ever reached',
    purpose: 'A deal that fell back is still known by how far it was.',
    kind: 'derive',
    winner: 'locked',
    outcome: becomes('furthest_stage', 'furthest(previous.Furthest stage, Stage)', 'leave'),
  }),
  rule({
    key: 'stage-changed-at',
    recordType: 'deal',
    name: 'Stage changed at, the moment of it',
    purpose: 'Deals that stand still are seen by it.',
    kind: 'derive',
    condition: 'has changed(Stage)',
    winner: 'locked',
    outcome: becomes('stage_changed_at', 'now()'),
  }),
  rule({
    key: 'cost-of-survey-again',
    recordType: 'deal',
    name: 'Cost, of surveying again',
    purpose: 'Going back from the proposal means a second survey.',
    kind: 'derive',
    condition: 'previous.Stage = "Proposal" and Stage = "Surveyed"',
    repeat: 'starts',
    winner: 'later',
    outcome: becomes('cost', '750'),
  }),
  rule({
    key: 'cost-of-leaving-enquiry',
    recordType: 'deal',
    name: 'Cost, once the enquiry is left',
    purpose: 'The first talk and drawing cost this much.',
    kind: 'derive',
    condition: 'previous.Stage = "Enquiry" and Stage != "Enquiry"',
    repeat: 'starts',
    winner: 'later',
    outcome: becomes('cost', '120'),
  }),
  rule({
    key: 'amount-when-surveyed',
    recordType: 'deal',
    name: 'Amount, standard when surveyed',
    purpose: 'Until the proposal is worked out the standard kit stands in for it.',
    kind: 'derive',
    condition: 'Stage = "Surveyed" and is blank(Amount)',
    winner: 'later',
    outcome: becomes('amount', '8500'),
  }),
  rule({
    key: 'margin',
    recordType: 'deal',
    name: 'Margin, amount less cost',
    purpose: 'Prices are judged by it.',
    kind: 'derive',
    winner: 'locked',
    outcome: becomes('margin', 'Amount - Cost'),
  }),
  rule({
    key: 'expected-value',
    recordType: 'deal',
    name: 'Expected value, amount times odds',
    purpose: 'The plan for the season adds these up.',
    kind: 'derive',
    winner: 'locked',
    outcome: becomes('expected_value', 'Amount * Stage odds[Deal stage = record.Stage][1].Odds'),
  }),
  rule({
    key: 'gateways-for-sensors',
    recordType: 'deal',
    name: 'Gateways, one for every 24 sensors begun',
    purpose: 'Sensors without a gateway tell nobody of the frost.',
    kind: 'derive',
    condition: 'Frost sensors > 0 and is blank(Gateways)',
    winner: 'person',
    outcome: becomes('gateways', 'ceiling(Frost sensors / 24)', 'leave'),
  }),
  rule({
    key: 'gateways-required',
    recordType: 'deal',
    name: 'Gateways, required with sensors',
    purpose: 'Sensors without a gateway tell nobody of the frost.',
    kind: 'validate',
    condition: 'Frost sensors > 0',
    outcome: checks({ required: ['gateways'] }),
  }),
  rule({
    key: 'discount-limit',
    recordType: 'deal',
    name: 'Discount, within the limit of the size class',
    purpose: 'More than this the releaser of prices decides.',
    kind: 'validate',
    outcome: checks({
      checks: [
        {
          hold: 'must',
          formula: 'Discount <= Discount limits[Size = record.Customer.Size class][1].Most',
          message: 'This is more than may be given for the size of the holding. Ask Ines for a price of its own.',
          field: 'discount',
        },
        {
          hold: 'should',
          formula: 'Discount <= Discount limits[Size = record.Customer.Size class][1].Most / 2',
          message: 'More than half of what may be given.',
          field: 'discount',
        },
      ],
    }),
  }),
  rule({
    key: 'cover-from-watch-flag',
    recordType: 'deal',
    name: 'Cover, from the watch flag',
    purpose: 'A kit that is watched is covered for more; otherwise people choose.',
    kind: 'derive',
    condition: 'has changed(Watch flag)',
    winner: 'later',
    outcome: becomes('cover', 'if Watch flag then "Extended" else "Basic"'),
  }),
  rule({
    key: 'commissioned-notice',
    recordType: 'deal',
    name: 'Stage, told when commissioned',
    purpose: 'The grower gets the papers, the owner looks in after two weeks, the warehouse is told.',
    kind: 'validate',
    condition: 'has changed(Stage) and Stage = "Commissioned"',
    moments: ['creating', 'updating'],
    outcome: checks({}),
    notify: [
      {
        channel: 'email',
        to: 'Contact.Email',
        subject: 'Your kit is running',
        body: 'Dear {Contact.First name}, {Title} was commissioned today.',
      },
      { channel: 'task', to: 'Owner', subject: 'Look in at {Customer.Name}', body: '{Title}', dueInDays: 14 },
      { channel: 'webhook', to: '"warehouse"', subject: 'commissioned', body: '{Title}' },
    ],
  }),
];

const visitRules: readonly Rule[] = [
  rule({
    key: 'visit-amount-soil-probe',
    recordType: 'visit',
    name: 'Visit amount, standard for a soil probe',
    purpose: 'Probes cost the same everywhere; what is agreed otherwise stands.',
    kind: 'derive',
    condition: 'Visit kind = "Soil probe"',
    repeat: 'starts',
    winner: 'person',
    outcome: becomes('visit_amount', '140'),
  }),
  rule({
    key: 'visit-state-planned',
    recordType: 'visit',
    name: 'Visit state, planned while the day is to come',
    purpose: 'Nobody has to choose it for a new visit.',
    kind: 'derive',
    condition: 'Visit date > today() and is blank(Visit state)',
    repeat: 'every',
    winner: 'person',
    outcome: becomes('visit_state', '"Planned"'),
  }),
];

/** From a lead: what the three records made from it begin with. */
const conversionRules: readonly Rule[] = [
  rule({
    key: 'customer-from-lead',
    recordType: 'customer',
    name: 'Name, and more, from the lead',
    purpose: 'A lead that became a customer is not typed again.',
    kind: 'derive',
    moments: ['creating'],
    entryPoints: ['conversion'],
    condition: 'origin.Full name != null',
    outcome: {
      steps: [
        {
          target: 'name',
          scratch: '',
          formula: 'first filled(origin.Firm as given, origin.Full name)',
          blank: 'leave',
        },
        { target: 'home_country', scratch: '', formula: 'origin.Home country', blank: 'leave' },
        { target: 'phone', scratch: '', formula: 'origin.Phone', blank: 'leave' },
        { target: 'email', scratch: '', formula: 'origin.Email', blank: 'leave' },
      ],
    },
  }),
];

/** Two faults on purpose: a gap between two bands, and a second rule that writes the region. */
const faultyRules: readonly Rule[] = [
  rule({
    key: 'frost-zone-from-hectares',
    recordType: 'customer',
    name: 'Frost zone, guessed from the hectares',
    purpose: 'A first guess for the survey; the surveyor puts it right.',
    kind: 'categorize',
    winner: 'person',
    outcome: {
      source: 'Planted hectares',
      target: 'frost_zone',
      bands: [
        { from: 0, to: 5, result: 'valley-floor' },
        { from: 5, to: 40, result: 'slope' },
        { from: 50, result: 'upland' },
      ],
      blank: leave,
      outside: leave,
    },
  }),
  rule({
    key: 'region-of-packhouses',
    recordType: 'customer',
    name: 'Region, South Europe for packhouses',
    purpose: 'Packhouses are looked after from Saltgate.',
    kind: 'derive',
    condition: 'Holding kind = "Packhouse"',
    winner: 'locked',
    outcome: becomes('region', '"South Europe"'),
  }),
];

export const releasedRules: readonly Rule[] = [
  ...customerRules,
  ...contactRules,
  ...leadRules,
  ...dealRules,
  ...visitRules,
  ...conversionRules,
];
export const draftRules: readonly Rule[] = [...releasedRules, ...faultyRules];
