import { timingSafeEqual } from 'node:crypto';
import { endpoints, type EndpointName } from '@kettle/contract';
import type { Express, RequestHandler } from 'express';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { Services } from '../services';

const seconds = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10];

/**
 * Figures for an operator at `/metrics`, in the text format of OpenMetrics' forerunner that every collector reads: requests by route and status
 * with their time, jobs by state, open streams, and the process. Only for whoever knows the token; without one there is no such page.
 */
export function serveMetrics(app: Express, services: Services, token: string | null): RequestHandler {
  const register = new Registry();
  collectDefaultMetrics({ register });
  const took = new Histogram({
    name: 'kettle_request_seconds',
    help: 'Time to answer, by route and status',
    labelNames: ['route', 'status'],
    buckets: seconds,
    registers: [register],
  });
  new Gauge({
    name: 'kettle_jobs',
    help: 'Background jobs by state',
    labelNames: ['state'],
    registers: [register],
    async collect() {
      this.reset();
      const rows = await services.database.rows<{ state: string; n: string }>(
        'SELECT state, COUNT(*) AS n FROM job GROUP BY state ORDER BY state',
      );
      for (const { state, n } of rows) this.set({ state }, Number(n));
    },
  });
  new Gauge({
    name: 'kettle_streams',
    help: 'Browsers that hear of changes',
    registers: [register],
    collect() {
      this.set(services.feed.listeners);
    },
  });
  if (token !== null)
    app.get('/metrics', async (request, response) => {
      if (!isToken(request.get('authorization'), token)) {
        response.status(401).type('text/plain').send('Send the token as: Authorization: Bearer …\n');
        return;
      }
      response.type(register.contentType).send(await register.metrics());
    });
  return (request, response, next) => {
    const end = took.startTimer();
    response.on('finish', () => {
      // The stream's time is how long somebody had the page open.
      const route = routeOf(request.method, request.route as { path?: string } | undefined);
      if (route !== 'changes') end({ route, status: String(response.statusCode) });
    });
    next();
  };
}

const nameOf = new Map(
  (Object.keys(endpoints) as EndpointName[]).map((name) => [endpoints[name] as string, name as string]),
);
const routeOf = (method: string, route: { path?: string } | undefined) =>
  nameOf.get(`${method} ${route?.path ?? ''}`) ?? 'other';

function isToken(header: string | undefined, token: string): boolean {
  const [given, wanted] = [Buffer.from(header ?? ''), Buffer.from(`Bearer ${token}`)];
  return given.length === wanted.length && timingSafeEqual(given, wanted);
}
