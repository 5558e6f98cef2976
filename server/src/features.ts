import { companiesFeature } from './records/companies/index';
import { contactsFeature } from './records/contacts/index';
import { countedFeature } from './records/counted/index';
import { documentsFeature } from './records/documents/index';
import { fieldsFeature } from './records/fields/index';
import { filesFeature } from './records/files/index';
import { notificationsFeature } from './records/notifications/index';
import { productsFeature } from './records/products/index';
import { quotasFeature } from './records/quotas/index';
import { settingsFeature } from './records/settings/index';
import { usersFeature } from './records/users/index';
import { viewsFeature } from './records/views/index';
import { calendarFeature } from './activity/calendar/index';
import { changesFeature } from './activity/changes/index';
import { journalFeature } from './activity/journal/index';
import { searchFeature } from './activity/search/index';
import { talkFeature } from './activity/talk/index';
import { tasksFeature } from './activity/tasks/index';
import { touchFeature } from './activity/touch/index';
import { accountsFeature } from './processes/accounts/index';
import { agreementsFeature } from './processes/agreements/index';
import { apiKeysFeature } from './processes/api-keys/index';
import { bulkFeature } from './processes/bulk/index';
import { cadencesFeature } from './processes/cadences/index';
import { dealsFeature } from './processes/deals/index';
import { duplicatesFeature } from './processes/duplicates/index';
import { hooksFeature } from './processes/hooks/index';
import { importsFeature } from './processes/imports/index';
import { leadsFeature } from './processes/leads/index';
import { loggingFeature } from './processes/logging/index';
import { mailFeature } from './processes/mail/index';
import { outsideCalendarsFeature } from './processes/outside-calendars/index';
import { outsideFeature } from './processes/outside/index';
import { personalDataFeature } from './processes/personal-data/index';
import { pipelinesFeature } from './processes/pipelines/index';
import { invoicesFeature } from './processes/invoices/index';
import { quotesFeature } from './processes/quotes/index';
import { forecastFeature } from './processes/forecast/index';
import { removalFeature } from './processes/removal/index';
import { renewalsFeature } from './processes/renewals/index';
import { rulesFeature } from './processes/rules/index';
import { stirringsFeature } from './processes/stirrings/index';
import { takingInFeature } from './processes/taking-in/index';
import { telephoneFeature } from './processes/telephone/index';
import { templatesFeature } from './processes/templates/index';
import { wordingsFeature } from './processes/wordings/index';
import { dossierFeature } from './screens/dossier/index';
import { fieldDaysFeature } from './screens/field-days/index';
import { homeFeature } from './screens/home/index';
import { numbersFeature } from './screens/numbers/index';
import { morningFeature } from './screens/morning/index';
import { setupFeature } from './screens/setup/index';
import { jotFeature } from './screens/jot/index';
import { roundFeature } from './screens/round/index';
import { teamLogFeature } from './screens/team-log/index';
import type { EndpointName } from '@kettle/contract';
import type { Handlers } from './platform/http/bind-routes';
import type { Answered, Feature } from './platform/feature';
import type { HeavyTasks } from './platform/heavy';
import { enqueue, oncePerDay } from './platform/jobs/job-table';
import { sweepJob, sweepKind, sweptJobs } from './platform/jobs/sweep';
import { kindsOf, Worker, type JobKinds, type Lane } from './platform/jobs/worker';
import { tellOfFailure } from './records/jobs/index';
import type { Services } from './platform/services';

/** Everything the application is made of. A new feature is one more line. */
export const features = [
  companiesFeature,
  contactsFeature,
  countedFeature,
  documentsFeature,
  fieldsFeature,
  filesFeature,
  notificationsFeature,
  productsFeature,
  quotasFeature,
  settingsFeature,
  usersFeature,
  viewsFeature,
  calendarFeature,
  changesFeature,
  journalFeature,
  searchFeature,
  talkFeature,
  tasksFeature,
  touchFeature,
  accountsFeature,
  agreementsFeature,
  apiKeysFeature,
  bulkFeature,
  cadencesFeature,
  dealsFeature,
  duplicatesFeature,
  hooksFeature,
  importsFeature,
  leadsFeature,
  loggingFeature,
  mailFeature,
  outsideFeature,
  outsideCalendarsFeature,
  personalDataFeature,
  pipelinesFeature,
  invoicesFeature,
  quotesFeature,
  removalFeature,
  renewalsFeature,
  rulesFeature,
  stirringsFeature,
  takingInFeature,
  telephoneFeature,
  templatesFeature,
  wordingsFeature,
  dossierFeature,
  fieldDaysFeature,
  homeFeature,
  forecastFeature,
  numbersFeature,
  morningFeature,
  setupFeature,
  jotFeature,
  roundFeature,
  teamLogFeature,
] as const satisfies readonly Feature[];

/** Requests that the application answers itself. */
export type OwnNames = 'live' | 'health' | 'openApi' | 'changes' | 'failedJobs' | 'retryJob';

type Nothing<Left extends never> = Left;
/** A request of the contract that no feature answers is an error in this line, by its name. */
type Unanswered = Nothing<Exclude<EndpointName, OwnNames | Answered<typeof features>>>;

/** The answers of all features. @throws Error when two of them answer the same request. */
export function featureHandlers(services: Services): Omit<Handlers, OwnNames | Unanswered> {
  return merged(features.map((feature: Feature) => feature.routes?.(services) ?? {})) as Handlers;
}

/** Every kind of background work, by name. */
export function jobKinds(services: Services): JobKinds {
  const swept = features.flatMap((feature: Feature) => feature.swept ?? []);
  return merged([
    ...features.map((feature: Feature) => feature.jobs?.(services) ?? {}),
    { [sweepKind]: sweepJob([...swept, ...sweptJobs]) },
  ]);
}

/** What works through the jobs of one lane, or of both. */
export function makeWorker(services: Services, lane?: Lane): Worker {
  const kinds = jobKinds(services);
  return new Worker({
    services,
    kinds: lane === undefined ? kinds : kindsOf(lane, kinds),
    onFailed: tellOfFailure,
  });
}

/** Every long computation that a request may wait for, by name. */
export function heavyTasks(): HeavyTasks {
  return merged(features.map((feature: Feature) => feature.heavy ?? {}));
}

/** Every short one. */
export function quickTasks(): HeavyTasks {
  return merged(features.map((feature: Feature) => feature.quick ?? {}));
}

/** Asks for today's recurring work; asking again, from any server, changes nothing. */
export async function askForDailyWork(services: Services): Promise<void> {
  const now = services.clock.now();
  await enqueue(services.database, oncePerDay(sweepKind, now));
  for (const { daily } of features as readonly Feature[])
    for (const job of (await daily?.(services, now)) ?? []) await enqueue(services.database, job);
}

function merged<Value>(parts: readonly Readonly<Record<string, Value>>[]): Record<string, Value> {
  const all: Record<string, Value> = {};
  for (const part of parts)
    for (const [name, value] of Object.entries(part)) {
      if (name in all) throw new Error(`two features register ${name}`);
      all[name] = value;
    }
  return all;
}
