import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { PairIds } from '@kettle/contract';
import { assertMayChange, mayChange, reachParameters, withinReach } from '../../records/rights/index';
import { readContact } from '../../records/contacts/index';
import { findSimilarContacts, findPairs, inOrder } from './find-similar';
import { undoDays } from '../../activity/changes/index';
import { merge, undoMerge } from './merge';
import { work, type PersonWork } from '../../platform/work/work';
import type { Row, Tables } from '../../platform/database/schema.generated';

type Names = 'similarContacts' | 'listPairs' | 'dismissPair' | 'mergeContacts' | 'listMerges' | 'undoMerge';

export function duplicatesRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;
  return {
    similarContacts: async ({ body, who }) => ({ like: await findSimilarContacts(database, who, body) }),
    listPairs: async ({ who }) => {
      const [count] = await database.rows<{ count: string }>('SELECT COUNT(*) AS count FROM not_duplicate');
      return { pairs: await findPairs(database, who), dismissed: wholeNumber(count?.count ?? 0) };
    },
    dismissPair: async ({ body, who }) => {
      await work(services, who, async (w) => {
        await assertMayChangeOne(w, body);
        await w.change(
          'INSERT IGNORE INTO not_duplicate (one_id, other_id, user_id, at) VALUES (:one, :other, :user, :now)',
          { ...inOrder(body.oneId, body.otherId), user: bytesOf(who.id), now: sqlInstant(w.now) },
        );
        w.say($localize`Two contacts marked as not the same`);
      });
      return { ok: true };
    },
    mergeContacts: async ({ body, who }) => {
      const mergeId = await merge(services, who, body);
      return { mergeId, contact: await readContact(database, body.keepId) };
    },
    listMerges: async ({ who }) => {
      const since = new Date(clock.millis() - undoDays * 86_400_000).toISOString();
      const rows = await database.rows<
        Row<'contact_merge', 'id' | 'kept_id' | 'gone_name' | 'merged_at'> & {
          by_name: Tables['app_user']['name'];
          kept_name: string;
        }
      >(
        `SELECT m.id, m.kept_id, c.display_name AS kept_name,
                m.gone_name, u.name AS by_name, m.merged_at
           FROM contact_merge m JOIN contact c ON c.id = m.kept_id JOIN app_user u ON u.id = m.user_id
          WHERE m.merged_at >= :since AND ${withinReach(who, 'contact', 'c')} ORDER BY m.merged_at DESC, m.id DESC LIMIT 100`,
        { ...reachParameters(who), since: sqlInstant(since) },
      );
      return {
        merges: rows.map((row) => ({
          id: idOf(row.id),
          keptId: idOf(row.kept_id),
          keptName: row.kept_name,
          goneName: row.gone_name,
          by: row.by_name,
          at: instantOf(row.merged_at),
        })),
      };
    },
    undoMerge: async ({ params, who }) => {
      await undoMerge(services, who, params.id);
      return { ok: true };
    },
  };
}

/** Whoever may change one of two contacts may say that they are two people. @throws Problem `not-yours`, `not-found` */
async function assertMayChangeOne(w: PersonWork, { oneId, otherId }: PairIds): Promise<void> {
  const rows = await w.rows<Row<'contact', 'owner_id'>>(
    'SELECT owner_id FROM contact WHERE id IN (:ids) ORDER BY id',
    { ids: [bytesOf(oneId), bytesOf(otherId)] },
  );
  const owners = rows.map(({ owner_id }) => idOrNull<string>(owner_id));
  if (owners.length < 2) throw new Problem('not-found');
  if (!owners.some((owner) => mayChange(w.who, owner))) await assertMayChange(w, w.who, owners[0]!);
}
