import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import type { Queryable } from '../../platform/database/database';
import { readableIds } from '../rights/index';
import type { SignedIn } from '../users/index';
import type { Row } from '../../platform/database/schema.generated';

const shown = 50;

const placesOf = { people: 'contact', companies: 'company', deals: 'deal', 'deals/leads': 'lead' } as const;

/** Where a notice leads that was written before its reader's rights were narrowed, or the record given away. */
async function whatIsUnreadable(
  db: Queryable,
  who: SignedIn,
  rows: readonly { path: string }[],
): Promise<Set<string>> {
  const unreadable = new Set<string>();
  for (const [place, kind] of Object.entries(placesOf)) {
    const leads = new Map(
      rows.flatMap(({ path }) => {
        const id = path.match(new RegExp(`^/${place}/([0-9a-f-]{36})$`))?.[1];
        return id === undefined ? [] : [[path, bytesOf<string>(id)] as const];
      }),
    );
    const readable = new Set(
      (await readableIds(db, who, kind, [...leads.values()])).map((id) => id.toString('hex')),
    );
    for (const [path, id] of leads) if (!readable.has(id.toString('hex'))) unreadable.add(path);
  }
  return unreadable;
}

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
      const unreadable = await whatIsUnreadable(database, who, rows);
      return {
        notifications: rows.map((row) => ({
          id: idOf(row.id),
          ...(unreadable.has(row.path)
            ? { words: $localize`This is about something you may no longer read.`, path: '/round' }
            : { words: row.words, path: row.path }),
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
