import type { Health } from '@kettle/contract';
import { Problem } from '../problem';
import type { Services } from '../services';

/** Whoever asks decides whether people are sent here: an answer that comes late is none. */
const patienceMillis = 1000;
const lateSeconds = 600;

/**
 * Whether this server can work: its database answers, and background work keeps up.
 * @throws Problem `database-away` when the database does not answer within a second
 */
export async function readHealth({ database, clock }: Services, patience = patienceMillis): Promise<Health> {
  let timer: NodeJS.Timeout | undefined;
  const tooLate = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Problem('database-away')), patience);
  });
  // The first of each shard, found at once in job_due however many wait.
  const asked = database.rows<{ late: string | null }>(
    `SELECT TIMESTAMPDIFF(SECOND, MIN(due_at), NOW(3) + INTERVAL :ahead * 1000 MICROSECOND) AS late
       FROM job WHERE state = 'due' GROUP BY shard ORDER BY late DESC LIMIT 1`,
    { ahead: Math.round(clock.ahead()) },
  );
  // Answered too late, its failure is nobody's any more.
  asked.catch(() => undefined);
  try {
    const [row] = await Promise.race([asked, tooLate]);
    const late = Number(row?.late ?? 0);
    return late > lateSeconds
      ? { state: 'degraded', because: [`background work is ${Math.round(late / 60)} minutes late`] }
      : { state: 'ready', because: [] };
  } finally {
    clearTimeout(timer);
  }
}
