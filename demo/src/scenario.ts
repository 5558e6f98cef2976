import { base, en, Faker } from '@faker-js/faker';
import type { Channel } from '@kettle/contract';
import { addDays, addMonths, isoWeekday } from '@kettle/core/time';
import * as words from './words';

/** One fixed seed: the same day gives the same demo. */
const seed = 20_261_124;

export interface DemoCompany {
  readonly name: string;
  readonly trade: words.Trade;
  readonly country: string;
  readonly zone: string;
  readonly city: string;
  /** Index into the users. */
  readonly owner: number;
  readonly isCustomer: boolean;
}

export interface DemoContact {
  readonly givenName: string;
  readonly familyName: string;
  readonly jobTitle: string;
  readonly company: number;
  readonly phone: string | null;
  readonly email: string;
  readonly owner: number | null;
  readonly standing: string;
  readonly source: string;
}

export interface DemoEntry {
  readonly contact: number;
  /** Days before today, and minute of that day. */
  readonly daysAgo: number;
  readonly minute: number;
  readonly outcome: string;
  readonly minutes: number | null;
  readonly body: string;
}

export interface DemoDeal {
  readonly contact: number;
  readonly name: string;
  readonly stage: number;
  readonly amountMinor: number;
  readonly status: 'open' | 'won' | 'lost';
  readonly closeOn: string;
  readonly madeDaysAgo: number;
  readonly movedDaysAgo: number;
  readonly reason: string | null;
}

export interface DemoAgreement {
  readonly contact: number;
  readonly name: string;
  readonly startsOn: string;
  readonly termMonths: number;
  readonly valueMinor: number;
  readonly noticeDays: number;
  readonly leadDays: number;
  readonly renewsItself: boolean;
  /** Percent by which each next term is dearer. */
  readonly upliftPercent: number;
  /** The term is this one of its chain: 0 = the first. */
  readonly termsBefore: number;
  /** A change within the running term, so many days ago, by percent. */
  readonly change: { readonly daysAgo: number; readonly percent: number } | null;
  /** It left at the end of the term before the running one, or leaves at the end of this one. */
  readonly lostFor: string | null;
  readonly isLeaving: boolean;
}

export interface DemoTask {
  readonly contact: number;
  readonly deal: number | null;
  readonly channel: Channel;
  readonly purpose: string;
  readonly inDays: number;
  readonly promisedMinute: number | null;
  readonly minutes: number;
  readonly timesMoved: number;
}

export interface Scenario {
  readonly companies: readonly DemoCompany[];
  readonly contacts: readonly DemoContact[];
  readonly entries: readonly DemoEntry[];
  readonly deals: readonly DemoDeal[];
  readonly agreements: readonly DemoAgreement[];
  readonly tasks: readonly DemoTask[];
  /** People to start on a cadence: contact, cadence, days since the start. */
  readonly runs: readonly {
    readonly contact: number;
    readonly cadence: number;
    readonly startedDaysAgo: number;
  }[];
  /** Runs that are long over; `luck` decides, from 0 to 1 for each step, what the person did. */
  readonly pastRuns: readonly {
    readonly contact: number;
    readonly cadence: number;
    readonly startedDaysAgo: number;
    readonly luck: readonly number[];
  }[];
}

const contactCount = 140;
const openDeals = 45;
const closedDeals = 200;
const agreementCount = 70;
const entryCount = 3000;

/** The whole invented world as it stands on `today`, from the fixed seed. */
export function makeScenario(today: string): Scenario {
  const random = new Faker({ locale: [en, base], seed });
  const companies = makeCompanies(random);
  const contacts = makeContacts(random, companies);
  const entries = makeEntries(random, contacts, companies, today);
  const deals = makeDeals(random, contacts, companies, today);
  return {
    companies,
    contacts,
    entries,
    deals,
    agreements: makeAgreements(random, contacts, companies, today),
    tasks: makeTasks(random, contacts, deals, today),
    runs: makeRuns(random, contacts, companies),
    pastRuns: makePastRuns(random, contacts),
  };
}

