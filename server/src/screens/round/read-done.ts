import type { Channel, ContactId, DealId, Done, DoneRow, PlainDate } from '@kettle/contract';
import { channels } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import { addDays, localMoment } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';

export interface DonePeriod {
  readonly ownerId: string;
  /** First and last day, where the person is. */
  readonly from: PlainDate;
  readonly to: PlainDate;
  readonly zone: string;
  /** Only meetings and visits that took place. */
  readonly isMet?: boolean;
}

const mostShown = 500;

/** What a person logged, and what they finished without logging it. What goes out by itself, or was written to them, they did not do. */
const acts = `
  SELECT e.id, e.at, e.kind, e.outcome_label, e.counts, COALESCE(e.minutes, t.minutes) AS minutes, t.purpose,
         e.contact_id, e.company_id, e.deal_id
    FROM journal_entry e LEFT JOIN task t ON t.id = e.task_id
   WHERE e.user_id = :user AND e.at >= :start AND e.at < :end AND e.removed_at IS NULL AND e.kind IN (:kinds)
     AND NOT (e.direction = 'in' AND e.kind IN (:written))
     AND NOT COALESCE(t.is_automatic, 0) AND (NOT :met OR e.counts = 'conversation')
  UNION ALL
  SELECT t.id, t.finished_at, t.channel, NULL, 'none', t.minutes, t.purpose, t.contact_id, t.company_id, t.deal_id
    FROM task t
   WHERE t.owner_id = :user AND t.state = 'done' AND t.finished_at >= :start AND t.finished_at < :end
     AND NOT :met AND NOT t.is_automatic
     AND NOT EXISTS (SELECT 1 FROM journal_entry e WHERE e.task_id = t.id AND e.removed_at IS NULL)`;

const parametersOf = ({ ownerId, from, to, zone, isMet = false }: DonePeriod) => ({
  user: bytesOf(ownerId),
  start: sqlInstant(localMoment(from, 0, zone)),
  end: sqlInstant(localMoment(addDays(to, 1), 0, zone)),
  met: isMet,
  written: channelsThat(({ isWritten }) => isWritten === true),
  kinds: isMet ? channelsThat(({ isMet: canBeMet }) => canBeMet === true) : channels,
});

interface ActRow {
  id: IdBytes;
  at: string;
  kind: Channel;
  outcome_label: string | null;
  counts: DoneRow['counts'];
  minutes: number | null;
  purpose: string | null;
  contact_id: IdBytes<ContactId> | null;
  deal_id: IdBytes<DealId> | null;
  contact_name: string | null;
  company_name: string | null;
  deal_name: string | null;
}

/** How much was done, for whoever shows only that. */
export async function countDone(
  db: Queryable,
  period: DonePeriod,
): Promise<Pick<Done, 'total' | 'minutes' | 'conversations'>> {
  const [sums] = await db.rows<Record<'total' | 'minutes' | 'conversations', string | null>>(
    `SELECT COUNT(*) AS total, SUM(minutes) AS minutes, SUM(counts = 'conversation') AS conversations FROM (${acts}) a`,
    parametersOf(period),
  );
  return {
    total: wholeNumber(sums?.total ?? 0),
    minutes: wholeNumber(sums?.minutes ?? 0),
    conversations: wholeNumber(sums?.conversations ?? 0),
  };
}

/** Everything a person did in a period, newest first. */
export async function readDone(db: Queryable, period: DonePeriod): Promise<Done> {
  const [sums, rows] = await Promise.all([
    countDone(db, period),
    db.rows<ActRow>(
      `SELECT a.id, a.at, a.kind, a.outcome_label, a.counts, a.minutes, a.purpose, a.contact_id, a.deal_id,
              c.display_name AS contact_name, COALESCE(co.name, c.company_name) AS company_name, d.name AS deal_name
         FROM (${acts}) a
         LEFT JOIN contact c ON c.id = a.contact_id
         LEFT JOIN company co ON co.id = COALESCE(a.company_id, c.company_id)
         LEFT JOIN deal d ON d.id = a.deal_id
        ORDER BY a.at DESC, a.id LIMIT ${mostShown}`,
      parametersOf(period),
    ),
  ]);
  return {
    from: period.from,
    to: period.to,
    ...sums,
    rows: rows.map((row) => ({
      key: idOf<string>(row.id),
      at: instantOf(row.at),
      channel: row.kind,
      outcome: row.outcome_label,
      counts: row.counts,
      purpose: row.purpose,
      minutes: row.minutes,
      contactId: idOrNull<ContactId>(row.contact_id),
      contactName: row.contact_name,
      companyName: row.company_name,
      dealId: idOrNull<DealId>(row.deal_id),
      dealName: row.deal_name,
    })),
  };
}
