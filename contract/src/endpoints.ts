import { accountsEndpoints } from './accounts/endpoints';
import { agreementsEndpoints } from './agreements/endpoints';
import { apiKeysEndpoints } from './api-keys/endpoints';
import { baseEndpoints } from './base/endpoints';
import { bulkEndpoints } from './bulk/endpoints';
import { cadencesEndpoints } from './cadences/endpoints';
import { fieldDaysEndpoints } from './field-days/endpoints';
import { calendarEndpoints } from './calendar/endpoints';
import { changesEndpoints } from './changes/endpoints';
import { companiesEndpoints } from './companies/endpoints';
import { contactsEndpoints } from './contacts/endpoints';
import { dealsEndpoints } from './deals/endpoints';
import { dossierEndpoints } from './dossier/endpoints';
import { duplicatesEndpoints } from './duplicates/endpoints';
import { fieldsEndpoints } from './fields/endpoints';
import { filesEndpoints } from './files/endpoints';
import { numbersEndpoints } from './numbers/endpoints';
import { homeEndpoints } from './home/endpoints';
import { hooksEndpoints } from './hooks/endpoints';
import { importsEndpoints } from './imports/endpoints';
import { invoicesEndpoints } from './invoices/endpoints';
import { jobsEndpoints } from './jobs/endpoints';
import { jotEndpoints } from './jot/endpoints';
import { journalEndpoints } from './journal/endpoints';
import { leadsEndpoints } from './leads/endpoints';
import { mailEndpoints } from './mail/endpoints';
import { notificationsEndpoints } from './notifications/endpoints';
import { personalDataEndpoints } from './personal-data/endpoints';
import { pipelinesEndpoints } from './pipelines/endpoints';
import { outsideCalendarEndpoints } from './outside-calendars/endpoints';
import { productsEndpoints } from './products/endpoints';
import { quotesEndpoints } from './quotes/endpoints';
import { removalEndpoints } from './removal/endpoints';
import { roundEndpoints } from './round/endpoints';
import { rulesEndpoints } from './rules/endpoints';
import { searchEndpoints } from './search/endpoints';
import { settingsEndpoints } from './settings/endpoints';
import { stirringsEndpoints } from './stirrings/endpoints';
import { tasksEndpoints } from './tasks/endpoints';
import { telephoneEndpoints } from './telephone/endpoints';
import { templatesEndpoints } from './templates/endpoints';
import { wordingsEndpoints } from './wordings/endpoints';
import { quotasEndpoints } from './quotas/endpoints';
import { talkEndpoints } from './talk/endpoints';
import { teamLogEndpoints } from './team-log/endpoints';
import { usersEndpoints } from './users/endpoints';
import { viewsEndpoints } from './views/endpoints';

/** Method and path of every route by name. Kept free of schemas so that the browser can carry it cheaply. */
export const endpoints = {
  ...accountsEndpoints,
  ...agreementsEndpoints,
  ...apiKeysEndpoints,
  ...baseEndpoints,
  ...bulkEndpoints,
  ...cadencesEndpoints,
  ...calendarEndpoints,
  ...fieldDaysEndpoints,
  ...changesEndpoints,
  ...companiesEndpoints,
  ...contactsEndpoints,
  ...dealsEndpoints,
  ...dossierEndpoints,
  ...duplicatesEndpoints,
  ...fieldsEndpoints,
  ...filesEndpoints,
  ...homeEndpoints,
  ...numbersEndpoints,
  ...hooksEndpoints,
  ...importsEndpoints,
  ...invoicesEndpoints,
  ...jobsEndpoints,
  ...jotEndpoints,
  ...journalEndpoints,
  ...leadsEndpoints,
  ...mailEndpoints,
  ...notificationsEndpoints,
  ...personalDataEndpoints,
  ...pipelinesEndpoints,
  ...outsideCalendarEndpoints,
  ...productsEndpoints,
  ...quotesEndpoints,
  ...removalEndpoints,
  ...roundEndpoints,
  ...rulesEndpoints,
  ...searchEndpoints,
  ...settingsEndpoints,
  ...stirringsEndpoints,
  ...tasksEndpoints,
  ...telephoneEndpoints,
  ...templatesEndpoints,
  ...wordingsEndpoints,
  ...quotasEndpoints,
  ...talkEndpoints,
  ...teamLogEndpoints,
  ...usersEndpoints,
  ...viewsEndpoints,
} as const satisfies Record<string, `${'GET' | 'POST' | 'PUT' | 'DELETE'} /api/${string}`>;

export type EndpointName = keyof typeof endpoints;
