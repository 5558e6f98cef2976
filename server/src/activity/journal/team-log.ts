import type { TeamLogQuery } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import type { Queryable, SqlValue } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { conditionsOf, entriesOf, entryColumns, entryJoins, type EntryRow, pageOf } from './list-journal';

/** What colleagues logged, newest first, as far as the reader may read it; not the system's own entries. From the index `journal_time`. */
export async function readTeamLog(db: Queryable, who: SignedIn, query: TeamLogQuery) {
  const parameters: Record<string, SqlValue> = {
    ...reachParameters(who),
    written: channelsThat(({ isWritten }) => isWritten === true),
    ...(query.dealId && { deal: bytesOf(query.dealId) }),
  };
  const narrowed = { ...query, ...(query.whose === 'mine' && { userId: who.id }) };
  const wheres = conditionsOf(narrowed, who.zone, parameters);
  // What customers wrote nobody logged.
  const rows = await db.rows<EntryRow>(
    `SELECT ${entryColumns} FROM journal_entry j ${entryJoins}
      WHERE j.user_id IS NOT NULL ${query.kinds?.length ? '' : "AND j.kind <> 'system'"}
        AND NOT (j.direction <=> 'in' AND j.kind IN (:written)) ${query.dealId ? 'AND j.deal_id = :deal' : ''}
        AND ${withinReach(who, 'entry', 'j')} ${wheres('j.at', 'j.id')}
      ORDER BY j.at DESC, j.id DESC LIMIT ${query.limit + 1}`,
    parameters,
  );
  return pageOf(await entriesOf(db, rows.slice(0, query.limit)), rows.length > query.limit);
}
