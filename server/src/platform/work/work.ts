import type { ChangeTopic, Instant } from '@kettle/contract';
import type { AllSettings } from '../../records/settings/index';
import type { SignedIn } from '../../records/users/index';
import {
  isDuplicateKey,
  type Queryable,
  type SqlParameters,
  type Transaction,
  type WithKeys,
} from '../database/database';
import { sqlInstant } from '../database/values';
import { Problem } from '../problem';
import { bytesOf, newId } from '../ids';
import type { Services } from '../services';
import { publish, type Hearer, type NewEvent } from './events';
import { requestContext } from './request';
import { readWritten, Written, type WrittenRow } from './written';
import type { Row } from '../database/schema.generated';

/** Everything a use case writes with: one transaction, who asks, when, and what every use case may need. */
export interface Work<Who extends SignedIn | null = SignedIn | null> extends Transaction {
  /** The change set it is kept as. */
  readonly id: string;
  /** The change that it is a part of, else itself: what a person undoes. */
  readonly wholeId: string;
  readonly who: Who;
  readonly now: Instant;
  readonly services: Services;
  /** It undoes a change: what followed from that change is undone with it, and follows from nothing anew. */
  readonly isUndo: boolean;
  /** The organisation's settings, read once. */
  settings(): Promise<AllSettings>;
  /** Says what happened where a row cannot say it; kept with the rest, and told to open browsers after the commit. */
  publish(event: NewEvent): void;
  /** Tells open browsers of a record whose table is not captured. */
  note(topic: ChangeTopic, recordId: string): void;
  /** Says which change this one is a part of, and which part: it keeps that name, whatever is said later. Before anything is written. */
  partOf(parentId: string, name: string): void;
  /** What the change is called where it can be undone. */
  say(words: string): void;
  /** Derives now what depends on the rows written so far, for a use case that reads it before the end. */
  derive(): Promise<void>;
}

/** What writes rows that carry when they were made; a unit of work is one. */
export type Writing = Pick<Work, 'keys' | 'rows' | 'change' | 'later' | 'now'>;

/** The same without a unit of work, at a moment of one's own: for what makes up a past. */
export const writingAt = (db: WithKeys, now: Instant): Writing => ({
  get keys() {
    return db.keys;
  },
  rows: (...asked) => db.rows(...asked),
  change: (...asked) => db.change(...asked),
  later: async (...asked) => {
    await db.change(...asked);
  },
  now,
});

/** A unit of work that somebody asked for. */
export type PersonWork = Work<SignedIn>;

/** What depends on written rows: derives it again, in the same transaction. Runs once, before the commit. */
export type Deriver = (w: Work, written: Written) => Promise<void>;
/** What else must happen because of what was written; it may write more, which is looked at again. */
export type Reaction = (w: Work, written: Written) => Promise<void>;

/** Says to people what was written, by the name of the change. Runs once, after everything else. */
export type Teller = (w: Work, written: Written, words: string) => Promise<void>;

/** What the composition root lists. */
export interface Follows {
  /** What rows say happened; asked of nothing that an undo wrote. */
  whatHappened(row: WrittenRow): readonly NewEvent[];
  readonly derivers: readonly Deriver[];
  readonly reactions: readonly Reaction[];
  readonly tellers: readonly Teller[];
  readonly hearers: readonly Hearer[];
}

export interface WorkOptions {
  /** The change this one is a part of. */
  readonly parentId?: string;
  /** What was asked for, when no request says it: a job's kind. */
  readonly act?: string;
  /** Its rows are not told one by one to open browsers: bulk work, which tells its progress instead. */
  readonly isBulk?: boolean;
  /** The change it undoes. */
  readonly undoesId?: string;
}

/**
 * Runs a use case as one unit of work: one transaction, which is one change set. A deadlock runs the whole of it again, so `run` does nothing
 * outside the transaction. Before the commit everything that follows from the rows it wrote is derived, and what happened is written down.
 * The same request again (by the id its browser gave it) is answered with what the first returned.
 * @throws Problem `other-request` when the id was given to something else before
 * @example
 * const id = await work(services, who, async (w) => addContact(w, body));
 */
