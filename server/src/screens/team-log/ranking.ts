import type { PlainDate, RankedNumbers, Ranking, UserId } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import { addDays, daysBetween, localMoment } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { ownActs, ownActsParameters } from '../../activity/journal/index';
import { readTeamOf } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';

interface Period {
  readonly from: PlainDate;
  readonly to: PlainDate;
}

const nothing: RankedNumbers = { touches: 0, conversations: 0, meetings: 0, won: 0, wonMinor: 0 };

/**
 * What the people of the reader's team did in a period, and in as many days before it; whoever won and touched most is first. What goes out
 * by itself, or was written to them, they did not do: the same count as “What I did”. A deal that was won is its owner's.
 */
export async function readRanking(db: Queryable, who: SignedIn, { from, to }: Period): Promise<Ranking> {
  const before = { from: addDays(from, -(daysBetween(from, to) + 1)), to: addDays(from, -1) };
  const team = await readTeamOf(db, who);
  const ids = team.map(({ id }) => id);
  const [now, then] = await Promise.all([
    readNumbers(db, ids, { from, to }, who.zone),
    readNumbers(db, ids, before, who.zone),
  ]);
  const people = team.map(({ id, name }) => ({
    userId: id,
    name,
    ...(now.get(id) ?? nothing),
    before: then.get(id) ?? nothing,
  }));
  return {
    from,
    to,
    before,
    // By name where both are equal, as the team is.
    people: people.sort((one, other) => other.wonMinor - one.wonMinor || other.touches - one.touches),
  };
}

async function readNumbers(
  db: Queryable,
  ids: readonly UserId[],
  { from, to }: Period,
  zone: string,
): Promise<ReadonlyMap<UserId, RankedNumbers>> {
  if (ids.length === 0) return new Map();
  const parameters = {
    ids: ids.map((id) => bytesOf(id)),
    ...{ from, to, start: sqlInstant(localMoment(from, 0, zone)) },
    end: sqlInstant(localMoment(addDays(to, 1), 0, zone)),
    ...ownActsParameters,
    met: channelsThat(({ isMet }) => isMet === true),
  };
  const [acts, won] = await Promise.all([
    db.rows<Row<'journal_entry', 'user_id'> & Record<'touches' | 'conversations' | 'meetings', string>>(
      `SELECT e.user_id, COUNT(*) AS touches, SUM(e.counts = 'conversation') AS conversations,
              SUM(e.counts = 'conversation' AND e.kind IN (:met)) AS meetings
         FROM journal_entry e ${ownActs.join}
        WHERE e.user_id IN (:ids) AND e.at >= :start AND e.at < :end AND ${ownActs.where}
        GROUP BY e.user_id ORDER BY e.user_id`,
      parameters,
    ),
    db.rows<Row<'deal', 'owner_id'> & { won: string; minor: string | null }>(
      `SELECT owner_id, COUNT(*) AS won, SUM(home_minor) AS minor FROM deal
        WHERE status = 'won' AND closed_on BETWEEN :from AND :to AND owner_id IN (:ids)
        GROUP BY owner_id ORDER BY owner_id`,
      parameters,
    ),
  ]);
  const numbers = new Map<UserId, RankedNumbers>();
  for (const row of acts)
    if (row.user_id !== null)
      numbers.set(idOf(row.user_id), {
        ...nothing,
        touches: wholeNumber(row.touches),
        conversations: wholeNumber(row.conversations),
        meetings: wholeNumber(row.meetings),
      });
  for (const row of won) {
    const id = idOf<UserId>(row.owner_id);
    const deals = { won: wholeNumber(row.won), wonMinor: wholeNumber(row.minor ?? 0) };
    numbers.set(id, { ...(numbers.get(id) ?? nothing), ...deals });
  }
  return numbers;
}
