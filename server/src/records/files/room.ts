import { statfs } from 'node:fs/promises';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';

/** What one person may keep in files. */
const mostBytesOfPerson = 5_000_000_000;
/** What must stay free where the database keeps its files: without room it can write nothing at all. */
const leastFreeBytes = 1_000_000_000;

/**
 * Whether another file may be kept. The disk is looked at where the database's folder is on this machine; elsewhere its operator watches it.
 * @throws Problem `disk-full`, `quota-full`
 */
export async function assertRoom(
  db: Queryable,
  userId: string,
  { least = leastFreeBytes, most = mostBytesOfPerson }: { least?: number; most?: number } = {},
): Promise<void> {
  const [row] = await db.rows<{ kept: string | null; folder: string }>(
    'SELECT (SELECT SUM(size) FROM stored_file WHERE user_id = :user AND removed_at IS NULL) AS kept, @@datadir AS folder',
    { user: bytesOf(userId) },
  );
  if (wholeNumber(row?.kept ?? 0) >= most) throw new Problem('quota-full', { gigabytes: most / 1e9 });
  const disk = await statfs(row?.folder ?? '').catch(() => null);
  if (disk !== null && disk.bavail * disk.bsize < least) throw new Problem('disk-full');
}
