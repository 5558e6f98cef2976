import type { TeamLogQuery } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import { addDays, localMoment } from '@kettle/core/time';
import type { Queryable, SqlValue } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { entriesOf, entryColumns, entryJoins, type EntryRow, pageOf, readPlace } from './list-journal';

/** What colleagues logged, newest first, as far as the reader may read it; not the system's own entries. From the index `journal_time`. */
export async function readTeamLog(db: Queryable, who: SignedIn, query: TeamLogQuery) {
  const place = readPlace(query.before);
  const parameters: Record<string, SqlValue> = {
    ...reachParameters(who),
    written: channelsThat(({ isWritten }) => isWritten === true),
    ...(place && { at: sqlInstant(place.at), placeId: bytesOf(place.id) }),
    ...(query.kinds?.length && { kinds: query.kinds }),
    ...(query.dealId && { deal: bytesOf(query.dealId) }),
    ...(query.from && { from: sqlInstant(localMoment(query.from, 0, who.zone)) }),
    ...(query.to && { to: sqlInstant(localMoment(addDays(query.to, 1), 0, who.zone)) }),
  };
  const user = query.whose === 'mine' ? who.id : query.userId;
  if (user) parameters.user = bytesOf(user);
  const conditions = [
    'j.removed_at IS NULL',
    user ? 'j.user_id = :user' : 'j.user_id IS NOT NULL',
    query.kinds?.length ? 'j.kind IN (:kinds)' : "j.kind <> 'system'",
    // What customers wrote nobody logged.
    "NOT (j.direction <=> 'in' AND j.kind IN (:written))",
    place && '(j.at < :at OR (j.at = :at AND j.id < :placeId))',
    query.dealId && 'j.deal_id = :deal',
    query.from && 'j.at >= :from',
    query.to && 'j.at < :to',
    withinReach(who, 'entry', 'j'),
  ].filter(Boolean);
  const rows = await db.rows<EntryRow>(
    `SELECT ${entryColumns} FROM journal_entry j ${entryJoins} WHERE ${conditions.join(' AND ')}
      ORDER BY j.at DESC, j.id DESC LIMIT ${query.limit + 1}`,
    parameters,
  );
  return pageOf(await entriesOf(db, rows.slice(0, query.limit)), rows.length > query.limit);
}
