import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { makeApp } from './app';
import type { Database } from './platform/database/database';
import { migrate } from './platform/database/migrate';
import { writeDefaults } from './defaults';
import { makeServices } from './make-services';
import type { Environment } from './platform/environment';
import { type BesideThread, startThread } from './thread';
import { askForDailyWork, makeWorker } from './features';
import { closeGently } from './platform/http/close-gently';
import { whenReady } from './platform/heavy';
import { checkClock } from './platform/check-clock';
import { startListening } from './channels';
import { installCapture } from './platform/work/capture';
import { sealSecrets } from './platform/database/secret';
import { sealHookSecrets } from './processes/hooks/index';
import { sealCalendarLogins } from './processes/outside-calendars/index';
import { sealSecondFactors } from './records/users/index';
import type { Services } from './platform/services';

export interface RunningServer {
  readonly url: string;
  readonly services: Services;
  stop(): Promise<void>;
}

/** How long requests that are on their way have when the server is stopped. */
const answerWithinMillis = 10_000;
const dailyWorkEveryMillis = 10 * 60_000;

/**
 * Migrates, starts the background work and listens.
 * @param program the file this program was started from: bulk work runs from it in a thread of its own
 * @throws Error in one sentence when any of it cannot be.
 */
export async function startServer(
  environment: Environment,
  migrations: string,
  program: string,
): Promise<RunningServer> {
  let isStopping = false;
  await migrate(environment.KETTLE_DATABASE_URL, migrations);
  const made = makeServices(environment, {
    statementSeconds: environment.KETTLE_STATEMENT_SECONDS,
    queueLimit: 400,
  });
  await checkClock(made.database, made.clock);
  await installCapture(made.database);
  await sealEverything(made.database);
  await writeDefaults(made);
  const threads: { bulk: BesideThread | null; quick: BesideThread | null } = { bulk: null, quick: null };
  const services: Services = {
    ...made,
    heavy: { run: (task, input) => threads.bulk!.run(task, input) },
    quick: whenReady(() => threads.quick, made.quick),
  };
  const prompt = makeWorker(services, 'prompt');
  const patient = makeWorker(services, 'patient');
  const poke = () => [prompt, patient, threads.bulk].forEach((lane) => lane?.poke());
  const app = makeApp(services, {
    publicOrigin: environment.KETTLE_PUBLIC_ORIGIN,
    webRoot: environment.KETTLE_WEB_ROOT,
    hosts: hostsOf(environment, services.channels.publicOrigin),
    trustedProxies: environment.KETTLE_TRUSTED_PROXIES,
    metricsToken: environment.KETTLE_METRICS_TOKEN ?? null,
    checkReplies: environment.KETTLE_CHECK_REPLIES,
    afterChange: poke,
  });
  const server = createServer(app);
  await listen(server, environment);
  // From here on it answers; what takes a while comes after, one thread after the other: the first requests come while they load.
  const bulk = startThread('bulk', environment, made, program);
  threads.bulk = bulk;
  void bulk.loaded.then(() => {
    if (!isStopping) threads.quick = startThread('quick', environment, made, program);
  });
  const askDaily = () =>
    void askForDailyWork(services).catch((error: unknown) => services.log.error({ err: error }));
  const daily = setInterval(askDaily, dailyWorkEveryMillis);
  setImmediate(askDaily);
  prompt.start();
  patient.start();
  const stopListening = await startListening(environment, services, poke);
  const { port } = server.address() as AddressInfo;
  return {
    url: `http://${environment.KETTLE_HOST}:${port}`,
    services,
    stop: async () => {
      isStopping = true;
      clearInterval(daily);
      await stopListening();
      // Streams never end by themselves; their browsers come back to whichever server is there.
      services.feed.close();
      await closeGently(server, answerWithinMillis);
      await Promise.all([prompt.stop(), patient.stop(), bulk.stop(), threads.quick?.stop()]);
      await services.database.close();
    },
  };
}

/** What an older version left open, or a key that is going out sealed, is sealed with the key that seals now. */
const sealEverything = (database: Database) =>
  database.transaction(async (tx) => {
    await sealSecrets(tx);
    // They lay under one of those keys before.
    await sealSecondFactors(tx);
    await sealCalendarLogins(tx);
    await sealHookSecrets(tx);
  });

/** Its own address, the public one's name, those that are set, and the names of this machine. */
function hostsOf({ KETTLE_HOST, KETTLE_HOSTS }: Environment, publicOrigin: string): string[] {
  return [KETTLE_HOST, new URL(publicOrigin).hostname, 'localhost', '127.0.0.1', '[::1]', ...KETTLE_HOSTS];
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
