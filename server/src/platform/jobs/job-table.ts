import { randomInt } from 'node:crypto';
import type { Instant } from '@kettle/contract';
import type { Queryable, SqlParameters, Transaction } from '../database/database';
import { sqlInstant, wholeNumber } from '../database/values';
import { bytesOf, idOf, idOrNull, newId } from '../ids';
import type { Row } from '../database/schema.generated';

/** Jobs are spread over shards so that servers that claim at once seldom meet on the same rows. */
export const shardCount = 16;
export const leaseSeconds = 60;
const claimedAtOnce = 20;

export interface NewJob {
  readonly kind: string;
  /** The same work asked for twice has the same key, and is done once. */
  readonly dedupeKey: string;
  readonly payload: unknown;
  readonly dueAt: Instant;
  /** Who is told when it fails for good; left out, whoever the unit of work belongs to. */
  readonly askedBy?: string | null;
}

export interface ClaimedJob {
  readonly id: string;
  readonly kind: string;
  readonly payload: unknown;
  readonly token: string;
  readonly attempts: number;
  readonly askedBy: string | null;
}

/** Today's job of a kind that runs once a day, whoever asks for it and however often. */
export function oncePerDay(kind: string, now: Instant): NewJob {
  return { kind, dedupeKey: `${kind}:${now.slice(0, 10)}`, payload: {}, dueAt: now };
}

/** Adds a job inside the caller's transaction: it exists only if the rest was committed. */
export async function enqueue(
  tx: Queryable & { readonly who?: { readonly id: string } | null },
  job: NewJob,
): Promise<void> {
  await tx.change(
    `INSERT IGNORE INTO job (id, dedupe_key, kind, payload, shard, due_at, asked_by)
     VALUES (:id, :dedupeKey, :kind, :payload, :shard, :dueAt, :askedBy)`,
    {
      id: bytesOf(newId()),
      dedupeKey: job.dedupeKey,
      kind: job.kind,
      payload: JSON.stringify(job.payload),
      shard: randomInt(shardCount),
      dueAt: sqlInstant(job.dueAt),
      askedBy: bytesOf(job.askedBy ?? tx.who?.id),
    },
  );
}

/**
 * Adds the same work for each id that a query finds, in one statement that nobody waits for.
 * @param found a SELECT of one column `id`
 * @param keyEnd what tells this asking from another for the same id
 */
export async function enqueueFound(
  tx: Transaction,
  { kind, keyEnd, found, parameters, dueAt }: FoundJobs,
): Promise<void> {
  await tx.later(
    `INSERT IGNORE INTO job (id, dedupe_key, kind, payload, shard, due_at)
     SELECT UNHEX(REPLACE(UUID(), '-', '')), CONCAT(:jobKind, ':', HEX(f.id), ':', :keyEnd), :jobKind,
            JSON_OBJECT('id', HEX(f.id)), FLOOR(RAND() * ${shardCount}), :dueAt FROM (${found}) f`,
    { ...parameters, jobKind: kind, keyEnd, dueAt: sqlInstant(dueAt) },
  );
}

/** Adds a job where a condition holds, in one statement that nobody waits for. */
export async function enqueueWhere(
  tx: Transaction,
  job: NewJob,
  { condition, parameters }: { readonly condition: string; readonly parameters: SqlParameters },
): Promise<void> {
  await tx.later(
    `INSERT IGNORE INTO job (id, dedupe_key, kind, payload, shard, due_at)
     SELECT :jobId, :dedupeKey, :jobKind, :payload, :shard, :dueAt FROM DUAL WHERE ${condition}`,
    {
      ...{ ...parameters, jobId: bytesOf(newId()), dedupeKey: job.dedupeKey, jobKind: job.kind },
      ...{ payload: JSON.stringify(job.payload), shard: randomInt(shardCount), dueAt: sqlInstant(job.dueAt) },
    },
  );
}

interface FoundJobs extends Pick<NewJob, 'kind' | 'dueAt'> {
  readonly keyEnd: string;
  readonly found: string;
  readonly parameters: SqlParameters;
}

/**
 * Due by the database's clock, which all servers share; `:ahead` is the milliseconds that the application's clock is ahead of real time. Two
 * clocks are read a moment apart, so that a job may be taken that moment early.
 */
const isDue = 'due_at <= NOW(3) + INTERVAL (:ahead + 50) * 1000 MICROSECOND';

/** Shards that have due work; the claim itself asks again. */
export async function shardsWithWork(
  db: Queryable,
  ahead: number,
  kinds: readonly string[],
): Promise<number[]> {
  const rows = await db.rows<Row<'job', 'shard'>>(
    `SELECT DISTINCT shard FROM job WHERE state = 'due' AND ${isDue} AND kind IN (:kinds)`,
    { ahead, kinds },
  );
  return rows.map((row) => row.shard);
}

/** Claims due jobs of one shard in one statement, under a token of its own. */
export async function claim(
  db: Queryable,
  shard: number,
  ahead: number,
  kinds: readonly string[],
): Promise<ClaimedJob[]> {
  const token = newId<string>();
  await db.change(
    `UPDATE job SET state = 'claimed', owner = :token, lease_until = NOW(3) + INTERVAL ${leaseSeconds} SECOND,
            attempts = attempts + 1
      WHERE shard = :shard AND state = 'due' AND ${isDue} AND kind IN (:kinds)
      ORDER BY due_at LIMIT ${claimedAtOnce}`,
    { token: bytesOf(token), shard, ahead, kinds },
  );
  const rows = await db.rows<Row<'job', 'id' | 'kind' | 'payload' | 'attempts' | 'asked_by'>>(
    'SELECT id, kind, payload, attempts, asked_by FROM job WHERE owner = :token ORDER BY due_at, id',
    {
      token: bytesOf(token),
    },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    kind: row.kind,
    payload: JSON.parse(row.payload) as unknown,
    attempts: row.attempts,
    askedBy: idOrNull(row.asked_by),
    token,
  }));
}

