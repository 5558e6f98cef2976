/** The invented firm's world: nobody and nothing here exists. Mail ends in .example, numbers are reserved for fiction. */

export interface DemoUser {
  readonly name: string;
  readonly email: string;
  readonly role: 'rep' | 'manager' | 'admin';
  readonly words: string;
  readonly quotaMinor: number | null;
}

const at = 'hollinbeck.example';
export const users: readonly DemoUser[] = [
  {
    name: 'Imogen Thorne',
    email: `imogen@${at}`,
    role: 'rep',
    words: 'inside rep, with too much on',
    quotaMinor: 2_400_000,
  },
  { name: 'Dara Finch', email: `dara@${at}`, role: 'rep', words: 'inside rep', quotaMinor: 2_000_000 },
  {
    name: 'Rhys Calder',
    email: `rhys@${at}`,
    role: 'rep',
    words: 'field rep, north of the county',
    quotaMinor: 2_800_000,
  },
  {
    name: 'Mina Okell',
    email: `mina@${at}`,
    role: 'rep',
    words: 'field rep, south and abroad',
    quotaMinor: 2_800_000,
  },
  { name: 'Corin Vale', email: `corin@${at}`, role: 'manager', words: 'manager', quotaMinor: null },
  { name: 'Petra Lund', email: `petra@${at}`, role: 'admin', words: 'admin', quotaMinor: null },
];

export const trades = ['bakery', 'laundry', 'brewery', 'hotel', 'clinic', 'car wash'] as const;
export type Trade = (typeof trades)[number];

export const firmNames: Readonly<Record<Trade, readonly string[]>> = {
  bakery: [
    'Skell Bakery',
    'Wren Bakehouse',
    'Ottery Mill Bread',
    'Crumb & Cobble',
    'Fold Farm Ovens',
    'Hearthside Loaves',
    'Elder Street Bakery',
    'Marl Pit Pastry',
    'Three Sheaves',
    'Quernstone Bread',
  ],
  laundry: [
    'Penrow Laundry',
    'Harker & Daughter',
    'Tidewater Linen',
    'Whitefold Services',
    'Copper Line Laundry',
    'Saltcote Linen',
    'Mangle & Steam',
    'Brightwater Hire',
  ],
  brewery: [
    'Marrow Brewing',
    'Condon Dairy & Ale',
    'Gale & Son',
    'Black Heron Brewery',
    'Underbridge Ales',
    'Tarn Foot Brewing',
    'Copse Cider',
    'Low Weir Brewhouse',
  ],
  hotel: [
    'Hotel Linde',
    'Brack Inn',
    'Moor Inn',
    'Pell Spa',
    'The Ferryman’s Rest',
    'Yarrow House',
    'Larkrise Hotel',
    'Old Customs House',
    'Beacon Lodge',
    'Stag Hollow Hotel',
  ],
  clinic: [
    'Kiln Lane Clinic',
    'Dunmere Clinic',
    'Tarn Clinic',
    'Corrie Practice',
    'Meadowgate Dental',
    'Saint Orla’s Surgery',
    'Hollow Oak Clinic',
    'Bridge End Physio',
  ],
  'car wash': [
    'Aldous Car Wash',
    'Elm Wash',
    'Sudsworth’s',
    'Ring Road Valeting',
    'Bright Arches',
    'Ford Lane Wash',
  ],
};

export const foreignFirms: readonly {
  name: string;
  trade: Trade;
  country: string;
  zone: string;
  city: string;
}[] = [
  { name: 'Lavandaria do Cais', trade: 'laundry', country: 'PT', zone: 'Europe/Lisbon', city: 'Porto Manso' },
  { name: 'Padaria Sete Fornos', trade: 'bakery', country: 'PT', zone: 'Europe/Lisbon', city: 'Vila Cinza' },
  { name: 'Wasserij Baan', trade: 'laundry', country: 'NL', zone: 'Europe/Amsterdam', city: 'Nieuwdrecht' },
  {
    name: 'Brouwerij de Ketel',
    trade: 'brewery',
    country: 'NL',
    zone: 'Europe/Amsterdam',
    city: 'Oudersluis',
  },
  { name: 'Hotel Grachtzicht', trade: 'hotel', country: 'NL', zone: 'Europe/Amsterdam', city: 'Nieuwdrecht' },
  {
    name: 'Ballycarrow Creamery',
    trade: 'brewery',
    country: 'IE',
    zone: 'Europe/Dublin',
    city: 'Ballycarrow',
  },
  { name: 'Kilmoran House', trade: 'hotel', country: 'IE', zone: 'Europe/Dublin', city: 'Kilmoran' },
  { name: 'Inishbeg Laundry', trade: 'laundry', country: 'IE', zone: 'Europe/Dublin', city: 'Inishbeg' },
];

