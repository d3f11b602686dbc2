/** Invented names of places, firms and people; only country names are real. */
export const placeBeginnings = [
  'Alder', 'Amber', 'Bramble', 'Bright', 'Brook', 'Cinder', 'Clover', 'Copper', 'Crag', 'Dun', 'Ember', 'Fallow', 'Fen',
  'Flint', 'Glen', 'Gorse', 'Hale', 'Harrow', 'Hazel', 'Hollow', 'Iron', 'Juniper', 'Kestrel', 'Lark', 'Linden', 'Long',
  'Mallow', 'Marl', 'Mead', 'Moss', 'Nettle', 'North', 'Oak', 'Otter', 'Pearl', 'Pebble', 'Plover', 'Quarry', 'Reed',
  'Ridge', 'Rook', 'Rowan', 'Saffron', 'Sedge', 'Silver', 'Slate', 'Sorrel', 'Stone', 'Swale', 'Tansy', 'Thistle', 'Umber',
  'Vale', 'Wether', 'Willow', 'Winter', 'Wren', 'Yarrow',
] as const;

export const placeEndings = [
  'bank', 'barrow', 'bourne', 'combe', 'croft', 'dale', 'down', 'field', 'fold', 'garth', 'gate', 'holt', 'hurst', 'ley',
  'marsh', 'mere', 'moor', 'ridge', 'stead', 'ton', 'wick', 'wold',
] as const;

export const firmWords: Readonly<Record<string, readonly string[]>> = {
  orchard: ['Orchards', 'Fruit', 'Growers', 'Orchard Company', 'Fruit Farm'],
  vineyard: ['Vineyards', 'Vines', 'Vineyard', 'Wine Growers'],
  nursery: ['Nursery', 'Nurseries', 'Plants', 'Young Trees'],
  packhouse: ['Packhouse', 'Packing', 'Fruit Packers', 'Cold Store'],
};

export const firstNames = [
  'Adela', 'Anselm', 'Aurel', 'Belinda', 'Bruno', 'Carys', 'Casimir', 'Delia', 'Dorian', 'Edda', 'Emil', 'Fenna', 'Florian',
  'Greta', 'Gwil', 'Hana', 'Hugo', 'Ilse', 'Ivo', 'Jonna', 'Jorik', 'Katla', 'Kilian', 'Leonie', 'Lukas', 'Maren', 'Milo',
  'Nadia', 'Nils', 'Odile', 'Orson', 'Petra', 'Quentin', 'Rhea', 'Ruben', 'Selma', 'Soren', 'Tilda', 'Tobias', 'Una', 'Vito',
  'Wanda', 'Yara', 'Zeno',
] as const;

export const lastNames = [
  'Abelard', 'Arkwell', 'Bellamund', 'Birkenau', 'Brandt', 'Castellan', 'Corvin', 'Dahlgren', 'Delacombe', 'Eastlow', 'Eikhorn',
  'Fairlight', 'Ferrand', 'Garrick', 'Gravesend', 'Hallam', 'Hollister', 'Ibarra', 'Jessop', 'Kerrigan', 'Kolbe', 'Lanner',
  'Lindqvist', 'Marchetti', 'Moravec', 'Nordby', 'Okonjo', 'Osterley', 'Pirouz', 'Quillan', 'Rademaker', 'Rosten', 'Sandoval',
  'Severin', 'Tamsin', 'Tolland', 'Ulvestad', 'Vandermeer', 'Veldt', 'Westerhof', 'Yardley', 'Zeller',
] as const;

export interface Country {
  readonly key: string;
  readonly name: string;
  /** How often it comes up among customers. */
  readonly weight: number;
  readonly region: string;
  /** ISO 4217. */
  readonly currency: string;
  /** E.164 country calling code. */
  readonly dial: string;
}

/** Keys are ISO 3166-1 alpha-2 codes. */
export const countries: readonly Country[] = [
  { key: 'es', name: 'Spain', weight: 14, region: 'south-europe', currency: 'EUR', dial: '34' },
  { key: 'it', name: 'Italy', weight: 13, region: 'south-europe', currency: 'EUR', dial: '39' },
  { key: 'fr', name: 'France', weight: 12, region: 'south-europe', currency: 'EUR', dial: '33' },
  { key: 'nz', name: 'New Zealand', weight: 10, region: 'oceania', currency: 'NZD', dial: '64' },
  { key: 'de', name: 'Germany', weight: 10, region: 'north-europe', currency: 'EUR', dial: '49' },
  { key: 'pt', name: 'Portugal', weight: 8, region: 'south-europe', currency: 'EUR', dial: '351' },
  { key: 'gb', name: 'United Kingdom', weight: 8, region: 'north-europe', currency: 'GBP', dial: '44' },
  { key: 'ie', name: 'Ireland', weight: 6, region: 'north-europe', currency: 'EUR', dial: '353' },
  { key: 'za', name: 'South Africa', weight: 6, region: 'africa', currency: 'ZAR', dial: '27' },
  { key: 'cl', name: 'Chile', weight: 5, region: 'south-america', currency: 'CLP', dial: '56' },
  { key: 'us', name: 'United States', weight: 5, region: 'north-america', currency: 'USD', dial: '1' },
  { key: 'nl', name: 'Netherlands', weight: 5, region: 'north-europe', currency: 'EUR', dial: '31' },
  { key: 'at', name: 'Austria', weight: 4, region: 'north-europe', currency: 'EUR', dial: '43' },
  { key: 'gr', name: 'Greece', weight: 4, region: 'south-europe', currency: 'EUR', dial: '30' },
  { key: 'jp', name: 'Japan', weight: 3, region: 'east-asia', currency: 'JPY', dial: '81' },
  { key: 'mx', name: 'Mexico', weight: 2, region: 'north-america', currency: 'MXN', dial: '52' },
  { key: 'ma', name: 'Morocco', weight: 2, region: 'africa', currency: 'MAD', dial: '212' },
  { key: 'no', name: 'Norway', weight: 2, region: 'north-europe', currency: 'NOK', dial: '47' },
  { key: 'uy', name: 'Uruguay', weight: 1, region: 'south-america', currency: 'UYU', dial: '598' },
  { key: 'ge', name: 'Georgia', weight: 1, region: 'west-asia', currency: 'GEL', dial: '995' },
];

export const depots = ['Fernhollow', 'Harrow Mere', 'Saltgate', 'Thornwick'] as const;

export const serviceAreaNames = [
  'Harrow Fold', 'Harrow Mere', 'Fernhollow North', 'Fernhollow South', 'Saltgate Coast', 'Saltgate Inland', 'Thornwick Vale',
  'Thornwick Hills', 'Larkmoor', 'Ottermarsh', 'Stonecombe', 'Yarrowdale',
] as const;
