import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { makeApp } from './app';
import { makeClock } from './platform/clock';
import { openDatabase } from './platform/database/database';
import { migrate } from './platform/database/migrate';
import { writeDefaults } from './defaults';
import type { Environment } from './platform/environment';
import { follows } from './follows';
import { ChangeFeed } from './platform/change-feed/feed';
import { Calendars, Settings } from './records/settings/index';
import { askForDailyWork, jobKinds } from './features';
import { makeChannels, startListening } from './channels';
import { installCapture } from './platform/work/capture';
import { kindsOf, Worker } from './platform/jobs/worker';
import type { Services } from './platform/services';

export interface RunningServer {
  readonly url: string;
  readonly services: Services;
  stop(): Promise<void>;
}

const dailyWorkEveryMillis = 10 * 60_000;

export function makeServices(environment: Environment): Services {
  const clock = makeClock(environment.KETTLE_NOW);
  const database = openDatabase(environment.KETTLE_DATABASE_URL);
  return {
    database,
    clock,
    feed: new ChangeFeed(database),
    calendars: new Calendars(clock),
    settings: new Settings(),
    channels: makeChannels(environment),
    follows,
    log: pino({ level: environment.KETTLE_LOG }),
  };
}

function lanesOf(services: Services): Worker[] {
  const kinds = jobKinds(services);
  return (['prompt', 'bulk'] as const).map((lane) => new Worker({ services, kinds: kindsOf(lane, kinds) }));
}

/** Migrates, starts the background worker and listens. @throws Error in one sentence when any of it cannot be. */
export async function startServer(environment: Environment, migrations: string): Promise<RunningServer> {
  await migrate(environment.KETTLE_DATABASE_URL, migrations);
  const services = makeServices(environment);
  await installCapture(services.database);
  await writeDefaults(services);
  const lanes = lanesOf(services);
  const poke = () => lanes.forEach((lane) => lane.poke());
  const app = makeApp(services, {
    publicOrigin: environment.KETTLE_PUBLIC_ORIGIN,
    webRoot: environment.KETTLE_WEB_ROOT,
    checkReplies: environment.KETTLE_CHECK_REPLIES,
    afterChange: poke,
  });
  const server = createServer(app);
  await listen(server, environment);
  await askForDailyWork(services);
  const daily = setInterval(
    () => void askForDailyWork(services).catch((error: unknown) => services.log.error({ err: error })),
    dailyWorkEveryMillis,
  );
  lanes.forEach((lane) => lane.start());
  const stopListening = await startListening(environment, services, poke);
  const { port } = server.address() as AddressInfo;
  return {
    url: `http://${environment.KETTLE_HOST}:${port}`,
    services,
    stop: async () => {
      clearInterval(daily);
      await stopListening();
      services.feed.stop();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await Promise.all(lanes.map((lane) => lane.stop()));
      await services.database.close();
    },
  };
}

function listen(server: Server, { KETTLE_HOST, KETTLE_PORT }: Environment): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      const busy = error.code === 'EADDRINUSE';
      reject(
        busy
          ? new Error(`Port ${KETTLE_PORT} is taken by another program. Choose another with --port.`)
          : error,
      );
    });
    server.listen(KETTLE_PORT, KETTLE_HOST, resolve);
  });
}