function makeCompanies(random: Faker): DemoCompany[] {
  const home = words.trades.flatMap((trade) =>
    words.firmNames[trade].map((name): DemoCompany => ({
      name,
      trade,
      country: 'GB',
      zone: 'Europe/London',
      city: random.helpers.arrayElement(words.towns),
      owner: random.helpers.weightedArrayElement([
        { value: 0, weight: 4 },
        { value: 1, weight: 2 },
        { value: 2, weight: 2 },
        { value: 3, weight: 1 },
      ]),
      isCustomer: random.datatype.boolean(0.6),
    })),
  );
  const story = new Set([
    'Skell Bakery',
    'Penrow Laundry',
    'Marrow Brewing',
    'Hotel Linde',
    'Kiln Lane Clinic',
    'Aldous Car Wash',
    'Harker & Daughter',
    'Condon Dairy & Ale',
    'Wren Bakehouse',
    'Lavandaria do Cais',
    'Wasserij Baan',
  ]);
  const abroad = words.foreignFirms.map((firm): DemoCompany => ({
    ...firm,
    owner: 3,
    isCustomer: random.datatype.boolean(0.7),
  }));
  return [...home, ...abroad].map((company) =>
    story.has(company.name)
      ? { ...company, owner: 0, isCustomer: company.name !== 'Aldous Car Wash' }
      : company,
  );
}

/** People the story needs, by firm; everybody else is drawn. */
const storyPeople: Readonly<Record<string, readonly [string, string, string]>> = {
  'Penrow Laundry': ['Maud', 'Ellery', 'owner'],
  'Skell Bakery': ['Tomas', 'Quillen', 'production lead'],
  'Lavandaria do Cais': ['Ines', 'Prado', 'general manager'],
  'Marrow Brewing': ['Owen', 'Tarrant', 'site engineer'],
  'Aldous Car Wash': ['Fenn', 'Aldous', 'owner'],
  'Hotel Linde': ['Greta', 'Holm', 'facilities manager'],
  'Kiln Lane Clinic': ['Sorrel', 'Bright', 'practice manager'],
  'Wasserij Baan': ['Joris', 'Baan', 'owner'],
  'Harker & Daughter': ['Nell', 'Harker', 'owner'],
  'Condon Dairy & Ale': ['Rafe', 'Condon', 'buyer'],
  'Wren Bakehouse': ['Ada', 'Wren', 'owner'],
};

function makeContacts(random: Faker, companies: readonly DemoCompany[]): DemoContact[] {
  const contacts: DemoContact[] = [];
  const used = new Set<string>();
  const add = (company: number, name: readonly [string, string], jobTitle: string) => {
    const firm = companies[company]!;
    used.add(name.join(' '));
    const mailbox = `${name[0]}.${name[1]}`.toLowerCase().replace(/[^a-z.]/g, '');
    contacts.push({
      givenName: name[0],
      familyName: name[1],
      jobTitle,
      company,
      phone: storyPeople[firm.name]
        ? phoneOf(contacts.length % 17, firm.country)
        : phoneOf(contacts.length, firm.country),
      email: `${mailbox}@${domainOf(firm.name)}.example`,
      owner: contacts.length % 23 === 22 ? null : firm.owner,
      standing: standingOf(random, firm),
      source: random.helpers.arrayElement(words.sources),
    });
  };
  companies.forEach((company, index) => {
    const story = storyPeople[company.name];
    if (story) add(index, [story[0], story[1]], story[2]);
    else add(index, drawName(random, company.country, used), random.helpers.arrayElement(words.jobTitles));
  });
  // The same person typed twice, once with a slip.
  add(
    companies.findIndex((company) => company.name === 'Harker & Daughter'),
    ['Nel', 'Harker'],
    'owner',
  );
  while (contacts.length < contactCount) {
    const company = random.number.int({ min: 0, max: companies.length - 1 });
    add(
      company,
      drawName(random, companies[company]!.country, used),
      random.helpers.arrayElement(words.jobTitles),
    );
  }
  return contacts;
}

