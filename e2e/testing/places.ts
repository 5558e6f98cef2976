import type { Page } from '@playwright/test';

const settings =
  'me told account keys hooks rules team rights security personal-data round standings journal pipelines products leads fields setup organisation mail background'.split(
    ' ',
  );

/** Addresses with a record in them, of the demo's first of each kind. */
async function records(page: Page): Promise<string[]> {
  const first = (path: string, key: string) =>
    page.evaluate(
      async ([address, list]) => {
        const reply = (await (await fetch(address)).json()) as Record<string, { id: string }[]>;
        return reply[list]![0]!.id;
      },
      [`/api/${path}`, key] as const,
    );
  const [contact, company, deal, lead, cadence, agreement] = await Promise.all([
    first('contacts?owner=all&q=maud', 'rows'),
    first('companies?owner=all', 'rows'),
    first('deals?owner=all', 'rows'),
    first('leads?owner=all', 'rows'),
    first('cadences', 'cadences'),
    first('agreements?owner=all', 'rows'),
  ]);
  return [
    ...[`people/${contact}`, `companies/${company}`, `deals/${deal}`, `people?person=${contact}`],
    ...[`deals/leads/${lead}`, `deals/leads/${lead}/qualify`, `cadences/${cadence}`],
    `agreements/${agreement}`,
  ];
}

const places = [
  ...['home', 'team', 'team?part=ranking', 'team?part=quotas'],
  ...['round', 'round/done', 'walk', 'people?owner=all', 'import', 'people/duplicates'],
  ...[
    'people/companies',
    'tasks?owner=team',
    'deals?owner=all',
    'deals?as=list&owner=all',
    'deals/leads?owner=all',
    'deals/leads?owner=all&as=drop-off',
  ],
  ...[
    'cadences',
    'cadences/templates',
    'cadences/new',
    'mail',
    'calendar',
    'calendar?view=month',
    'calendar?view=day&who=team',
    'calendar?view=agenda',
    'calendar/road',
    'walk/end',
    'numbers?whose=team&months=3',
    'numbers?part=chances',
    'renewals?owner=all',
    'renewals?owner=all&as=at%20stake',
    'renewals?owner=all&as=retention',
    'search?q=maud',
    'changes',
  ],
  ...settings.map((part) => `settings?part=${part}`),
];

/** The address of every page, as whoever is signed in reaches it. */
export const everyPlace = async (page: Page): Promise<string[]> => [...places, ...(await records(page))];
