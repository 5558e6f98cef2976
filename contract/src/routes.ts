import type * as z from 'zod';
import { type RouteSpec } from './base/route';
import { type EndpointName } from './endpoints';
import { accountsRoutes } from './accounts/routes';
import { agreementsRoutes } from './agreements/routes';
import { apiKeysRoutes } from './api-keys/routes';
import { baseRoutes } from './base/routes';
import { bulkRoutes } from './bulk/routes';
import { cadencesRoutes } from './cadences/routes';
import { fieldDaysRoutes } from './field-days/routes';
import { calendarRoutes } from './calendar/routes';
import { changesRoutes } from './changes/routes';
import { companiesRoutes } from './companies/routes';
import { contactsRoutes } from './contacts/routes';
import { dealsRoutes } from './deals/routes';
import { dossierRoutes } from './dossier/routes';
import { duplicatesRoutes } from './duplicates/routes';
import { fieldsRoutes } from './fields/routes';
import { filesRoutes } from './files/routes';
import { numbersRoutes } from './numbers/routes';
import { homeRoutes } from './home/routes';
import { hooksRoutes } from './hooks/routes';
import { importsRoutes } from './imports/routes';
import { invoicesRoutes } from './invoices/routes';
import { jobsRoutes } from './jobs/routes';
import { jotRoutes } from './jot/routes';
import { journalRoutes } from './journal/routes';
import { leadsRoutes } from './leads/routes';
import { mailRoutes } from './mail/routes';
import { notificationsRoutes } from './notifications/routes';
import { personalDataRoutes } from './personal-data/routes';
import { pipelinesRoutes } from './pipelines/routes';
import { outsideCalendarRoutes } from './outside-calendars/routes';
import { productsRoutes } from './products/routes';
import { quotesRoutes } from './quotes/routes';
import { removalRoutes } from './removal/routes';
import { roundRoutes } from './round/routes';
import { rulesRoutes } from './rules/routes';
import { searchRoutes } from './search/routes';
import { settingsRoutes } from './settings/routes';
import { stirringsRoutes } from './stirrings/routes';
import { tasksRoutes } from './tasks/routes';
import { telephoneRoutes } from './telephone/routes';
import { templatesRoutes } from './templates/routes';
import { wordingsRoutes } from './wordings/routes';
import { quotasRoutes } from './quotas/routes';
import { talkRoutes } from './talk/routes';
import { teamLogRoutes } from './team-log/routes';
import { usersRoutes } from './users/routes';
import { viewsRoutes } from './views/routes';

/** Every route of the application: the one table that server, browser, OpenAPI and the rights test share. */
export const routes = {
  ...accountsRoutes,
  ...agreementsRoutes,
  ...apiKeysRoutes,
  ...baseRoutes,
  ...bulkRoutes,
  ...cadencesRoutes,
  ...calendarRoutes,
  ...fieldDaysRoutes,
  ...changesRoutes,
  ...companiesRoutes,
  ...contactsRoutes,
  ...dealsRoutes,
  ...dossierRoutes,
  ...duplicatesRoutes,
  ...fieldsRoutes,
  ...filesRoutes,
  ...homeRoutes,
  ...hooksRoutes,
  ...importsRoutes,
  ...invoicesRoutes,
  ...jobsRoutes,
  ...jotRoutes,
  ...journalRoutes,
  ...leadsRoutes,
  ...mailRoutes,
  ...notificationsRoutes,
  ...numbersRoutes,
  ...personalDataRoutes,
  ...pipelinesRoutes,
  ...outsideCalendarRoutes,
  ...productsRoutes,
  ...quotesRoutes,
  ...removalRoutes,
  ...roundRoutes,
  ...rulesRoutes,
  ...searchRoutes,
  ...settingsRoutes,
  ...stirringsRoutes,
  ...tasksRoutes,
  ...telephoneRoutes,
  ...templatesRoutes,
  ...wordingsRoutes,
  ...quotasRoutes,
  ...talkRoutes,
  ...teamLogRoutes,
  ...usersRoutes,
  ...viewsRoutes,
} as const satisfies Record<EndpointName, RouteSpec>;

export type Routes = typeof routes;

type Part<Spec, Key extends string> = Spec extends Record<Key, z.ZodType> ? z.input<Spec[Key]> : undefined;

/** What a caller sends to a route: path parameters, query and body, each only where the route takes it. */
export type CallOf<Name extends EndpointName> = {
  params?: Part<Routes[Name], 'params'>;
  query?: Part<Routes[Name], 'query'>;
  body?: Part<Routes[Name], 'body'>;
};
export type ReplyOf<Name extends EndpointName> = z.output<Routes[Name]['reply']>;