function drawName(random: Faker, country: string, used: ReadonlySet<string>): readonly [string, string] {
  const abroad = (words.abroadNames[country] ?? []).find((name) => !used.has(name.join(' ')));
  if (abroad) return abroad;
  for (;;) {
    const name = [
      random.helpers.arrayElement(words.givenNames),
      random.helpers.arrayElement(words.familyNames),
    ] as const;
    if (!used.has(name.join(' '))) return name;
  }
}

function standingOf(random: Faker, firm: DemoCompany): string {
  if (firm.isCustomer)
    return random.helpers.weightedArrayElement([
      { value: 'Customer', weight: 3 },
      { value: 'Key customer', weight: 1 },
    ]);
  return random.helpers.weightedArrayElement([
    { value: 'New', weight: 3 },
    { value: 'In talks', weight: 3 },
    { value: 'Former customer', weight: 1 },
    { value: 'Not a fit', weight: 1 },
  ]);
}

/** Ofcom's drama numbers 01632 960000 to 960999 and 07700 900000 to 900999; ComReg's 020 910 0000 to 919 9999. */
function phoneOf(index: number, country: string): string | null {
  if (index % 17 === 16 && index > 16) return null;
  const three = String(index).padStart(3, '0');
  if (country === 'IE') return `+35320910${String(index).padStart(4, '0')}`;
  return index % 3 === 0 ? `+447700900${three}` : `+441632960${three}`;
}

function domainOf(name: string): string {
  return name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z]/g, '');
}

const callOutcomes = [
  { value: 'call-spoke', weight: 34 },
  { value: 'call-no-answer', weight: 34 },
  { value: 'call-voicemail', weight: 20 },
  { value: 'call-busy', weight: 5 },
  { value: 'call-later', weight: 7 },
];
const mailOutcomes = [
  { value: 'email-sent', weight: 70 },
  { value: 'email-answered', weight: 15 },
  { value: 'email-came-in', weight: 15 },
];

function makeEntries(
  random: Faker,
  contacts: readonly DemoContact[],
  companies: readonly DemoCompany[],
  today: string,
): DemoEntry[] {
  const entries: DemoEntry[] = [];
  const storyIndex = new Map(
    contacts.map((contact, index) => [`${contact.givenName} ${contact.familyName}`, index]),
  );
  const fixed = storyEntries(storyIndex).map((entry) => ({
    ...entry,
    daysAgo: -nearestWorkingDay(today, -entry.daysAgo),
  }));
  const told = new Set(fixed.map((entry) => entry.contact));
  while (entries.length < entryCount - fixed.length) {
    const contact = random.number.int({ min: 0, max: contacts.length - 1 });
    const person = contacts[contact]!;
    const isCustomer = companies[person.company]!.isCustomer;
    const span = isCustomer ? 730 : 240;
    // Story people were last heard of when the story says.
    const newest = told.has(contact) ? 50 : isCustomer ? random.helpers.arrayElement([1, 4, 12, 30]) : 1;
    const daysAgo = newest + Math.floor((span - newest) * random.number.float({ min: 0, max: 1 }) ** 1.5);
    if (isoWeekday(addDays(today, -daysAgo)) > 5) continue;
    entries.push(drawEntry(random, contact, daysAgo));
  }
  return [...entries, ...fixed];
}