export const towns = [
  'Skellgate',
  'Penrow',
  'Dunmere',
  'Ottery Fold',
  'Brackwell',
  'Tarnside',
  'Corrieford',
  'Pellgate',
  'Yarrowby',
  'Moorend',
];
export const streets = [
  'Mill Lane',
  'Kiln Lane',
  'Weir Street',
  'Tanner’s Row',
  'Quarry Road',
  'Station Yard',
  'Old Market',
] as const;
export const givenNames = [
  'Maud',
  'Tomas',
  'Owen',
  'Fenn',
  'Greta',
  'Sorrel',
  'Rafe',
  'Ada',
  'Bram',
  'Cleo',
  'Edda',
  'Faye',
  'Gwil',
  'Hester',
  'Ivo',
  'Juno',
  'Kit',
  'Lorna',
  'Magnus',
  'Nora',
  'Orrin',
  'Pia',
  'Quill',
  'Rosa',
  'Silas',
  'Tilda',
  'Una',
  'Vera',
  'Wilf',
  'Ysolde',
];
export const familyNames = [
  'Ellery',
  'Tarrant',
  'Holm',
  'Bright',
  'Condon',
  'Ashby',
  'Brindle',
  'Crake',
  'Dunnock',
  'Eastgarth',
  'Farrier',
  'Gorse',
  'Hallam',
  'Ironside',
  'Jessop',
  'Kettlewell',
  'Larch',
  'Mosswood',
  'Nettle',
  'Oakshott',
  'Plover',
  'Quarrie',
  'Ridley',
  'Sallow',
  'Thistle',
  'Umber',
  'Vetch',
  'Whin',
  'Yarwood',
  'Zeal',
];
export const abroadNames: Readonly<Record<string, readonly [string, string][]>> = {
  PT: [
    ['Ines', 'Prado'],
    ['Duarte', 'Salvaterra'],
    ['Leonor', 'Vidigal'],
    ['Tome', 'Carrasqueira'],
  ],
  NL: [
    ['Joris', 'Baan'],
    ['Femke', 'van der Sluis'],
    ['Sietse', 'Molenaar'],
    ['Anouk', 'Terpstra'],
    ['Wouter', 'Dijkgraaf'],
  ],
  IE: [
    ['Aoife', 'Carrow'],
    ['Cormac', 'Tully'],
    ['Sinead', 'Brannigan'],
    ['Declan', 'Moy'],
  ],
};
export const jobTitles = [
  'owner',
  'production lead',
  'facilities manager',
  'head of housekeeping',
  'practice manager',
  'site engineer',
  'buyer',
  'general manager',
  'maintenance lead',
];
export const sources = ['trade fair', 'web form', 'referral', 'cold list', 'existing customer'];
export const products = [
  'water softener',
  'boiler-water treatment',
  'filtration for the proving room',
  'reverse osmosis unit',
  'dosing set',
  'yearly service',
  'scale survey and plan',
  'second softener',
];

export const spokeNotes = [
  'Price is fine. Wants one engineer for both sites.',
  'Scale in the boiler again, third time this year. Asked for a survey.',
  'Happy with the last visit. Will ask the owner about the second unit.',
  'Busy until the end of the month, call after that.',
  'Compared us with the one they have; wants the running costs in writing.',
  'Hardness has gone up since the works on the main. Sends a sample.',
  'The salt delivery came late. Promised to look into it and did.',
  'Likes the offer, the signature is with the finance side.',
  'Asked about the notice period and whether the price holds.',
  'New head of maintenance from the first of the month; introduce us.',
];
export const mailNotes = [
  'Sent the survey report with two options.',
  'Two lines about the sample, and the question when the ovens are down.',
  'Sent the running costs for three years.',
  'Thanked for the visit, confirmed the next date.',
  'Sent the offer, valid for 30 days.',
];
export const visitNotes = [
  'Hardness 340 mg/l at the prover. Survey agreed.',
  'Walked the plant room, took photographs, measured the run to the drain.',
  'Yearly service done with the engineer, resin is fine for another year.',
  'Showed the dosing set; they would take it if it fits under the stairs.',
];
export const loseReasons = [
  'price',
  'stayed with what they have',
  'no budget this year',
  'went quiet',
  'site is closing',
];
