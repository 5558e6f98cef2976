import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

const shown = 50;

export function notificationsRoutes(
  services: Services,
): Pick<Handlers, 'listNotifications' | 'readNotifications'> {
  const { database } = services;
  return {
    listNotifications: async ({ who }) => {
      const me = { me: bytesOf(who.id) };
      const rows = await database.rows<
        Row<'notification', 'id' | 'words' | 'path' | 'created_at' | 'read_at'>
      >(
        `SELECT id, words, path, created_at, read_at FROM notification WHERE user_id = :me
          ORDER BY created_at DESC, id DESC LIMIT ${shown}`,
        me,
      );
      const [count] = await database.rows<{ unread: string }>(
        'SELECT COUNT(*) AS unread FROM notification WHERE user_id = :me AND read_at IS NULL',
        me,
      );
      return {
        notifications: rows.map((row) => ({
          id: idOf(row.id),
          words: row.words,
          path: row.path,
          at: instantOf(row.created_at),
          isRead: row.read_at !== null,
        })),
        unread: wholeNumber(count?.unread ?? 0),
      };
    },
    readNotifications: async ({ who }) => {
      await work(services, who, async (w) => {
        await w.change('UPDATE notification SET read_at = :now WHERE user_id = :me AND read_at IS NULL', {
          me: bytesOf(who.id),
          now: sqlInstant(w.now),
        });
        w.note('notification', who.id);
      });
      return { ok: true };
    },
  };
}