function drawEntry(random: Faker, contact: number, daysAgo: number): DemoEntry {
  const minute = random.number.int({ min: 9 * 60, max: 17 * 60 });
  const kind = random.helpers.weightedArrayElement([
    { value: 'call', weight: 60 },
    { value: 'email', weight: 32 },
    { value: 'visit', weight: 6 },
    { value: 'text', weight: 2 },
  ]);
  const base = { contact, daysAgo, minute };
  switch (kind) {
    case 'call': {
      const outcome = random.helpers.weightedArrayElement(callOutcomes);
      const spoke = outcome === 'call-spoke' || outcome === 'call-later';
      return {
        ...base,
        outcome,
        minutes: spoke ? random.number.int({ min: 2, max: 18 }) : null,
        body: spoke ? random.helpers.arrayElement(words.spokeNotes) : '',
      };
    }
    case 'email': {
      const drawn = random.helpers.weightedArrayElement(mailOutcomes);
      // A letter that waits for an answer is for the story alone; older ones were answered the same day.
      const outcome = drawn === 'email-came-in' && daysAgo < 400 ? 'email-answered' : drawn;
      return { ...base, outcome, minutes: null, body: random.helpers.arrayElement(words.mailNotes) };
    }
    case 'visit':
      return {
        ...base,
        outcome: 'visit-held',
        minutes: 45,
        body: random.helpers.arrayElement(words.visitNotes),
      };
    default:
      return { ...base, outcome: 'text-sent', minutes: null, body: 'A short reminder of tomorrow’s visit.' };
  }
}

/** What the story needs to have happened lately. */
function storyEntries(index: ReadonlyMap<string, number>): DemoEntry[] {
  const of = (name: string, daysAgo: number, minute: number, outcome: string, body: string): DemoEntry => ({
    contact: index.get(name)!,
    daysAgo,
    minute,
    outcome,
    minutes: outcome === 'call-spoke' ? 7 : null,
    body,
  });
  return [
    of('Tomas Quillen', 14, 660, 'visit-held', 'Hardness 340 mg/l at the prover. Survey agreed.'),
    of('Tomas Quillen', 5, 615, 'call-spoke', 'Price is fine. Wants one engineer for both sites.'),
    of(
      'Tomas Quillen',
      0,
      432,
      'email-came-in',
      '“Could the boiler plan start in January? We shut the ovens from the 22nd.”',
    ),
    of(
      'Maud Ellery',
      6,
      700,
      'call-spoke',
      'Softener quote arrived; asked about salt use. Promised an answer for today at ten.',
    ),
    of('Ines Prado', 26, 640, 'call-spoke', 'Satisfied. Has not thought about the renewal yet.'),
    of('Owen Tarrant', 9, 600, 'call-no-answer', ''),
    of('Owen Tarrant', 7, 655, 'email-sent', 'Two lines on the scale report and one question.'),
    of('Greta Holm', 31, 720, 'call-spoke', 'The survey waits for the owner’s return.'),
    of('Sorrel Bright', 12, 580, 'email-answered', 'She will speak with the partners.'),
    of('Joris Baan', 71, 610, 'call-spoke', 'All in order, no wishes.'),
    of('Rafe Condon', 93, 800, 'call-spoke', 'Content; asked for the next service date.'),
    of('Ada Wren', 8, 840, 'call-spoke', 'Wants to think until next week.'),
  ];
}

