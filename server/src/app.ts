import { randomUUID } from 'node:crypto';
import compression from 'compression';
import express, { type Express } from 'express';
import { pinoHttp } from 'pino-http';
import { changesRoutes } from './activity/changes/changes.routes';
import { removalRoutes } from './processes/removal/removal.routes';
import { agreementsRoutes } from './processes/agreements/agreements.routes';
import { bulkRoutes } from './processes/bulk/bulk.routes';
import { cadencesRoutes } from './processes/cadences/cadences.routes';
import { streamChanges } from './platform/change-feed/changes.routes';
import { companiesRoutes } from './records/companies/companies.routes';
import { companyRoutes } from './screens/company/company.routes';
import { dealsRoutes } from './processes/deals/deals.routes';
import { duplicatesRoutes } from './processes/duplicates/duplicates.routes';
import { fieldsRoutes } from './records/fields/fields.routes';
import { filesRoutes } from './records/files/files.routes';
import { importsRoutes } from './processes/imports/imports.routes';
import { jotRoutes } from './screens/jot/jot.routes';
import { journalRoutes } from './activity/journal/journal.routes';
import { loggingRoutes } from './processes/logging/logging.routes';
import { formRoutes } from './processes/leads/form.routes';
import { leadsRoutes } from './processes/leads/leads.routes';
import { webFormsRoutes } from './processes/leads/web-forms';
import { mailRoutes } from './processes/mail/mail.routes';
import { outsideRoutes } from './processes/outside/outside.routes';
import { notificationsRoutes } from './records/notifications/notifications.routes';
import { peopleRoutes } from './records/contacts/people.routes';
import { pipelinesRoutes } from './processes/pipelines/pipelines.routes';
import { productsRoutes } from './records/products/products.routes';
import { roundRoutes } from './screens/round/round.routes';
import { searchRoutes } from './activity/search/search.routes';
import { whoIs } from './records/users/session';
import { sessionRoutes } from './records/users/session.routes';
import { closeReasonsRoutes } from './records/settings/close-reasons.routes';
import { journalSettingsRoutes } from './records/settings/journal-settings.routes';
import { spineRoutes } from './activity/calendar/calendar.routes';
import { stirringsRoutes } from './processes/stirrings/stirrings.routes';
import { tasksRoutes } from './activity/tasks/tasks.routes';
import { telephoneRoutes } from './processes/telephone/telephone.routes';
import { templatesRoutes } from './processes/templates/templates.routes';
import { viewsRoutes } from './records/views/views.routes';
import { bindRoutes, type Handlers } from './platform/http/bind-routes';
import { answerErrors } from './platform/http/errors';
import { securityHeaders } from './platform/http/headers';
import { describeApi } from './platform/http/open-api';
import { checkOrigin } from './platform/http/origin';
import { Problem } from './platform/problem';
import { serveWeb } from './platform/http/web-files';
import type { Services } from './platform/services';

export interface AppSetting {
  readonly publicOrigin?: string | undefined;
  readonly webRoot?: string | undefined;
  readonly checkReplies?: boolean;
  /** Called when a request may have asked for background work. */
  readonly afterChange?: () => void;
}

/** The whole application over its services, not yet listening. */
export function makeApp(services: Services, setting: AppSetting = {}): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', 'loopback');
  app.use(
    pinoHttp({
      logger: services.log,
      genReqId: () => randomUUID(),
      // Only what tells requests apart: no addresses, no cookies, no bodies.
      serializers: {
        req: ({ id, method, url }: { id: string; method: string; url: string }) => ({
          id,
          method,
          path: url.split('?')[0],
        }),
        res: ({ statusCode }: { statusCode: number }) => ({ statusCode }),
      },
      customLogLevel: (_request, response) => (response.statusCode >= 500 ? 'error' : 'debug'),
    }),
  );
  app.use(...securityHeaders());
  // A stream of events must leave at once, never wait for a block to be full.
  app.use(
    compression({
      filter: (request, response) => request.path !== '/api/changes' && compression.filter(request, response),
    }),
  );
  // What people outside and their machines reach, before anything that asks for our own pages.
  app.use('/out/forms', formRoutes(services));
  app.use('/out', outsideRoutes(services));
  app.use(checkOrigin(setting.publicOrigin));
  app.use('/api/imports', express.json({ limit: '22mb' }));
  app.use(express.json({ limit: '512kb' }));
  app.use((request, response, next) => {
    if (request.method !== 'GET') response.on('finish', () => setting.afterChange?.());
    next();
  });
  bindRoutes(app, handlersOf(services), {
    signedIn: (request) => whoIs(services, request),
    checkReplies: setting.checkReplies ?? false,
  });
  app.use('/api', () => {
    throw new Problem('no-such-route');
  });
  if (setting.webRoot !== undefined) serveWeb(app, setting.webRoot);
  app.use(answerErrors);
  return app;
}

function handlersOf(services: Services): Handlers {
  let description: Record<string, unknown> | undefined;
  return {
    health: async () => {
      await services.database.rows('SELECT 1');
      return { ok: true };
    },
    // Made when it is first asked for: it takes a second.
    openApi: async () => (description ??= describeApi()),
    changes: streamChanges(services),
    ...sessionRoutes(services),
    ...removalRoutes(services),
    ...changesRoutes(services),
    ...peopleRoutes(services),
    ...companiesRoutes(services),
    ...companyRoutes(services),
    ...fieldsRoutes(services),
    ...duplicatesRoutes(services),
    ...bulkRoutes(services),
    ...viewsRoutes(services),
    ...filesRoutes(services),
    ...searchRoutes(services),
    ...jotRoutes(services),
    ...notificationsRoutes(services),
    ...journalSettingsRoutes(services),
    ...journalRoutes(services),
    ...loggingRoutes(services),
    ...tasksRoutes(services),
    ...importsRoutes(services),
    ...cadencesRoutes(services),
    ...leadsRoutes(services),
    ...webFormsRoutes(services),
    ...dealsRoutes(services),
    ...pipelinesRoutes(services),
    ...productsRoutes(services),
    ...closeReasonsRoutes(services),
    ...agreementsRoutes(services),
    ...roundRoutes(services),
    ...spineRoutes(services),
    ...templatesRoutes(services),
    ...mailRoutes(services),
    ...stirringsRoutes(services),
    ...telephoneRoutes(services),
  };
}
