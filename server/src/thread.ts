import { parentPort, Worker as Thread, workerData } from 'node:worker_threads';
import { writeAs } from '@kettle/core/locale';
import { makeWorker } from './features';
import { clockAhead } from './platform/clock';
import type { Environment } from './platform/environment';
import type { Heavy } from './platform/heavy';
import { Problem } from './platform/problem';
import type { Services } from './platform/services';
import { makeServices } from './make-services';
import { loadLanguages } from './platform/language/language';
import { localeOfRequest } from './platform/work/request';

type Order =
  | { readonly kind: 'task'; readonly id: number; readonly task: string; readonly input: unknown }
  | { readonly kind: 'poke' | 'stop' };
/** What a thread is for: bulk jobs and long tasks, or short tasks alone. */
export type ThreadKind = 'bulk' | 'quick';
interface ThreadData {
  readonly kind: ThreadKind;
  readonly environment: Environment;
  /** {@link Clock.ahead} of the thread that answers. */
  readonly ahead: number;
}
interface Refusal {
  readonly code: Problem['code'] | null;
  readonly message: string;
}
interface Report {
  /** Of the task it answers; 0 says that the thread has loaded. */
  readonly id: number;
  readonly reply: unknown;
  readonly refusal: Refusal | null;
}

/** A thread beside it, as the thread that answers requests sees it. */
export interface BesideThread extends Heavy {
  /** Whether it has loaded, and lives. */
  isReady(): boolean;
  /** Once it has loaded for the first time. */
  readonly loaded: Promise<void>;
  /** Looks for work now instead of at the next turn. */
  poke(): void;
  /** Stops after the job at hand. */
  stop(): Promise<void>;
}

const restartMillis = 1000;

/**
 * Starts a thread: the lane of bulk jobs and the heavy tasks have one, since parsing a file of 100,000 rows would hold up every request
 * of the thread that answers; the quick tasks another. A thread that dies is started again; a task it was at is refused.
 * @param program the file this program was started from, which calls `serveThread` in a thread
 */
export function startThread(
  kind: ThreadKind,
  environment: Environment,
  services: Services,
  program: string,
): BesideThread {
  let isStopping = false;
  let isReady = false;
  let sayLoaded: () => void = () => undefined;
  const loaded = new Promise<void>((resolve) => (sayLoaded = resolve));
  let lastId = 0;
  const waiting = new Map<number, { resolve: (reply: unknown) => void; reject: (error: unknown) => void }>();
  let thread = start();

  function start(): Thread {
    const started = new Thread(program, {
      workerData: { kind, environment, ahead: services.clock.ahead() } satisfies ThreadData,
    });
    started.on('message', ({ id, reply, refusal }: Report) => {
      if (id === 0) {
        isReady = true;
        sayLoaded();
      }
      const asked = waiting.get(id);
      waiting.delete(id);
      if (refusal === null) asked?.resolve(reply);
      else asked?.reject(errorOf(refusal));
    });
    started.on('error', (error) => services.log.error({ err: error, kind }, 'a thread failed'));
    started.on('exit', () => {
      isReady = false;
      for (const { reject } of waiting.values()) reject(new Error(`the ${kind} thread ended`));
      waiting.clear();
      if (!isStopping) setTimeout(() => (thread = isStopping ? thread : start()), restartMillis).unref();
    });
    return started;
  }

  const order = (given: Order) => thread.postMessage(given);
  return {
    isReady: () => isReady,
    loaded,
    poke: () => order({ kind: 'poke' }),
    run: (task, input) =>
      new Promise((resolve, reject) => {
        const id = (lastId += 1);
        waiting.set(id, { resolve, reject });
        order({ kind: 'task', id, task, input });
      }),
    stop: () =>
      new Promise((resolve) => {
        isStopping = true;
        if (thread.threadId === -1) return resolve();
        thread.once('exit', () => resolve());
        order({ kind: 'stop' });
      }),
  };
}

const errorOf = ({ code, message }: Refusal): Error =>
  code === null ? new Error(message) : Object.assign(new Problem(code), { message });

/** The other side: what runs inside the thread. */
export function serveThread(): void {
  const port = parentPort!;
  const { kind, environment, ahead } = workerData as ThreadData;
  // Its clock is ours, however long the thread took to begin: what is due for us is due for it.
  const services = makeServices(environment, {}, clockAhead(ahead));
  writeAs(localeOfRequest);
  if (environment.KETTLE_WEB_ROOT) loadLanguages(environment.KETTLE_WEB_ROOT);
  const lane = kind === 'bulk' ? makeWorker(services, 'bulk') : null;
  lane?.start();
  const carryOut = async ({ id, task, input }: Extract<Order, { kind: 'task' }>) => {
    let reply: unknown = null;
    let refusal: Refusal | null = null;
    try {
      reply = await (kind === 'bulk' ? services.heavy : services.quick).run(task, input);
    } catch (error) {
      if (!(error instanceof Problem)) services.log.error({ err: error, task }, 'a heavy task failed');
      const message = error instanceof Error ? error.message : String(error);
      refusal = { code: error instanceof Problem ? error.code : null, message };
    }
    port.postMessage({ id, reply, refusal } satisfies Report);
  };
  port.postMessage({ id: 0, reply: null, refusal: null } satisfies Report);
  port.on('message', (order: Order) => {
    if (order.kind === 'task') void carryOut(order);
    else if (order.kind === 'poke') lane?.poke();
    else
      void Promise.resolve(lane?.stop())
        .then(() => services.database.close())
        .then(() => process.exit(0));
  });
}