function makeDeals(
  random: Faker,
  contacts: readonly DemoContact[],
  companies: readonly DemoCompany[],
  today: string,
): DemoDeal[] {
  const owned = contacts.map((_, index) => index).filter((index) => contacts[index]!.owner !== null);
  const deals: DemoDeal[] = storyDeals(contacts, today);
  while (deals.filter((deal) => deal.status === 'open').length < openDeals) {
    const contact = random.helpers.arrayElement(owned);
    const stage = random.helpers.weightedArrayElement(
      [0, 1, 2, 3, 4].map((value) => ({ value, weight: 6 - value })),
    );
    const madeDaysAgo = random.number.int({ min: 6, max: 120 });
    deals.push({
      contact,
      name: dealName(random, contacts, companies, contact),
      stage,
      amountMinor: amountOf(random),
      status: 'open',
      closeOn: addDays(today, random.number.int({ min: -6, max: 120 })),
      madeDaysAgo,
      movedDaysAgo: random.number.int({ min: 1, max: Math.min(22, madeDaysAgo) }),
      reason: null,
    });
  }
  for (let n = 0; n < closedDeals; n += 1) {
    const contact = random.helpers.arrayElement(owned);
    const isWon = random.datatype.boolean(0.42);
    const closedDaysAgo = random.number.int({ min: 1, max: 729 });
    deals.push({
      contact,
      name: dealName(random, contacts, companies, contact),
      stage: isWon ? 4 : random.number.int({ min: 0, max: 3 }),
      amountMinor: amountOf(random),
      status: isWon ? 'won' : 'lost',
      closeOn: addDays(today, -closedDaysAgo),
      madeDaysAgo: closedDaysAgo + random.number.int({ min: 12, max: 90 }),
      movedDaysAgo: closedDaysAgo,
      reason: isWon ? null : random.helpers.arrayElement(words.loseReasons),
    });
  }
  return deals;
}

function storyDeals(contacts: readonly DemoContact[], today: string): DemoDeal[] {
  const of = (
    name: string,
    deal: string,
    stage: number,
    pounds: number,
    closeInDays: number,
    movedDaysAgo: number,
  ): DemoDeal => ({
    contact: contacts.findIndex((contact) => `${contact.givenName} ${contact.familyName}` === name),
    name: deal,
    stage,
    amountMinor: pounds * 100,
    status: 'open',
    closeOn: addDays(today, closeInDays),
    madeDaysAgo: movedDaysAgo + 20,
    movedDaysAgo,
    reason: null,
  });
  return [
    of('Tomas Quillen', 'Skell Bakery: boiler-water plan', 2, 4400, 24, 5),
    of('Maud Ellery', 'Penrow Laundry: second softener', 2, 9800, 18, 6),
    of('Greta Holm', 'Hotel Linde: softener for the spa', 1, 12_400, -4, 31),
    of('Sorrel Bright', 'Kiln Lane: filtration', 2, 4950, 30, 12),
    of('Owen Tarrant', 'Marrow Brewing: reverse osmosis', 1, 7500, 35, 9),
    of('Ada Wren', 'Wren Bakehouse: dosing set', 3, 7000, 9, 8),
  ];
}

/** Deals of the story that were left without a next step. */
const looseDeals = new Set(['Kiln Lane: filtration']);

function dealName(
  random: Faker,
  contacts: readonly DemoContact[],
  companies: readonly DemoCompany[],
  contact: number,
): string {
  return `${companies[contacts[contact]!.company]!.name}: ${random.helpers.arrayElement(words.products)}`;
}

function amountOf(random: Faker): number {
  return Math.round(12 * 1.09 ** random.number.int({ min: 0, max: 34 })) * 10_000;
}

function makeAgreements(
  random: Faker,
  contacts: readonly DemoContact[],
  companies: readonly DemoCompany[],
  today: string,
): DemoAgreement[] {
  const customers = contacts
    .map((_, index) => index)
    .filter((index) => companies[contacts[index]!.company]!.isCustomer && contacts[index]!.owner !== null);
  const ines = contacts.findIndex((contact) => contact.familyName === 'Prado');
  // Notice 60 days before the end closes in six days.
  const story: DemoAgreement = {
    contact: ines,
    name: 'Softeners and yearly service',
    startsOn: addMonths(addDays(today, 66), -12),
    termMonths: 12,
    valueMinor: 318_000,
    ...{ noticeDays: 60, leadDays: 30, renewsItself: true, upliftPercent: 3.5 },
    ...{ termsBefore: 0, change: null, lostFor: null, isLeaving: false },
  };
  const drawn = Array.from({ length: agreementCount - 1 }, (_, index): DemoAgreement => {
    const termMonths = random.helpers.arrayElement([12, 12, 12, 24, 36]);
    return {
      ...pastOf(index, termMonths),
      contact: random.helpers.arrayElement(customers),
      name: random.helpers.arrayElement([
        'Yearly service',
        'Softener with service',
        'Boiler-water treatment',
        'Filter change plan',
      ]),
      startsOn: addMonths(addDays(today, random.number.int({ min: 66, max: 340 })), -termMonths),
      termMonths,
      valueMinor: random.number.int({ min: 6, max: 60 }) * 10_000 * (termMonths / 12),
      noticeDays: random.helpers.arrayElement([30, 60]),
      leadDays: 30,
    };
  });
  // One that does not renew itself ended twelve days ago, and nobody said what follows.
  const over = drawn.findIndex(({ renewsItself, termMonths }) => !renewsItself && termMonths === 12);
  drawn[over] = {
    ...drawn[over]!,
    startsOn: addMonths(addDays(today, -12), -12),
    termsBefore: 0,
    lostFor: null,
  };
  return [story, ...drawn];
}

