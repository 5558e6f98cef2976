import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import type { Work } from '../../platform/work/work';

/** Tells people something inside the caller's transaction, with the place where a click leads. */
export async function notify(
  w: Work,
  userIds: readonly string[],
  words: string,
  path: string,
): Promise<void> {
  for (const userId of new Set(userIds)) {
    const id = newId<string>();
    await w.change(
      'INSERT INTO notification (id, user_id, words, path, created_at) VALUES (:id, :user, :words, :path, :now)',
      { id: bytesOf(id), user: bytesOf(userId), words: words.slice(0, 300), path, now: sqlInstant(w.now) },
    );
    w.note('notification', userId);
  }
}
