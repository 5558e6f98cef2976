import type { Database } from '../database/database';
import { checkClock } from '../check-clock';
import { newId } from '../ids';
import type { Services } from '../services';
import { work, workInside, type Work } from '../work/work';
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

/**
 * Bulk work has a lane of its own: a mail is read and a reminder sent while a large file is being written. So has what waits for addresses
 * that people typed, each of which may take its time to answer.
 */
export type Lane = 'prompt' | 'bulk' | 'patient';

/** What a kind of job does, whatever its way. */
interface AnyJob {
  /** As people are told when it fails: `one part of an import`. */
  readonly words: string;
  /** `prompt` when it is left out. */
  readonly lane?: Lane;
}

/**
 * Only writes to the database: its work, a change set, and its "done" are one transaction, so it happens exactly once.
 * `isBulk`: open browsers hear of its progress, not of each record.
 */
export interface DatabaseJob extends AnyJob {
  readonly effect: 'database';
  readonly isBulk?: boolean;
  run(w: Work<null>, payload: unknown): Promise<void>;
}

/**
 * Reaches outside behind a guard of its own (a row it takes before it acts), and may be run again: a crash only means that the next run
 * finds the guard as it was left.
 */
export interface GuardedJob extends AnyJob {
  readonly effect: 'guarded';
  run(payload: unknown): Promise<void>;
}

/** Reaches outside: marked as acting first, so that a crash in between is held for a person, never repeated. */
export interface OutsideJob extends AnyJob {
  readonly effect: 'outside';
  run(payload: unknown, jobId: string): Promise<void>;
}

/** How a kind of job is carried out. */
export type JobKind = DatabaseJob | GuardedJob | OutsideJob;

export type JobKinds = Readonly<Record<string, JobKind>>;

export function kindsOf(lane: Lane, kinds: JobKinds): JobKinds {
  return Object.fromEntries(Object.entries(kinds).filter(([, kind]) => (kind.lane ?? 'prompt') === lane));
}

export interface WorkerSetting {
  readonly services: Services;
  readonly kinds: JobKinds;
  readonly everyMillis?: number;
  /** Called in a unit of work of its own when a job was tried for the last time. */
  readonly onFailed?: (w: Work<null>, job: FailedWork) => Promise<void>;
}

export interface FailedWork {
  readonly id: string;
  readonly words: string;
  readonly askedBy: string | null;
}

const clockCheckMillis = 60_000;

class LeaseLost extends Error {}

/** Works through due jobs until it is stopped; any number of these may run over one database. */
export class Worker {
  private stopping = false;
  private clockCheckedAt = -Infinity;
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
    await this.checkClock();
    await reap(database);
    let busy = false;
    for (const shard of await shardsWithWork(database, clock.ahead(), Object.keys(kinds))) {
      const jobs = await claim(database, shard, clock.ahead(), Object.keys(kinds));
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

  private async tell({ id, askedBy }: ClaimedJob, words: string): Promise<void> {
    const { services, onFailed } = this.setting;
    if (onFailed)
      await work(services, null, (w) => onFailed(w, { id, words, askedBy }), { act: 'job-failed' });
  }

  /** Now and then: a clock that runs away stops the work, and each turn says so. */
  private async checkClock(): Promise<void> {
    const { database, clock } = this.setting.services;
    if (clock.millis() - this.clockCheckedAt < clockCheckMillis) return;
    await checkClock(database, clock);
    this.clockCheckedAt = clock.millis();
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
      const reason = error instanceof Error ? error.message : String(error);
      if (await giveBack(database, job, reason, clock.now())) await this.tell(job, kind.words);
    }
  }
}

async function doInside(services: Services, job: ClaimedJob, kind: DatabaseJob): Promise<void> {
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

async function doGuarded(db: Database, job: ClaimedJob, kind: GuardedJob): Promise<void> {
  await kind.run(job.payload);
  await markGuarded(db, job);
}

async function doOutside(db: Database, job: ClaimedJob, kind: OutsideJob): Promise<void> {
  if (!(await mark(db, job, 'claimed', 'acting'))) throw new LeaseLost();
  await kind.run(job.payload, job.id);
  await mark(db, job, 'acting', 'done');
}