const lossReasons = ['price', 'went elsewhere', 'closed down', 'no need any more'];

/** What became of an agreement before today, told by its place in the list: nothing is drawn, so that what is drawn after stays as it is. */
function pastOf(
  index: number,
  termMonths: number,
): Pick<
  DemoAgreement,
  'renewsItself' | 'upliftPercent' | 'termsBefore' | 'change' | 'lostFor' | 'isLeaving'
> {
  const isLost = index % 12 === 7;
  const isLeaving = index === 30 || index === 41;
  return {
    renewsItself: index % 5 !== 2,
    upliftPercent: [0, 3, 5, 0, 8][index % 5]!,
    termsBefore: termMonths > 12 ? 0 : isLost ? 1 + (index % 2) : index % 3,
    change: index % 9 === 4 ? { daysAgo: 20 + index, percent: index % 2 === 0 ? 25 : -20 } : null,
    lostFor: (isLost && termMonths === 12) || isLeaving ? lossReasons[index % 4]! : null,
    isLeaving,
  };
}

const taskPurposes: readonly [Channel, string, number][] = [
  ['call', 'did the offer arrive, any questions', 6],
  ['call', 'agree the date of the survey', 6],
  ['email', 'send the running costs', 8],
  ['call', 'ask for the signature', 8],
  ['visit', 'measure the plant room', 45],
  ['call', 'how did the service go', 5],
  ['email', 'two lines after the visit', 5],
  ['text', 'confirm the day', 2],
];

/** When visits are agreed for: apart from each other and from what is in everybody's day. */
const visitMinutes = [620, 790, 960];

function makeTasks(
  random: Faker,
  contacts: readonly DemoContact[],
  deals: readonly DemoDeal[],
  today: string,
): DemoTask[] {
  const tasks: DemoTask[] = [];
  let visits = 0;
  deals.forEach((deal, index) => {
    if (deal.status !== 'open' || looseDeals.has(deal.name)) return;
    if (deal.name.startsWith('Penrow')) {
      tasks.push({
        contact: deal.contact,
        deal: index,
        channel: 'call',
        purpose: 'softener quote, salt use',
        inDays: 0,
        promisedMinute: 600,
        minutes: 10,
        timesMoved: 0,
      });
      return;
    }
    // One in six was left loose; Owen's step comes from his cadence.
    if (deal.name.startsWith('Marrow') || random.datatype.boolean(0.16)) return;
    const isBusy = contacts[deal.contact]!.owner === 0;
    const [channel, purpose, minutes] = random.helpers.arrayElement(taskPurposes);
    const inDays = deal.name.startsWith('Hotel Linde')
      ? -3
      : random.number.int({ min: isBusy ? -4 : -1, max: isBusy ? 3 : 12 });
    const on = nearestWorkingDay(today, inDays);
    // What lies behind has no time any more: it is simply late.
    const isAhead = on > 0;
    tasks.push({
      contact: deal.contact,
      deal: index,
      channel,
      purpose,
      inDays: on,
      promisedMinute: isAhead && channel === 'visit' ? visitMinutes[visits++ % visitMinutes.length]! : null,
      minutes,
      timesMoved: random.helpers.arrayElement([0, 0, 0, 0, 1, 3]),
    });
  });
  contacts.forEach((contact, index) => {
    if (contact.owner === null || !random.datatype.boolean(contact.owner === 0 ? 0.35 : 0.14)) return;
    if (['Prado', 'Baan', 'Quillen', 'Bright', 'Condon'].includes(contact.familyName)) return;
    const [channel, purpose, minutes] = random.helpers.arrayElement(taskPurposes.slice(5));
    tasks.push({
      contact: index,
      deal: null,
      channel,
      purpose,
      inDays: nearestWorkingDay(today, random.number.int({ min: -3, max: 9 })),
      promisedMinute: null,
      minutes,
      timesMoved: 0,
    });
  });
  return [...tasks, ...fieldVisits(contacts, today)];
}