export async function work<Who extends SignedIn | null, Result>(
  services: Services,
  who: Who,
  run: (w: Work<Who>) => Promise<Result>,
  options: WorkOptions = {},
): Promise<Result> {
  const request = requestContext.getStore();
  const asked = request && !request.isUsed && request.changeId !== null ? request : null;
  if (asked) asked.isUsed = true;
  const id = asked?.changeId ?? newId<string>();
  const act = options.act ?? request?.act ?? 'system';
  const hash = asked === null ? null : await asked.hash();
  try {
    const result = await services.database.transaction(
      (tx) => workInside(tx, services, who, run, { ...options, act, id, hash }),
      { setId: id },
    );
    services.feed.poke();
    return result;
  } catch (error) {
    if (hash !== null && isDuplicateKey(error)) {
      const earlier = await readEarlier(services.database, id);
      if (earlier !== null) return answerAgain<Result>(earlier, hash);
    }
    throw error;
  }
}

class TriedOut extends Error {}

/** Does something for its faults and takes all of it back; the request's own change is still to come. @throws whatever it throws */
export async function tryOut<Who extends SignedIn | null>(
  services: Services,
  who: Who,
  run: (w: Work<Who>) => Promise<unknown>,
): Promise<void> {
  const id = newId<string>();
  try {
    await services.database.transaction(
      (tx) =>
        workInside(
          tx,
          services,
          who,
          async (w) => {
            await run(w);
            throw new TriedOut();
          },
          { id, act: 'trial', hash: null },
        ),
      { setId: id },
    );
  } catch (error) {
    if (!(error instanceof TriedOut)) throw error;
  }
}

/** The same inside a transaction that was opened elsewhere with the set's id: a job's. */
export async function workInside<Who extends SignedIn | null, Result>(
  tx: Transaction,
  services: Services,
  who: Who,
  run: (w: Work<Who>) => Promise<Result>,
  options: WorkOptions & { readonly id: string; readonly act: string; readonly hash: Buffer | null },
): Promise<Result> {
  const unit = new Unit(tx, services, who, options);
  // The same request again ends here.
  if (options.hash !== null) await unit.beginNow();
  const result = await run(unit);
  await unit.end(result);
  return result;
}

/** The same unit of work in somebody's name: a job does what a person asked for. */
export function actingAs(w: Work, who: SignedIn): PersonWork {
  return {
    id: w.id,
    get wholeId() {
      return w.wholeId;
    },
    who,
    now: w.now,
    services: w.services,
    isUndo: w.isUndo,
    get keys() {
      return w.keys;
    },
    rows: (...asked) => w.rows(...asked),
    change: (...asked) => w.change(...asked),
    later: (...asked) => w.later(...asked),
    settings: () => w.settings(),
    publish: (event) => w.publish(event),
    note: (topic, recordId) => w.note(topic, recordId),
    partOf: (parentId, name) => w.partOf(parentId, name),
    say: (words) => w.say(words),
    derive: () => w.derive(),
  };
}

const mostRounds = 8;

class Unit<Who extends SignedIn | null> implements Work<Who> {
  readonly id: string;
  readonly now: Instant;
  private isBegun = false;
  private read: Promise<AllSettings> | null = null;
  /** Something was written since the rows were last read. */
  private isWritten = false;
  private readonly rowsSoFar: WrittenRow[] = [];
  private readonly events: NewEvent[] = [];
  private words = '';
  private isNamed = false;
  private parentId: string | undefined;

  constructor(
    private readonly tx: Transaction,
    readonly services: Services,
    readonly who: Who,
    private readonly options: WorkOptions & {
      readonly id: string;
      readonly act: string;
      readonly hash: Buffer | null;
    },
  ) {
    this.id = options.id;
    this.now = services.clock.now();
    this.parentId = options.parentId;
  }

  get keys() {
    return this.tx.keys;
  }

  rows<Row>(...asked: Parameters<Queryable['rows']>): Promise<Row[]> {
    return this.tx.rows<Row>(...asked);
  }

  async change(...asked: Parameters<Queryable['change']>): Promise<number> {
    await this.begin();
    this.isWritten = true;
    return this.tx.change(...asked);
  }

  async later(...asked: Parameters<Transaction['later']>): Promise<void> {
    await this.begin();
    this.isWritten = true;
    await this.tx.later(...asked);
  }

