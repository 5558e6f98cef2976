import { localMinute } from '@kettle/core/time';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import type { Queryable } from '../../platform/database/database';
import { readableIds } from '../rights/index';
import type { SignedIn } from '../users/index';
import { isQuietAt, readQuietHours } from './quiet-hours';
import { readToldSettings, writeToldSettings } from './told-settings';
import type { Row } from '../../platform/database/schema.generated';

const shown = 50;

const placesOf = {
  people: 'contact',
  companies: 'company',
  deals: 'deal',
  'deals/leads': 'lead',
  agreements: 'agreement',
} as const;

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
): Pick<Handlers, 'listNotifications' | 'readNotifications' | 'toldSettings' | 'changeToldSettings'> {
  const { database } = services;
  return {
    listNotifications: async ({ who }) => {
      const me = { me: bytesOf(who.id) };
      const rows = await database.rows<
        Row<'notification', 'id' | 'words' | 'path' | 'created_at' | 'read_at' | 'kind'> & {
          by_browser: number | null;
        }
      >(
        `SELECT n.id, n.words, n.path, n.created_at, n.read_at, n.kind, c.by_browser
           FROM notification n LEFT JOIN told_choice c ON c.user_id = n.user_id AND c.kind = n.kind
          WHERE n.user_id = :me ORDER BY n.created_at DESC, n.id DESC LIMIT ${shown}`,
        me,
      );
      const [count] = await database.rows<{ unread: string }>(
        'SELECT COUNT(*) AS unread FROM notification WHERE user_id = :me AND read_at IS NULL',
        me,
      );
      const unreadable = await whatIsUnreadable(database, who, rows);
      const quiet = await readQuietHours(database, who.id);
      const isQuiet = quiet !== null && isQuietAt(quiet, localMinute(services.clock.now(), quiet.zone));
      return {
        notifications: rows.map((row) => ({
          id: idOf(row.id),
          ...(unreadable.has(row.path)
            ? { words: $localize`This is about something you may no longer read.`, path: '/round' }
            : { words: row.words, path: row.path }),
          at: instantOf(row.created_at),
          isRead: row.read_at !== null,
          kind: row.kind,
          byBrowser: row.by_browser !== 0 && !isQuiet,
        })),
        unread: wholeNumber(count?.unread ?? 0),
      };
    },
    toldSettings: ({ who }) => readToldSettings(database, who.id),
    changeToldSettings: async ({ body, who }) => {
      await work(services, who, (w) => writeToldSettings(w, body));
      return readToldSettings(database, who.id);
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