/** What the field reps have this week and the next: two visits a day at their times, and four on the next one at any time. */
function fieldVisits(contacts: readonly DemoContact[], today: string): DemoTask[] {
  const purposes = [
    'test the hardness at the mains',
    'look at the softener',
    'survey the plant room',
    'hand over the salt',
  ];
  return [2, 3].flatMap((owner) => {
    const theirs = contacts.flatMap((contact, index) => (contact.owner === owner ? [index] : []));
    return theirs
      .filter((_, at) => at % 3 === 1)
      .slice(0, 8)
      .map((contact, at): DemoTask => ({
        contact,
        deal: null,
        channel: 'visit' as const,
        purpose: purposes[at % purposes.length]!,
        inDays: nearestWorkingDay(today, 1 + Math.floor(at / 2)),
        promisedMinute: [615, 840][at % 2]! + 15 * (at % 3),
        minutes: 60,
        timesMoved: 0,
      }))
      .concat(
        theirs
          .filter((_, at) => at % 3 === 2)
          .slice(0, 4)
          .map((contact, at) => ({
            ...{
              contact,
              deal: null,
              channel: 'visit' as const,
              purpose: purposes[(at + 1) % purposes.length]!,
            },
            ...{ inDays: nearestWorkingDay(today, 1), promisedMinute: null, minutes: 40, timesMoved: 0 },
          })),
      );
  });
}

function nearestWorkingDay(today: string, inDays: number): number {
  const weekday = isoWeekday(addDays(today, inDays));
  return weekday <= 5 ? inDays : inDays + (8 - weekday);
}

function makeRuns(random: Faker, contacts: readonly DemoContact[], companies: readonly DemoCompany[]) {
  const owen = contacts.findIndex((contact) => contact.familyName === 'Tarrant');
  const people = contacts
    .map((_, index) => index)
    .filter(
      (index) =>
        index !== owen && contacts[index]!.owner !== null && !companies[contacts[index]!.company]!.isCustomer,
    );
  const drawn = random.helpers.arrayElements(people, 26).map((contact) => ({
    contact,
    cadence: random.number.int({ min: 0, max: 4 }),
    startedDaysAgo: random.number.int({ min: 0, max: 9 }),
  }));
  return [{ contact: owen, cadence: 0, startedDaysAgo: 9 }, ...drawn];
}

const pastRunCount = 260;
const mostSteps = 8;

/** More than half of them on the first cadence, so that one has enough cases to tell something. */
function makePastRuns(random: Faker, contacts: readonly DemoContact[]) {
  return Array.from({ length: pastRunCount }, (_, index) => ({
    contact: random.number.int({ min: 0, max: contacts.length - 1 }),
    cadence: index % 8 < 5 ? 0 : 1 + (index % 4),
    startedDaysAgo: random.number.int({ min: 32, max: 190 }),
    luck: Array.from({ length: mostSteps }, () => random.number.float()),
  }));
}
