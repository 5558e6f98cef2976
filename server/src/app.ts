import { randomUUID } from 'node:crypto';
import compression from 'compression';
import express, { type Express } from 'express';
import { pinoHttp } from 'pino-http';
import { agreementsRoutes } from './features/agreements/agreements.routes';
import { bulkRoutes } from './features/bulk/bulk.routes';
import { cadencesRoutes } from './features/cadences/cadences.routes';
import { streamChanges } from './features/changes/changes.routes';
import { companiesRoutes } from './features/companies/companies.routes';
import { dealsRoutes } from './features/deals/deals.routes';
import { duplicatesRoutes } from './features/duplicates/duplicates.routes';
import { fieldsRoutes } from './features/fields/fields.routes';
import { filesRoutes } from './features/files/files.routes';
import { importsRoutes } from './features/imports/imports.routes';
import { jotRoutes } from './features/jot/jot.routes';
import { journalRoutes } from './features/journal/journal.routes';
import { formRoutes } from './features/leads/form.routes';
import { leadsRoutes } from './features/leads/leads.routes';
import { webFormsRoutes } from './features/leads/web-forms';
import { mailRoutes } from './features/mail/mail.routes';
import { outsideRoutes } from './features/mail/outside.routes';
import { notificationsRoutes } from './features/notifications/notifications.routes';
import { peopleRoutes } from './features/people/people.routes';
import { pipelinesRoutes } from './features/pipelines/pipelines.routes';
import { productsRoutes } from './features/products/products.routes';
import { roundRoutes } from './features/round/round.routes';
import { searchRoutes } from './features/search/search.routes';
import { whoIs } from './features/session/session';
import { sessionRoutes } from './features/session/session.routes';
import { closeReasonsRoutes } from './features/settings/close-reasons.routes';
import { journalSettingsRoutes } from './features/settings/journal-settings.routes';
import { spineRoutes } from './features/spine/spine.routes';
import { stirringsRoutes } from './features/stirrings/stirrings.routes';
import { tasksRoutes } from './features/tasks/tasks.routes';
import { telephoneRoutes } from './features/telephone/telephone.routes';
import { templatesRoutes } from './features/templates/templates.routes';
import { viewsRoutes } from './features/views/views.routes';
import { bindRoutes, type Handlers } from './http/bind-routes';
import { answerErrors } from './http/errors';
import { securityHeaders } from './http/headers';
import { describeApi } from './http/open-api';
import { checkOrigin } from './http/origin';
import { Problem } from './http/problem';
import { serveWeb } from './http/web-files';
import type { Services } from './services';

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
    ...peopleRoutes(services),
    ...companiesRoutes(services),
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
