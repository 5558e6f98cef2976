import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { noteChange } from '../../platform/change-feed/feed';

/** Tells people something inside the caller's transaction, with the place where a click leads. */
export async function notify(
  tx: Queryable,
  userIds: readonly string[],
  words: string,
  path: string,
  now: string,
): Promise<void> {
  for (const userId of new Set(userIds)) {
    const id = newId<string>();
    await tx.change(
      'INSERT INTO notification (id, user_id, words, path, created_at) VALUES (:id, :user, :words, :path, :now)',
      { id: bytesOf(id), user: bytesOf(userId), words: words.slice(0, 300), path, now: sqlInstant(now) },
    );
    await noteChange(tx, 'notification', userId, null);
  }
}
