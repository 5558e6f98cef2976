import { accountsEndpoints } from '../accounts/endpoints';
import { agreementsEndpoints } from '../agreements/endpoints';
import { baseEndpoints } from '../base/endpoints';
import { bulkEndpoints } from '../bulk/endpoints';
import { cadencesEndpoints } from '../cadences/endpoints';
import { calendarEndpoints } from '../calendar/endpoints';
import { changesEndpoints } from '../changes/endpoints';
import { companiesEndpoints } from '../companies/endpoints';
import { contactsEndpoints } from '../contacts/endpoints';
import { dealsEndpoints } from '../deals/endpoints';
import { dossierEndpoints } from '../dossier/endpoints';
import { duplicatesEndpoints } from '../duplicates/endpoints';
import type { EndpointName } from '../endpoints';
import { fieldDaysEndpoints } from '../field-days/endpoints';
import { fieldsEndpoints } from '../fields/endpoints';
import { filesEndpoints } from '../files/endpoints';
import { numbersEndpoints } from '../numbers/endpoints';
import { homeEndpoints } from '../home/endpoints';
import { hooksEndpoints } from '../hooks/endpoints';
import { importsEndpoints } from '../imports/endpoints';
import { invoicesEndpoints } from '../invoices/endpoints';
import { jobsEndpoints } from '../jobs/endpoints';
import { jotEndpoints } from '../jot/endpoints';
import { journalEndpoints } from '../journal/endpoints';
import { leadsEndpoints } from '../leads/endpoints';
import { mailEndpoints } from '../mail/endpoints';
import { notificationsEndpoints } from '../notifications/endpoints';
import { outsideCalendarEndpoints } from '../outside-calendars/endpoints';
import { personalDataEndpoints } from '../personal-data/endpoints';
import { pipelinesEndpoints } from '../pipelines/endpoints';
import { productsEndpoints } from '../products/endpoints';
import { quotasEndpoints } from '../quotas/endpoints';
import { quotesEndpoints } from '../quotes/endpoints';
import { removalEndpoints } from '../removal/endpoints';
import { roundEndpoints } from '../round/endpoints';
import { rulesEndpoints } from '../rules/endpoints';
import { searchEndpoints } from '../search/endpoints';
import { settingsEndpoints } from '../settings/endpoints';
import { stirringsEndpoints } from '../stirrings/endpoints';
import { talkEndpoints } from '../talk/endpoints';
import { tasksEndpoints } from '../tasks/endpoints';
import { teamLogEndpoints } from '../team-log/endpoints';
import { telephoneEndpoints } from '../telephone/endpoints';
import { templatesEndpoints } from '../templates/endpoints';
import { usersEndpoints } from '../users/endpoints';
import { viewsEndpoints } from '../views/endpoints';
import { wordingsEndpoints } from '../wordings/endpoints';
import { apiKeysEndpoints } from './endpoints';
import type { KeyArea } from './kinds';

/** `open` to every key; `never` to any: accounts, keys, what is told outside, whole exports and erasing, and what only a browser needs. */
type Place = KeyArea | 'open' | 'never';

const places: readonly (readonly [Place, readonly object[]])[] = [
  [
    'people',
    [companiesEndpoints, contactsEndpoints, duplicatesEndpoints, removalEndpoints, dossierEndpoints],
  ],
  ['people', [searchEndpoints]],
  ['journal', [journalEndpoints, talkEndpoints, teamLogEndpoints]],
  ['work', [tasksEndpoints, roundEndpoints, jotEndpoints, cadencesEndpoints, stirringsEndpoints]],
  ['work', [notificationsEndpoints]],
  ['deals', [leadsEndpoints, dealsEndpoints, pipelinesEndpoints, productsEndpoints, agreementsEndpoints]],
  ['deals', [quotasEndpoints, numbersEndpoints, quotesEndpoints, invoicesEndpoints]],
  ['calendar', [calendarEndpoints, fieldDaysEndpoints]],
  ['mail', [mailEndpoints, telephoneEndpoints, templatesEndpoints, wordingsEndpoints]],
  ['data', [filesEndpoints, importsEndpoints, bulkEndpoints]],
  ['settings', [settingsEndpoints, fieldsEndpoints, viewsEndpoints, homeEndpoints]],
  ['never', [accountsEndpoints, usersEndpoints, apiKeysEndpoints, hooksEndpoints, personalDataEndpoints]],
  ['never', [rulesEndpoints, jobsEndpoints, changesEndpoints, outsideCalendarEndpoints]],
  ['open', [baseEndpoints]],
];

/** Requests that are apart from the others of their feature. */
const apart: Partial<Record<EndpointName, Place>> = {
  changes: 'never',
  // Who I am, and what my colleagues are called.
  session: 'open',
  listColleagues: 'open',
  sellingSettings: 'settings',
  changeSellingSettings: 'settings',
};

/** Which part each request is of; a test sees to it that none was forgotten. */
export const placed = new Map<string, Place>(
  places.flatMap(([place, features]) =>
    features.flatMap((each) => Object.keys(each).map((name): [string, Place] => [name, place])),
  ),
);

/** Which part of the application a request belongs to, for keys. @example placeOf('moveDeal') // 'deals' */
export const placeOf = (name: EndpointName): Place => apart[name] ?? placed.get(name) ?? 'never';