  /** The set's own row comes before anything that is captured. */
  private async begin(): Promise<void> {
    if (this.isBegun) return;
    this.isBegun = true;
    await this.tx.later(...this.ownRow());
  }

  /** @throws the driver's error for a key that is there: the request came before */
  async beginNow(): Promise<void> {
    this.isBegun = true;
    await this.tx.change(...this.ownRow());
  }

  private ownRow(): [string, SqlParameters] {
    const { act, hash, undoesId } = this.options;
    return [
      `INSERT INTO change_set (id, parent_id, act, user_id, at, request_hash, undoes_id)
       VALUES (:id, :parent, :act, :user, :at, :hash, :undoes)`,
      {
        id: bytesOf(this.id),
        parent: bytesOf(this.parentId),
        act,
        user: bytesOf(this.who?.id),
        at: sqlInstant(this.now),
        hash,
        undoes: bytesOf(undoesId),
      },
    ];
  }

  get wholeId(): string {
    return this.parentId ?? this.id;
  }

  get isUndo(): boolean {
    return this.options.undoesId !== undefined;
  }

  settings(): Promise<AllSettings> {
    this.read ??= this.services.settings.read(this.tx);
    return this.read;
  }

  publish(event: NewEvent): void {
    this.events.push(event);
  }

  note(topic: ChangeTopic, recordId: string): void {
    this.publish({ kind: 'noted', topic, recordId });
  }

  partOf(parentId: string, name: string): void {
    if (this.isBegun) throw new Error('a part is named before it writes');
    this.parentId = parentId;
    this.say(name);
    this.isNamed = true;
  }

  say(words: string): void {
    if (!this.isNamed) this.words = words.slice(0, 300);
  }

  async derive(): Promise<void> {
    await this.readNew();
    const written = new Written(this.rowsSoFar);
    for (const derive of this.services.follows.derivers) await derive(this, written);
  }

  private async readNew(): Promise<void> {
    if (!this.isWritten) return;
    this.isWritten = false;
    this.rowsSoFar.push(...(await readWritten(this.tx, this.id, this.rowsSoFar.at(-1)?.position ?? 0)));
  }

  /** Reactions until nothing new is written, then what is derived, then what happened. */
  async end(result: unknown): Promise<void> {
    const { reactions, derivers, tellers } = this.services.follows;
    let reactedTo = 0;
    for (let round = 0; round < mostRounds; round += 1) {
      await this.readNew();
      // Also those that were read before the end, to derive something from them.
      const rows = this.rowsSoFar.slice(reactedTo);
      if (rows.length === 0) break;
      reactedTo = this.rowsSoFar.length;
      for (const react of reactions) await react(this, new Written(rows));
    }
    const written = new Written(this.rowsSoFar);
    for (const derive of derivers) await derive(this, written);
    // Bulk work says at its end what all of its parts did.
    if (!this.isUndo && this.options.isBulk !== true)
      for (const tell of tellers) await tell(this, written, this.words);
    const said = this.isUndo ? [] : this.rowsSoFar.flatMap((row) => this.services.follows.whatHappened(row));
    const events = await publish(this.tx, this, written, [...said, ...this.events], this.options);
    for (const hear of this.services.follows.hearers) await hear(this.tx, events, this.now);
    if (!this.isBegun || (result === undefined && this.words === '')) return;
    await this.tx.later('UPDATE change_set SET result = :result, words = :words WHERE id = :id', {
      id: bytesOf(this.id),
      words: this.words,
      result: result === undefined || this.options.hash === null ? null : JSON.stringify(result),
    });
  }
}

interface Earlier {
  readonly hash: Buffer | null;
  readonly result: string | null;
}

async function readEarlier(db: Queryable, id: string): Promise<Earlier | null> {
  const [row] = await db.rows<Row<'change_set', 'request_hash' | 'result'>>(
    'SELECT request_hash, result FROM change_set WHERE id = :id',
    { id: bytesOf(id) },
  );
  return row ? { hash: row.request_hash, result: row.result } : null;
}

function answerAgain<Result>({ hash, result }: Earlier, asked: Buffer): Result {
  if (hash === null || !hash.equals(asked)) throw new Problem('other-request');
  // What the first one returned, as it returned it.
  return (result === null ? undefined : JSON.parse(result)) as Result;
}
