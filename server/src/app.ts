import { writeAs } from '@kettle/core/locale';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import compression from 'compression';
import express, { type Express } from 'express';
import { pinoHttp } from 'pino-http';
import { streamChanges } from './platform/change-feed/changes.routes';
import { jobsRoutes } from './records/jobs/index';
import { featureHandlers, features, jobKinds } from './features';
import type { Feature } from './platform/feature';
import { bindRoutes, type Handlers } from './platform/http/bind-routes';
import { answerErrors } from './platform/http/errors';
import { readHealth } from './platform/http/health';
import { checkHost } from './platform/http/hosts';
import { securityHeaders } from './platform/http/headers';
import { serveApiPage } from './platform/http/api-page';
import { describeApi } from './platform/http/open-api';
import { serveMetrics } from './platform/http/metrics';
import { checkOrigin } from './platform/http/origin';
import { Problem } from './platform/problem';
import { serveWeb } from './platform/http/web-files';
import { localeOfRequest } from './platform/work/request';
import type { Services } from './platform/services';
import { checkRequest } from './records/rights/index';
import { isHttps, keyOf, limitUse, whoHoldsKey, whoIs } from './records/users/index';

export interface AppSetting {
  readonly publicOrigin?: string | undefined;
  readonly webRoot?: string | undefined;
  readonly checkReplies?: boolean;
  /** Names this server goes by; null lets every name in. */
  readonly hosts?: readonly string[] | null;
  /** Proxies whose word for a visitor's address counts. */
  readonly trustedProxies?: readonly string[];
  /** Whoever sends it may read figures at /metrics; without one nobody may. */
  readonly metricsToken?: string | null;
  /** Called when a request may have asked for background work. */
  readonly afterChange?: () => void;
}

/** The whole application over its services, not yet listening. */
export function makeApp(services: Services, setting: AppSetting = {}): Express {
  const app = express();
  writeAs(localeOfRequest);
  app.disable('x-powered-by');
  app.set('trust proxy', setting.trustedProxies ?? ['loopback']);
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
  app.use(...securityHeaders({ isHttps: isHttps(services) }));
  app.use(checkHost(setting.hosts ?? null));
  app.use(serveMetrics(app, services, setting.metricsToken ?? null));
  // A stream of events must leave at once, never wait for a block to be full.
  app.use(
    compression({
      filter: (request, response) => request.path !== '/api/changes' && compression.filter(request, response),
    }),
  );
  // What people outside and their machines reach, before anything that asks for our own pages.
  for (const { outside } of features as readonly Feature[])
    if (outside) app.use(path.posix.join('/out', outside.path), outside.router(services));
  app.use(checkOrigin(setting.publicOrigin, (request) => keyOf(request) !== null));
  app.use('/api/imports', express.json({ limit: '22mb' }));
  app.use(express.json({ limit: '512kb' }));
  app.use((request, response, next) => {
    if (request.method !== 'GET') response.on('finish', () => setting.afterChange?.());
    next();
  });
  const holdsKey = whoHoldsKey(services);
  bindRoutes(app, handlersOf(services), {
    // What a page reads again by itself, because others changed something, is nobody's use of it.
    signedIn: (request, name) =>
      keyOf(request) === null
        ? whoIs(services, request, { isUse: request.get('x-idle') === undefined })
        : holdsKey(request, name),
    limit: limitUse(services),
    check: (who, spec, asked) => checkRequest(services.database, who, spec, asked),
    checkReplies: setting.checkReplies ?? false,
  });
  app.use(serveApiPage());
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
    live: async () => ({ ok: true }),
    health: () => readHealth(services),
    // Made when it is first asked for: it takes a second.
    openApi: async () => (description ??= describeApi()),
    changes: streamChanges(services, (request) => whoIs(services, request, { isUse: false })),
    ...jobsRoutes(services, () => jobKinds(services)),
    ...featureHandlers(services),
  };
}