type Step = 'acting' | 'done';

/** Takes a job a step further if it is still ours; false when the lease was lost. */
export async function mark(
  db: Queryable,
  job: ClaimedJob,
  from: 'claimed' | 'acting',
  to: Step,
): Promise<boolean> {
  const lease = from === 'claimed' ? 'AND lease_until > NOW(3)' : '';
  const changed = await db.change(
    `UPDATE job SET state = :to, finished_at = IF(:to = 'done', NOW(3), NULL),
            lease_until = IF(:to = 'acting', NOW(3) + INTERVAL ${leaseSeconds} SECOND, NULL)
      WHERE id = :id AND owner = :token AND state = :from ${lease}`,
    { id: bytesOf(job.id), token: bytesOf(job.token), from, to },
  );
  return changed === 1;
}

/** Done, however long it took: what a guarded job did is safe by its own guard. */
export async function markGuarded(db: Queryable, job: ClaimedJob): Promise<void> {
  await db.change(
    `UPDATE job SET state = 'done', finished_at = NOW(3), lease_until = NULL
      WHERE id = :id AND owner = :token AND state = 'claimed'`,
    { id: bytesOf(job.id), token: bytesOf(job.token) },
  );
}

/** Frees what a stopping server had claimed and not begun, so that nobody waits for the lease to end. */
export async function release(db: Queryable, token: string): Promise<void> {
  await db.change(
    "UPDATE job SET state = 'due', owner = NULL, lease_until = NULL WHERE owner = :token AND state = 'claimed'",
    { token: bytesOf(token) },
  );
}

const mostAttempts = 5;

/**
 * Gives a failed job back for a later try; after the last one it stays as failed, with what went wrong.
 * @returns whether that was the last one
 */
export async function giveBack(
  db: Queryable,
  job: ClaimedJob,
  error: string,
  now: Instant,
): Promise<boolean> {
  const isOver = job.attempts >= mostAttempts;
  const retryAt = new Date(Date.parse(now) + 1000 * 2 ** job.attempts).toISOString();
  const changed = await db.change(
    `UPDATE job SET state = :state, owner = NULL, lease_until = NULL, last_error = :error, due_at = :retryAt,
            failed_at = IF(:state = 'failed', NOW(3), NULL)
      WHERE id = :id AND owner = :token AND state = 'claimed'`,
    {
      id: bytesOf(job.id),
      token: bytesOf(job.token),
      state: isOver ? 'failed' : 'due',
      error: error.slice(0, 500),
      retryAt: sqlInstant(retryAt),
    },
  );
  return isOver && changed === 1;
}

/**
 * Frees jobs whose server is gone. What was only claimed is due again; what had begun to act outside is held for a
 * person, because nobody can know whether it happened. They are looked for without a lock: an UPDATE that looks for them itself waits for
 * every job that is being carried out, so that a mail waited for a part of an import.
 */
export async function reap(db: Queryable): Promise<void> {
  const overdue = "state IN ('claimed', 'acting') AND lease_until < NOW(3)";
  const found = await db.rows<Row<'job', 'id'>>(`SELECT id FROM job WHERE ${overdue} ORDER BY id LIMIT 1000`);
  if (found.length === 0) return;
  await db.change(
    `UPDATE job SET failed_at = IF(state = 'acting', NOW(3), failed_at), owner = NULL,
            lease_until = IF(state = 'acting', lease_until, NULL), state = IF(state = 'acting', 'review', 'due')
      WHERE id IN (:ids) AND ${overdue}`,
    { ids: found.map(({ id }) => id) },
  );
}

/** Makes jobs of a kind due again that failed for good, with all their tries before them. @returns how many */
export async function retryFailed(
  w: Queryable & { readonly now: Instant },
  kind: string,
  keyStart: string,
): Promise<number> {
  return w.change(
    `UPDATE job SET ${dueAgain} WHERE kind = :kind AND dedupe_key LIKE CONCAT(:keyStart, '%') AND state = 'failed'`,
    { kind, keyStart, now: sqlInstant(w.now) },
  );
}

/** How many parts a piece of work has, by the start of their keys; `waiting` are neither done nor failed for good. */
export async function countParts(
  db: Queryable,
  kind: string,
  keyStart: string,
): Promise<{ readonly count: number; readonly waiting: number; readonly failed: number }> {
  const [row] = await db.rows<Record<'count' | 'waiting' | 'failed', string | null>>(
    `SELECT COUNT(*) AS count, SUM(state NOT IN ('done', 'failed')) AS waiting, SUM(state = 'failed') AS failed
       FROM job WHERE kind = :kind AND dedupe_key LIKE CONCAT(:keyStart, '%')`,
    { kind, keyStart },
  );
  const of = (name: 'count' | 'waiting' | 'failed') => wholeNumber(row?.[name] ?? 0);
  return { count: of('count'), waiting: of('waiting'), failed: of('failed') };
}

/** What makes a job that was over due `:now`. */
export const dueAgain =
  "state = 'due', attempts = 0, owner = NULL, lease_until = NULL, failed_at = NULL, due_at = :now";
