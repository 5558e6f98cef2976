import { hookEvents, type HookEventName } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';

/** What happened and who did it, in words. */
export async function sayEvent(db: Queryable, eventId: string, event: HookEventName): Promise<string> {
  const [row] = await db.rows<{ name: string | null }>(
    'SELECT u.name FROM event v LEFT JOIN app_user u ON u.id = v.user_id WHERE v.id = :id',
    { id: bytesOf(eventId) },
  );
  const { words } = hookEvents[event];
  return row?.name ? $localize`${words}:what:, by ${row.name}:name:` : words;
}
