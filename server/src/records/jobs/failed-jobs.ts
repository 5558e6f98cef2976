import type { FailedJob, UserId } from '@kettle/contract';
import { saidNow } from '../../platform/language/language';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { dueAgain } from '../../platform/jobs/job-table';
import type { FailedWork, JobKinds } from '../../platform/jobs/worker';
import { Problem } from '../../platform/problem';
import type { PersonWork, Work } from '../../platform/work/work';
import { notify } from '../notifications/index';
import type { Row } from '../../platform/database/schema.generated';

const shown = 200;

/** What failed for good, or was broken off where nobody knows whether it happened. Relies on job_failed. */
export async function readFailedJobs(
  db: Queryable,
  kinds: JobKinds,
): Promise<{ jobs: FailedJob[]; total: number }> {
  const rows = await db.rows<
    Row<'job', 'id' | 'kind' | 'state' | 'failed_at' | 'attempts' | 'last_error'> & { name: string | null }
  >(
    `SELECT j.id, j.kind, j.state, u.name, j.failed_at, j.attempts, j.last_error
       FROM job j LEFT JOIN app_user u ON u.id = j.asked_by
      WHERE j.state IN ('failed', 'review') ORDER BY j.failed_at DESC, j.id LIMIT ${shown}`,
  );
  const [all] = await db.rows<{ total: string }>(
    "SELECT COUNT(*) AS total FROM job WHERE state IN ('failed', 'review')",
  );
  const jobs = rows.map((row): FailedJob => ({
    id: idOf(row.id),
    words: saidNow(kinds[row.kind]?.words ?? row.kind),
    state: row.state === 'failed' ? 'failed' : 'unclear',
    askedByName: row.name,
    at: row.failed_at === null ? null : instantOf(row.failed_at),
    tries: row.attempts,
    error: row.last_error,
  }));
  return { jobs, total: wholeNumber(all?.total ?? 0) };
}

/** It is due now, with all its tries before it. @throws Problem `not-found` when it is not among those that failed */
export async function retryJob(w: PersonWork, id: string): Promise<void> {
  const changed = await w.change(
    `UPDATE job SET ${dueAgain} WHERE id = :id AND state IN ('failed', 'review')`,
    { id: bytesOf(id), now: sqlInstant(w.now) },
  );
  if (changed === 0) throw new Problem('not-found');
  w.note('job', id);
}

/** Tells whoever asked for it, or the admins when nobody did. */
export async function tellOfFailure(w: Work, { id, words, askedBy }: FailedWork): Promise<void> {
  const admins = await w.rows<Row<'app_user', 'id'>>(
    "SELECT id FROM app_user WHERE role = 'admin' ORDER BY id",
  );
  const adminIds = admins.map((row) => idOf<UserId>(row.id));
  const sentence = $localize`Background work failed for good: ${words}:words:.`;
  const place = '/settings?part=background';
  if (askedBy === null || adminIds.some((each) => each === askedBy))
    await notify(
      w,
      'trouble',
      askedBy === null ? adminIds : [askedBy],
      $localize`${sentence}:sentence: Try it again here.`,
      place,
    );
  else
    await notify(
      w,
      'trouble',
      [askedBy],
      $localize`${sentence}:sentence: An admin can try it again.`,
      '/changes',
    );
  w.note('job', id);
}
