import type { Database } from '../database/database';
import { newId } from '../ids';
import type { Services } from '../services';
import { workInside, type Work } from '../work/work';
import {
  claim,
  giveBack,
  mark,
  markGuarded,
  reap,
  release,
  shardsWithWork,
  type ClaimedJob,
} from './job-table';

/** Bulk work has a lane of its own: a mail is read and a reminder sent while a large file is being written. */
export type Lane = 'prompt' | 'bulk';

/** How a kind of job is carried out, in the prompt lane if it does not name another. */
export type JobKind = { readonly lane?: Lane } &
  /**
   * Only writes to the database: its work, a change set, and its "done" are one transaction, so it happens exactly once.
   * `isBulk` tells no browser of each record.
   */
  (
    | {
        readonly effect: 'database';
        readonly isBulk?: boolean;
        run(w: Work<null>, payload: unknown): Promise<void>;
      }
    /**
     * Reaches outside behind a guard of its own (a row it takes before it acts), and may be run again: a crash only means
     * that the next run finds the guard as it was left.
     */
    | { readonly effect: 'guarded'; run(payload: unknown): Promise<void> }
    /** Reaches outside: marked as acting first, so that a crash in between is held for a person, never repeated. */
    | { readonly effect: 'outside'; run(payload: unknown, jobId: string): Promise<void> }
  );

export type JobKinds = Readonly<Record<string, JobKind>>;

export function kindsOf(lane: Lane, kinds: JobKinds): JobKinds {
  return Object.fromEntries(Object.entries(kinds).filter(([, kind]) => (kind.lane ?? 'prompt') === lane));
}

export interface WorkerSetting {
  readonly services: Services;
  readonly kinds: JobKinds;
  readonly everyMillis?: number;
}

class LeaseLost extends Error {}

/** Works through due jobs until it is stopped; any number of these may run over one database. */
export class Worker {
  private stopping = false;
  private wake: (() => void) | undefined;
  private loop: Promise<void> | undefined;

  constructor(private readonly setting: WorkerSetting) {}

  start(): void {
    this.loop ??= this.work();
  }

  /** Stops after the job at hand. */
  async stop(): Promise<void> {
    this.stopping = true;
    this.wake?.();
    await this.loop;
  }

  /** Looks for work now instead of at the next turn. */
  poke(): void {
    this.wake?.();
  }

  private async work(): Promise<void> {
    while (!this.stopping) {
      const busy = await this.round().catch((error: unknown) => {
        this.setting.services.log.error({ err: error }, 'looking for jobs failed');
        return false;
      });
      if (!busy && !this.stopping) await this.pause();
    }
  }

  private pause(): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, this.setting.everyMillis ?? 1000);
      this.wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  /** One pass over the shards with work; true when something was done. */
  async round(): Promise<boolean> {
    const { kinds } = this.setting;
    const { database, clock } = this.setting.services;
    await reap(database);
    let busy = false;
    for (const shard of await shardsWithWork(database, clock.now(), Object.keys(kinds))) {
      const jobs = await claim(database, shard, clock.now(), Object.keys(kinds));
      for (const job of jobs) {
        if (this.stopping) {
          await release(database, job.token);
          return busy;
        }
        await this.carryOut(job);
        busy = true;
      }
    }
    return busy;
  }

  private async carryOut(job: ClaimedJob): Promise<void> {
    const { services, kinds } = this.setting;
    const { database, log, clock } = services;
    const kind = kinds[job.kind]!;
    try {
      if (kind.effect === 'database') await doInside(services, job, kind);
      else if (kind.effect === 'guarded') await doGuarded(database, job, kind);
      else await doOutside(database, job, kind);
      services.feed.poke();
    } catch (error) {
      if (error instanceof LeaseLost) return;
      log.error({ err: error, job: job.id, kind: job.kind }, 'job failed');
      await giveBack(database, job, error instanceof Error ? error.message : String(error), clock.now());
    }
  }
}

async function doInside(
  services: Services,
  job: ClaimedJob,
  kind: Extract<JobKind, { effect: 'database' }>,
): Promise<void> {
  const id = newId<string>();
  const options = { id, act: job.kind, hash: null, isBulk: kind.isBulk ?? false };
  await services.database.transaction(
    async (tx) => {
      if (!(await mark(tx, job, 'claimed', 'done'))) throw new LeaseLost();
      await workInside(tx, services, null, (w) => kind.run(w, job.payload), options);
    },
    { setId: id },
  );
}

async function doGuarded(
  db: Database,
  job: ClaimedJob,
  kind: Extract<JobKind, { effect: 'guarded' }>,
): Promise<void> {
  await kind.run(job.payload);
  await markGuarded(db, job);
}

async function doOutside(
  db: Database,
  job: ClaimedJob,
  kind: Extract<JobKind, { effect: 'outside' }>,
): Promise<void> {
  if (!(await mark(db, job, 'claimed', 'acting'))) throw new LeaseLost();
  await kind.run(job.payload, job.id);
  await mark(db, job, 'acting', 'done');
}
